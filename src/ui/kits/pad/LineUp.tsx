import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitView } from '@/contract/views';
import type { Layer, Pad } from '@/core/kit/model';
import { LAYER_PARAMETERS } from '@/core/kit/parameters';
import { clip } from '@/core/parameter/values';
import { useCommands } from '../../data/commit';
import { toldLinedUp } from '../../layers/told';
import { complain, tell } from '../../parts/notice';
import { openSound } from '../../sound/open-sound';
import { heardLayers, padSum } from '../layers';

interface LineUpProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layers: readonly Stored<Layer>[];
}

/** Brings the attacks of a pad's layers together, turns polarities that cancel, and tells what that gave. */
export function LineUp({ view, pad, layers }: LineUpProps) {
  const { commit } = useCommands();
  const [busy, setBusy] = useState(false);
  const lineUp = async () => {
    const heard = heardLayers(view, layers);
    const sound = await openSound();
    const sum = padSum(heard, pad);
    if (!sum) return;
    const found = await sound.samples.lineUp(sum.hit, sum.recording, 'attack');
    const changes = heard.flatMap(({ layer }, i): Change[] => {
      const to = found.layers[i];
      if (!to) return [];
      const set = {
        offsetMs: clip(LAYER_PARAMETERS.offsetMs, (1000 * to.offsetFrames) / found.sampleRate),
        inverted: to.inverted,
      };
      if (to.movedFrames === 0 && set.inverted === layer.inverted) return [];
      return [{ op: 'update', doc: 'layer', id: layer.id, rev: layer.rev, set }];
    });
    if (changes.length > 0) void commit(`lined up the layers of ${pad.name}`, changes);
    tell(
      toldLinedUp(
        heard.map(({ hit, layer }) => ({ name: hit.name, inverted: layer.inverted })),
        found,
      ),
    );
  };
  return (
    <button
      type="button"
      className="rounded px-1 text-[12px] text-verdigris hover:underline disabled:text-soft"
      title="Bring their attacks together, and turn what cancels"
      disabled={busy}
      onClick={() => {
        setBusy(true);
        lineUp()
          .catch((error: Error) => complain(error.message))
          .finally(() => setBusy(false));
      }}
    >
      {busy ? 'listening …' : 'line up'}
    </button>
  );
}
