import { useEffect, useState } from 'react';
import { withSignature } from '@/core/groove/bars';
import type { BeatUnit } from '@/core/groove/model';
import { meterAt } from '@/core/groove/time';
import { choice, number } from '@/core/parameter/parameter';
import { useCommands } from '../data/commit';
import { tell } from '../parts/notice';
import { ParameterRows } from '../parts/ParameterRows';
import { barsChanged } from './edits';
import type { GrooveDesk } from './use-groove-desk';

const SIGNATURE = {
  beats: number({ label: 'Beats a bar', unit: '', low: 1, high: 32, step: 1, initial: 4, whole: true }),
  beatUnit: choice(
    'A beat is',
    ([1, 2, 4, 8, 16] as const).map((unit) => [unit, `1/${unit}`] as const),
    4 as BeatUnit,
  ),
} as const;

/** The signature of the bars under work. */
export function Signature({ desk }: { desk: GrooveDesk }) {
  const { commit } = useCommands();
  const { stored, bar, lastBar } = desk;
  const { beats, beatUnit } = meterAt(stored.groove, bar);
  const [asked, setAsked] = useState({ beats, beatUnit });
  useEffect(() => setAsked({ beats, beatUnit }), [beats, beatUnit]);
  const which = lastBar > bar ? `bars ${bar + 1} to ${lastBar + 1}` : `bar ${bar + 1}`;
  const isSame = asked.beats === beats && asked.beatUnit === beatUnit && lastBar === bar;
  const set = () => {
    const made = withSignature(stored, bar, lastBar + 1, asked, () => crypto.randomUUID());
    const lost = stored.notes.length - made.notes.length;
    void commit(`gave ${which} ${asked.beats}/${asked.beatUnit}`, barsChanged(stored, made));
    if (lost > 0) tell(`${lost} strokes lay behind the end of the shorter bars; Ctrl Z brings them back.`);
  };
  return (
    <>
      <ParameterRows
        of={SIGNATURE}
        keys={['beats', 'beatUnit']}
        values={asked}
        onSet={(_, fields) => setAsked({ ...asked, ...fields })}
      />
      <button type="button" className="quiet-button mt-1" disabled={isSame} onClick={set}>
        Give {which} {asked.beats}/{asked.beatUnit}
      </button>
    </>
  );
}
