'use client';

import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { PrintAnswer } from '@/contract/hits';
import type { KitView, RecordingView } from '@/contract/views';
import { freePosition } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { clip } from '@/core/parameter/values';
import { browserId, postJson, tabId } from '../../data/api';
import { useCommands } from '../../data/commit';
import { hitsNow, keys } from '../../data/queries';
import { useKitDesk } from '../../pads/kit-context';
import { copyPad, stretchOfHit } from '../../pads/laying';
import { Choice } from '../../parts/Choice';
import { complain, tell } from '../../parts/notice';
import { emptyPad } from '../edits';
import { SpreadPad } from '../key/SpreadPad';
import { RandomPick } from './RandomPick';

const INTERVALS = [-24, -12, -7, -5, -3, -2, -1, 1, 2, 3, 4, 5, 7, 9, 12, 24] as const;

/** What becomes of a pad as a whole: a hit of how it sounds, a copy beside it at another tune, nothing. */
export function PadActions({ view, pad }: { view: KitView; pad: Stored<Pad> }) {
  const { commit } = useCommands();
  const { setChosen, lay } = useKitDesk();
  const layer = view.layers.find(({ padId }) => padId === pad.id);
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  const beside = (semitones: number) => {
    const to = freePosition(new Set(view.pads.map(({ position }) => position)), pad.family);
    if (to === null) {
      tell('All pads have a sound; empty one first.');
      return;
    }
    const tuned = clip(PAD_PARAMETERS.semitones, pad.semitones + semitones);
    const changes = copyPad(view, pad.position, to, () => crypto.randomUUID()).map((change) =>
      change.op === 'create' && change.doc === 'pad'
        ? { ...change, value: { ...change.value, semitones: tuned } }
        : change,
    );
    void commit(`laid ${pad.name} beside it at ${semitones > 0 ? '+' : ''}${semitones} semitones`, changes);
    setChosen(to);
  };
  const print = async () => {
    const { hitId, title, duplicate, recordingId } = await postJson<PrintAnswer>(
      `/api/kits/${view.kit.id}/pads/${pad.id}/print`,
      { browser: browserId(), tab: tabId, name: `${pad.name} print` },
    );
    await Promise.all([
      client.invalidateQueries({ queryKey: keys.recordings }),
      client.invalidateQueries({ queryKey: keys.hits }),
    ]);
    const made = hitsNow(client).find(({ id }) => id === hitId);
    const source = client.getQueryData<readonly RecordingView[]>(keys.recordings)?.find(({ id }) => id === recordingId);
    tell(`${duplicate ? 'Printed before' : 'Printed'}: the hit “${made?.name ?? title}”.`, {
      durationMs: 10_000,
      action:
        made && source
          ? { label: 'To a pad', onClick: () => lay(stretchOfHit(made, source), null, 'next') }
          : undefined,
    });
  };
  return (
    <div className="mt-3 flex flex-wrap items-center gap-2">
      <button
        type="button"
        className="quiet-button"
        title="A new hit of how a full stroke of this pad sounds, with everything that shapes it"
        disabled={busy}
        onClick={() => {
          setBusy(true);
          print()
            .catch((error: Error) => complain(error.message))
            .finally(() => setBusy(false));
        }}
      >
        {busy ? 'Printing …' : 'To a new hit'}
      </button>
      <Choice
        label="Beside it at another tune"
        className="quiet-button"
        value={undefined as number | undefined}
        shown="Beside, tuned …"
        options={INTERVALS.map((st) => [st, `${st > 0 ? '+' : '−'}${Math.abs(st)} st`] as const)}
        onChoose={beside}
      />
      <SpreadPad view={view} pad={pad} />
      {layer && <RandomPick {...{ view, pad, layer }} />}
      <button
        type="button"
        className="quiet-button"
        onClick={() => void commit(`emptied the pad ${pad.name}`, emptyPad(view, pad))}
      >
        Empty the pad
      </button>
    </div>
  );
}
