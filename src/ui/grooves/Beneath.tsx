import { number } from '@/core/parameter/parameter';
import { useRecordings, useTempos } from '../data/queries';
import { Choice } from '../parts/Choice';
import { FindTempo } from '../parts/FindTempo';
import { Parameter } from '../parts/Parameter';
import { useStore } from '../parts/store';
import { beneath, beneathDb, COMPARED, compared } from './beneath-store';

const LEVEL = number({ label: 'Level', unit: 'dB', low: -40, high: 12, step: 0.5, initial: -6 });

/** Which recording sounds on beneath the groove, how loud, and which of the two is heard. */
export function Beneath() {
  const tempos = useTempos();
  const { data: recordings } = useRecordings();
  const now = useStore(beneath);
  const db = useStore(beneathDb);
  const which = useStore(compared);
  if (!recordings || tempos.length === 0)
    return <p className="mt-2 text-[12px] text-soft">No recording has a tempo yet: none can sound beneath.</p>;
  return (
    <div className="mt-2 border-line border-t pt-2">
      <p className="mb-1 text-[12px] text-soft">A recording beneath, at the groove’s tempo</p>
      <div className="flex items-center gap-2">
        <FindTempo
          label="Recording beneath"
          placeholder={now?.title ?? 'none'}
          className="min-w-0 flex-1 placeholder:text-ink"
          tempos={tempos}
          onPick={(recording) => beneath.set(recording)}
        />
        {now && (
          <button type="button" className="quiet-button px-2" onClick={() => beneath.set(null)}>
            None
          </button>
        )}
      </div>
      {now && (
        <>
          <Parameter of={LEVEL} value={db} onCommit={(value) => value !== null && beneathDb.set(value)} />
          <Choice
            label="Heard"
            className="quiet-button mt-1"
            value={which}
            options={COMPARED}
            onChoose={(next) => compared.set(next)}
          />
        </>
      )}
    </div>
  );
}
