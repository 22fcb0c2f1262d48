'use client';

import { useEffect, useState } from 'react';
import { toDb } from '@/core/signal/units';
import { minus } from '../parts/figures';
import { soundNow } from '../sound/open-sound';

const LOOK_MS = 60;
/** Hold time of the peak mark. */
const HOLD_MS = 1500;
/** The bar's lowest level. */
const LOWEST_DB = -48;

interface Shown {
  readonly db: number;
  readonly heldDb: number;
  readonly heldAt: number;
  /** Highest level over full scale since the lamp was reset; null where there was none. */
  readonly overDb: number | null;
}

const QUIET: Shown = { db: -120, heldDb: -120, heldAt: 0, overDb: null };

/** Output level, peak hold, and a lamp that stays lit after the output exceeded full scale. */
export function OutputMeter() {
  const [shown, setShown] = useState(QUIET);
  useEffect(() => {
    const timer = setInterval(() => {
      const engine = soundNow()?.engine;
      if (!engine) return;
      const highest = toDb(engine.takeHighest());
      const db = Math.max(-120, toDb(engine.peak));
      setShown((old) => next(old, db, highest, performance.now()));
    }, LOOK_MS);
    return () => clearInterval(timer);
  }, []);
  const { db, heldDb, overDb } = shown;
  const share = (level: number) => `${Math.max(0, Math.min(1, 1 - level / LOWEST_DB)) * 100}%`;
  return (
    <span className="flex items-center gap-2">
      <span className="flex flex-col items-end">
        <span className="figure w-[86px] text-right text-[12px] text-soft leading-[14px]" title="Peak of the output">
          {heldDb > -90 ? `${minus(heldDb.toFixed(1))} dBFS` : '−∞ dBFS'}
        </span>
        {/* biome-ignore lint/a11y/useSemanticElements: the browser's own meter has no mark for the held peak */}
        <span
          role="meter"
          aria-label="Level of the output"
          aria-valuemin={LOWEST_DB}
          aria-valuemax={0}
          aria-valuenow={Math.max(LOWEST_DB, Math.min(0, db))}
          className="relative mt-[3px] block h-[4px] w-[86px] bg-sunk"
        >
          <span className="absolute inset-y-0 left-0 bg-verdigris" style={{ width: share(db) }} />
          <span className="absolute inset-y-[-2px] w-[2px] bg-ink" style={{ left: share(heldDb) }} />
        </span>
      </span>
      <button
        type="button"
        data-testid="over"
        disabled={overDb === null}
        className={`h-6 w-[62px] rounded border text-[11px] ${overDb === null ? 'border-line text-edge' : 'border-madder bg-madder text-on-ink'}`}
        title={
          overDb === null
            ? 'Lights when the output goes over full scale'
            : 'The pads together went over full scale; the limiter holds it back where it is on. Lower a pad, or strike softer. Click to put the lamp out.'
        }
        onClick={() => {
          // Sound from before the click must not light it again.
          soundNow()?.engine.takeHighest();
          setShown((old) => ({ ...old, overDb: null }));
        }}
      >
        {overDb === null ? 'over' : `over +${overDb.toFixed(1)}`}
      </button>
    </span>
  );
}

function next(old: Shown, db: number, highestDb: number, now: number): Shown {
  const rises = highestDb >= old.heldDb;
  const falls = now - old.heldAt > HOLD_MS;
  const heldDb = rises ? highestDb : falls ? Math.max(db, -120) : old.heldDb;
  const overDb = highestDb > 0 ? Math.max(old.overDb ?? 0, highestDb) : old.overDb;
  if (heldDb === old.heldDb && db === old.db && overDb === old.overDb) return old;
  return { db, heldDb, heldAt: rises ? now : old.heldAt, overDb };
}
