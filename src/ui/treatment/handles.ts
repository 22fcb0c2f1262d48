import { type Step, valuesOf } from '@/core/treatment/step';
import { CURVE_DB, type HandleShown } from '@/picture/treated';

/** A point of a step that is dragged on the wave. */
export interface Handle extends HandleShown {
  /** What it moves, for people. */
  readonly label: string;
  /** The values that it sets when it is moved to a frame and a gain in dB. */
  readonly moved: (frame: number, gainDb: number) => Readonly<Record<string, number>>;
}

type Numbers = Readonly<Record<string, number>>;

/**
 * The handles of a step over a sound of so many frames: of fades, an envelope, and a length at a time. `endFrame` is where
 * the sound ends after all steps.
 */
export function handlesOf(step: Step, endFrame: number, sampleRate: number): readonly Handle[] {
  const perMs = sampleRate / 1000;
  const ms = (frames: number, most = 60_000) => Math.round(Math.max(0, Math.min(most, frames / perMs)) * 10) / 10;
  const v = valuesOf(step) as unknown as Numbers;
  const at = (key: string) => (v[key] as number) * perMs;
  switch (step.processor) {
    case 'fades':
      return [
        { label: 'fade in', frame: at('inMs'), height: 1, moved: (frame) => ({ inMs: ms(frame) }) },
        {
          label: 'fade out',
          frame: Math.max(0, endFrame - at('outMs')),
          height: 1,
          moved: (frame) => ({ outMs: ms(endFrame - frame) }),
        },
      ];
    case 'length':
      if (step.to === 'level') return [];
      return [
        {
          label: 'length',
          frame: at('timeMs'),
          height: 0.5,
          moved: (frame) => ({ timeMs: Math.max(1, ms(frame)) }),
        },
      ];
    case 'envelope':
      return envelopeHandles(v, endFrame, perMs, (frames) => ms(frames, 20_000));
    default:
      return [];
  }
}

function envelopeHandles(
  v: Numbers,
  endFrame: number,
  perMs: number,
  ms: (frames: number) => number,
): readonly Handle[] {
  const [attack, hold, decay, release] = ['attackMs', 'holdMs', 'decayMs', 'releaseMs'].map(
    (key) => (v[key] as number) * perMs,
  ) as [number, number, number, number];
  const sustain = Math.max(0, 1 + (v.sustainDb as number) / CURVE_DB);
  const sustainDb = (gainDb: number) => Math.round(gainDb * 2) / 2;
  return [
    { label: 'attack', frame: attack, height: 1, moved: (frame) => ({ attackMs: ms(frame) }) },
    { label: 'hold', frame: attack + hold, height: 1, moved: (frame) => ({ holdMs: ms(frame - attack) }) },
    {
      label: 'decay and sustain',
      frame: attack + hold + decay,
      height: sustain,
      moved: (frame, gainDb) => ({ decayMs: ms(frame - attack - hold), sustainDb: sustainDb(gainDb) }),
    },
    {
      label: 'release',
      frame: Math.max(0, endFrame - release),
      height: sustain,
      moved: (frame) => ({ releaseMs: ms(endFrame - frame) }),
    },
  ];
}
