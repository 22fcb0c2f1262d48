import { useState } from 'react';
import type { Change } from '@/contract/edits';
import type { HitView } from '@/contract/views';
import { number } from '@/core/parameter/parameter';
import { useCommands } from '../data/commit';
import { copyOf } from '../hits/edits';
import { NumberField } from '../parts/NumberField';
import { tell } from '../parts/notice';
import { addChain } from '../treatment/chains';

interface SecondOneProps {
  readonly hit: HitView;
  readonly hits: readonly HitView[];
  /** Length of the sum as it sounds; null before it is known. */
  readonly lengthMs: number | null;
}

const TUNED = number({ label: 'Tuned by', unit: 'st', low: -24, high: 24, step: 1, initial: -5, whole: true });
const LENGTH = number({
  label: 'As long as',
  unit: '%',
  low: 0.1,
  high: 4,
  step: 0.05,
  digits: 0,
  initial: 0.5,
  times: 100,
});

/** Makes a second hit of the same layers, with another tune or length as a step on its sum. */
export function SecondOne({ hit, hits, lengthMs }: SecondOneProps) {
  const { commit } = useCommands();
  const [semitones, setSemitones] = useState(TUNED.initial);
  const [share, setShare] = useState(LENGTH.initial);
  const make = (what: string, step: { readonly processor: 'tune' | 'length' } & Readonly<Record<string, unknown>>) => {
    const id = crypto.randomUUID();
    const newId = () => crypto.randomUUID();
    const { changes, name } = copyOf(hit, id, `${hit.name} ${what}`, new Set(hits.map((h) => h.name)), newId);
    const more: Change[] = addChain([{ doc: 'step', owner: { hitId: id }, steps: hit.steps }], [step], newId);
    void commit(`made ${name} from ${hit.name}`.slice(0, 200), [...changes, ...more]);
    tell(`The hit “${name}” has the same layers.`);
  };
  const way = semitones < 0 ? 'lower' : 'higher';
  return (
    <div className="mt-3 flex flex-wrap items-center gap-3 border-line border-t pt-3">
      <span className="text-[12px] text-soft">A second hit of the same layers:</span>
      <NumberField of={TUNED} value={semitones} inline onCommit={setSemitones} />
      <button
        type="button"
        className="quiet-button"
        disabled={semitones === 0}
        onClick={() => make(way, { processor: 'tune', semitones })}
      >
        Make it tuned
      </button>
      <NumberField of={LENGTH} value={share} inline onCommit={setShare} />
      <button
        type="button"
        className="quiet-button"
        disabled={lengthMs === null || share === 1}
        onClick={() =>
          make(share < 1 ? 'short' : 'long', { processor: 'length', timeMs: Math.round((lengthMs ?? 0) * share) })
        }
      >
        Make it so long
      </button>
    </div>
  );
}
