'use client';

import type { Stored } from '@/contract/documents';
import type { RecordingView, StoredHit } from '@/contract/views';
import { isPlain } from '@/core/hit/key';
import type { Pad } from '@/core/kit/model';
import { type EnvelopeName, STAGES, type StageName } from '@/core/kit/moving';
import { PAD_PARAMETERS, type PadValues } from '@/core/kit/parameters';
import { prefixedKey } from '@/core/parameter/prefixed';
import { useStory } from '../../data/queries';
import { Choice } from '../../parts/Choice';
import { NumberField } from '../../parts/NumberField';
import type { AnyNumber } from '../../parts/Parameter';
import type { Shaped } from './PadWave';
import type { PadEdits } from './use-pad-edits';

const SAMPLE = ['startMs', 'endMs', 'fadeInMs', 'fadeOutMs'] as const;
const LOOP = ['loopStartMs', 'loopEndMs', 'seamMs'] as const;
const AMOUNTS: Readonly<Partial<Record<EnvelopeName, 'filterOctaves' | 'pitchSemitones'>>> = {
  filter: 'filterOctaves',
  pitch: 'pitchSemitones',
};

/** The figures of what is shaped on the wave: its twin to type in. Emptied, a stage is passed over. */
export function ShapeFields({
  pad,
  hit,
  recording,
  shaped,
  edits,
}: {
  pad: Stored<Pad>;
  hit: StoredHit;
  recording: RecordingView;
  shaped: Shaped;
  edits: PadEdits;
}) {
  const field = (key: keyof PadValues) => {
    const of = PAD_PARAMETERS[key] as AnyNumber;
    return (
      <NumberField
        key={key}
        of={of}
        inline
        value={pad[key] as number | null}
        onCommit={(value) => edits.set(of.said, { [key]: value })}
        onClear={() => edits.set(of.said, { [key]: of.none ? null : of.initial })}
      />
    );
  };
  const loops = pad.mode === 'looped' || pad.mode === 'switched';
  const amount = shaped === 'sample' ? undefined : AMOUNTS[shaped];
  return (
    <div className="flex flex-wrap items-center gap-x-3 text-[12px] text-soft [&_input]:w-[50px] [&_input]:text-ink [&_label]:h-7 [&_label]:gap-1">
      {shaped === 'sample' ? (
        <>
          {SAMPLE.map(field)}
          {loops && LOOP.map(field)}
          {loops && <FileLoop {...{ pad, hit, recording, edits }} />}
          <span className="flex items-center gap-1">
            Plays
            <Choice
              label="Direction"
              value={pad.reversed}
              options={PAD_PARAMETERS.reversed.states.map((state, i) => [i === 1, state] as const)}
              onChoose={(reversed) => edits.set(PAD_PARAMETERS.reversed.said, { reversed })}
            />
          </span>
        </>
      ) : (
        <>
          {amount && field(amount)}
          {(Object.keys(STAGES) as StageName[])
            .filter((stage) => stage !== 'releaseMs' || pad.mode !== 'one-shot')
            .map((stage) => field(prefixedKey(shaped, stage)))}
        </>
      )}
    </div>
  );
}

/** The loop that the sound's file has, where it lies inside what the pad plays. */
function FileLoop({
  pad,
  hit,
  recording,
  edits,
}: {
  pad: Stored<Pad>;
  hit: StoredHit;
  recording: RecordingView;
  edits: PadEdits;
}) {
  const { data } = useStory(recording.id);
  const found = fileLoop(pad, hit, recording.sampleRate, data?.said?.loops ?? []);
  if (!found) return null;
  return (
    <button
      type="button"
      className="text-verdigris hover:underline"
      title={`From ${found.loopStartMs.toFixed(1)} to ${found.loopEndMs.toFixed(1)} ms, as ${recording.fileName} has it`}
      onClick={() => edits.set('loop', { ...found, seamMs: 0 })}
    >
      The file’s own loop
    </button>
  );
}

/** The first loop of a recording's file inside a hit, in ms from where the pad begins; null where there is none. */
export function fileLoop(
  pad: Pick<Pad, 'startMs' | 'reversed'>,
  hit: StoredHit,
  sampleRate: number,
  loops: readonly { readonly startFrame: number; readonly endFrame: number }[],
): { readonly loopStartMs: number; readonly loopEndMs: number } | null {
  // Steps move what lies in a sound.
  if (!isPlain(hit) || pad.reversed) return null;
  const begins = hit.startFrame + (pad.startMs / 1000) * sampleRate;
  const loop = loops.find(({ startFrame, endFrame }) => startFrame >= begins && endFrame <= hit.endFrame);
  if (!loop) return null;
  const ms = (frame: number) => ((frame - begins) / sampleRate) * 1000;
  return { loopStartMs: ms(loop.startFrame), loopEndMs: ms(loop.endFrame) };
}
