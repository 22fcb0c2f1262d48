import { useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import type { LineUpBy } from '@/core/layering/taken';
import { useCommands } from '../data/commit';
import { complain, tell } from '../parts/notice';
import { openSound } from '../sound/open-sound';
import { linedUpChanges } from './edits';
import { toldLinedUp } from './told';

/** Brings the layers together by their attacks or their lows, turns polarities that cancel, and tells what that gave. */
export function LineUpLayers({ hit, recording }: { hit: HitView; recording: RecordingView }) {
  const { commit } = useCommands();
  const [busy, setBusy] = useState(false);
  const lineUp = async (by: LineUpBy) => {
    const { samples } = await openSound();
    const found = await samples.lineUp(hit, recording, by);
    const changes = linedUpChanges(hit, found);
    if (changes.length > 0) void commit(`lined up the layers of ${hit.name}`, changes);
    tell(
      toldLinedUp(
        hit.members.map((member) => ({ name: member.hit.name, inverted: member.inverted })),
        found,
      ),
    );
  };
  const run = (by: LineUpBy) => () => {
    setBusy(true);
    lineUp(by)
      .catch((error: Error) => complain(error.message))
      .finally(() => setBusy(false));
  };
  return (
    <span className="flex flex-none">
      <button
        type="button"
        className="quiet-button rounded-r-none"
        title="Bring their attacks together, and turn what cancels"
        disabled={busy}
        onClick={run('attack')}
      >
        Line up
      </button>
      <button
        type="button"
        className="quiet-button rounded-l-none border-l-0 text-soft"
        title="Bring their lows together instead, up to 50 ms: by the best correlation under 200 Hz"
        disabled={busy}
        onClick={run('lows')}
      >
        by lows
      </button>
    </span>
  );
}
