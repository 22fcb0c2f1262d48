'use client';

import type { Stored } from '@/contract/documents';
import type { Pad } from '@/core/kit/model';
import { type EnvelopeName, STAGES, type StageName } from '@/core/kit/moving';
import { PAD_PARAMETERS, type PadValues } from '@/core/kit/parameters';
import { prefixedKey } from '@/core/parameter/prefixed';
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
export function ShapeFields({ pad, shaped, edits }: { pad: Stored<Pad>; shaped: Shaped; edits: PadEdits }) {
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
