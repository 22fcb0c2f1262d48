import type { ExactGrid } from '@/core/onset/grid';

/** Units of time positions: bars count from the first downbeat at the recording's own tempo. */
export const TIME_UNITS = ['seconds', 'samples', 'bars'] as const;
export type TimeUnit = (typeof TIME_UNITS)[number];

export interface Time {
  readonly unit: TimeUnit;
  readonly sampleRate: number;
  /** Null where no tempo is known; bars are then shown in seconds. */
  readonly grid: Pick<ExactGrid, 'tempoBpm' | 'downbeatFrame' | 'beats' | 'beatUnit'> | null;
}

/** A position in the chosen unit: `1.2345 s`, `54 432`, or bar, beat and hundredths of a beat `3.2.50`. */
export function place(frame: number, time: Time): string {
  const { unit, grid, sampleRate } = time;
  if (unit === 'samples') return Math.round(frame).toLocaleString('en').replaceAll(',', ' ');
  if (unit === 'bars' && grid) {
    const beats = beatsAt(frame, sampleRate, grid);
    const bar = Math.floor(beats / grid.beats + 1e-9);
    const beat = beats - bar * grid.beats;
    const whole = Math.floor(beat + 1e-9);
    const hundredths = Math.floor((beat - whole) * 100 + 1e-6);
    // There is no bar 0: the one before the first is -1.
    return `${bar >= 0 ? bar + 1 : `−${-bar}`}.${whole + 1}.${String(Math.max(0, hundredths)).padStart(2, '0')}`;
  }
  return `${(frame / sampleRate).toFixed(4)} s`;
}

export function beatsAt(frame: number, sampleRate: number, grid: NonNullable<Time['grid']>): number {
  const beatFrames = ((60 / grid.tempoBpm) * sampleRate * 4) / grid.beatUnit;
  return (frame - grid.downbeatFrame) / beatFrames;
}
