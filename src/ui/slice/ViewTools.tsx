'use client';

import { memo } from 'react';
import { TIME_UNITS, type TimeUnit } from '@/picture/time';
import { Choice } from '../parts/Choice';

export type ZoomTo = 'in' | 'out' | 'fit' | 'slice';

const UNIT: Readonly<Record<TimeUnit, string>> = { seconds: 's', samples: 'samples', bars: 'bars' };

/** View gains: 0 is automatic, the picture filled by what is in sight. */
export const VIEW_GAINS = [1, 2, 4, 8, 16, 32, 0] as const;

/** View settings of the wave; none changes the sound. */
export const ViewTools = memo(function ViewTools({
  unit,
  setUnit,
  gain,
  setGain,
  onZoom,
  tall,
  setTall,
}: {
  unit: TimeUnit;
  setUnit: (unit: TimeUnit) => void;
  gain: number;
  setGain: (gain: number) => void;
  onZoom: (what: ZoomTo) => void;
  tall: boolean;
  setTall: (tall: boolean) => void;
}) {
  const button = 'h-6 min-w-[26px] rounded px-2 text-[12px] hover:bg-sheet';
  return (
    <fieldset className="flex h-7 flex-none items-center border-line border-b bg-paper px-1" aria-label="View">
      <button type="button" className={button} title="Zoom out (−)" aria-label="Zoom out" onClick={() => onZoom('out')}>
        −
      </button>
      <button type="button" className={button} title="Zoom in (=)" aria-label="Zoom in" onClick={() => onZoom('in')}>
        +
      </button>
      <button type="button" className={button} title="Whole recording (])" onClick={() => onZoom('fit')}>
        Fit
      </button>
      <button type="button" className={button} title="Zoom to the slice or stretch ([)" onClick={() => onZoom('slice')}>
        To slice
      </button>
      <Choice
        label="View gain"
        title="View gain: changes the picture, never the sound"
        className="figure h-6 w-[58px] text-[12px]"
        value={gain}
        options={VIEW_GAINS.map((g) => [g, g === 0 ? 'auto' : `×${g}`] as const)}
        onChoose={setGain}
      />
      <Choice
        label="Time in"
        title="Time in seconds, samples or bars"
        className="figure ml-1 h-6 w-[84px] text-[12px]"
        value={unit}
        options={TIME_UNITS.map((u) => [u, UNIT[u]] as const)}
        onChoose={setUnit}
      />
      <button
        type="button"
        className={button}
        aria-pressed={tall}
        title="Full-height wave (`)"
        onClick={() => setTall(!tall)}
      >
        {tall ? 'Usual' : 'Tall'}
      </button>
    </fieldset>
  );
});
