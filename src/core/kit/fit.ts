import type { TreatedHit } from '../hit/key';
import { msToFrames } from '../signal/units';
import { fittedSeconds } from '../stretch/beats';
import type { Step } from '../treatment/step';
import type { PadValues } from './parameters';

type Fitted = Pick<PadValues, 'fit' | 'loopBpm' | 'cuts'>;

/** Whether a pad's loop follows the tempo of its kit. */
export function followsTempo({ fit, loopBpm }: Pick<Fitted, 'fit' | 'loopBpm'>): boolean {
  return fit !== 'own' && loopBpm !== null;
}

/** A pad's hit as the pad plays it: stretched to the kit's tempo where that is wanted. */
export function fittedHit<H extends TreatedHit>(
  { id, fit, loopBpm, cuts }: Fitted & { readonly id: string },
  hit: H,
  tempoBpm: number,
): H {
  if (fit !== 'stretched' || loopBpm === null) return hit;
  const step = {
    id: `${id} tempo`,
    position: Math.max(0, ...hit.steps.map(({ position }) => position)) + 1,
    processor: 'tempo',
    active: true,
    fromBpm: loopBpm,
    toBpm: tempoBpm,
    strokes: cuts,
  } as Step;
  return { ...hit, id: `${hit.id} at ${tempoBpm} for ${id}`, steps: [...hit.steps, step] as H['steps'] };
}

/** How a loop of so many seconds is played by its slices at a tempo, in engine frames; null where it is not. */
export function slicedLoop(
  { fit, loopBpm, cuts, startMs }: Fitted & Pick<PadValues, 'startMs'>,
  seconds: number,
  rate: number,
  tempoBpm: number,
): { readonly cuts: readonly number[]; readonly stretch: number; readonly loopFrames: number } | null {
  if (fit !== 'slices' || loopBpm === null || seconds <= 0) return null;
  const frames = seconds * rate;
  const starts = cuts.map(({ atMs }) => msToFrames(atMs - startMs, rate)).filter((at) => at > 0 && at < frames);
  return {
    cuts: [0, ...starts.sort((a, b) => a - b)],
    stretch: loopBpm / tempoBpm,
    loopFrames: fittedSeconds(seconds, loopBpm, tempoBpm) * rate,
  };
}
