'use client';

import { useQueryClient } from '@tanstack/react-query';
import type { Stored } from '@/contract/documents';
import type { CutView, RecordingView, StoredHit } from '@/contract/views';
import { loopIn } from '@/core/kit/loop-in';
import type { Pad } from '@/core/kit/model';
import { PAD_PARAMETERS } from '@/core/kit/parameters';
import { cutQuery } from '../../data/queries';
import { ChoiceLine } from '../../parts/ChoiceLine';
import { complain } from '../../parts/notice';
import { ParameterRows } from '../../parts/ParameterRows';
import { useInspected } from '../../treatment/use-inspected';
import type { PadEdits } from './use-pad-edits';

/** A shorter sound is no loop that could follow a tempo. */
const SHORTEST_S = 0.8;

/** How a pad's loop follows the kit's tempo. */
export function LoopRows({
  pad,
  hit,
  recording,
  tempoBpm,
  edits,
}: {
  pad: Stored<Pad>;
  hit: StoredHit;
  recording: RecordingView;
  tempoBpm: number;
  edits: PadEdits;
}) {
  const client = useQueryClient();
  const { value } = useInspected(hit, recording);
  const frames = value?.figures.frames ?? hit.endFrame - hit.startFrame;
  const loops = pad.mode === 'looped' || pad.mode === 'switched';
  if (pad.fit === 'own' && !loops && frames / recording.sampleRate < SHORTEST_S) return null;
  /** What the recording says of the loop: its tempo, unless the pad has one, and its slices. */
  const heard = async (): Promise<Partial<Pad>> => {
    const cut = await client.fetchQuery<CutView>(cutQuery(recording.id));
    const { loopBpm, cuts } = loopIn({ ...recording, slices: cut.slices, candidates: cut.candidates }, hit, frames);
    return { cuts, loopBpm: pad.loopBpm ?? loopBpm };
  };
  const set = (said: string, fields: Partial<Pad>) => {
    heard().then(
      (more) => edits.set(said, { ...more, ...fields }),
      (error: Error) => complain(error.message),
    );
  };
  return (
    <section aria-label="Loop">
      <ChoiceLine
        of={PAD_PARAMETERS.fit}
        value={pad.fit}
        row
        onChoose={(fit) => {
          const fields = { fit: fit as Pad['fit'] };
          if (fit === 'own') edits.set(PAD_PARAMETERS.fit.said, fields);
          else set(PAD_PARAMETERS.fit.said, fields);
        }}
      />
      {pad.fit !== 'own' && (
        <>
          <ParameterRows
            of={PAD_PARAMETERS}
            keys={['loopBpm']}
            values={pad}
            onPreview={(key, of) => edits.turn(of === null ? null : ({ [key]: of } as Partial<Pad>))}
            onSet={edits.set}
          />
          <p className="flex items-baseline gap-2 py-1 text-[12px] text-soft">
            <span className="min-w-0 flex-1 truncate">{toldLoop(pad, tempoBpm)}</span>
            <button
              type="button"
              className="flex-none text-verdigris hover:underline"
              title="Takes the slices that the recording has now"
              onClick={() => set('slices', {})}
            >
              anew
            </button>
          </p>
        </>
      )}
    </section>
  );
}

function toldLoop({ loopBpm, cuts }: Pad, tempoBpm: number): string {
  const slices = cuts.length === 1 ? '1 slice' : `${cuts.length} slices`;
  if (loopBpm === null) return `${slices}; say its tempo`;
  return `${slices}, ${Math.round((100 * tempoBpm) / loopBpm)} % as fast in this kit`;
}
