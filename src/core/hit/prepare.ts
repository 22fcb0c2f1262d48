import { rootOf } from '../describe/root';
import { type Audio, frameCount, peakOf, toMono } from '../signal/audio';
import { offsetValues } from '../treatment/dc';
import { withoutDc } from '../treatment/process/dc';
import type { ProcessorName } from '../treatment/processors';
import type { TreatedHit } from './key';
import type { Hit } from './model';
import { applied } from './render';

export type Ticks = ReadonlySet<'dc' | 'ends' | 'peak' | 'loudness' | 'root'>;

/** A step to add, or new values for an existing one. */
export interface WantedStep {
  readonly id: string | null;
  readonly processor: ProcessorName;
  readonly position: number;
  readonly values: Readonly<Record<string, unknown>>;
}

export interface Prepared extends Pick<Hit, 'startFrame' | 'endFrame' | 'rootHz'> {
  readonly steps: readonly WantedStep[];
}

/**
 * Changes of preparing a hit: trims silence, finds the root, and adds steps that remove the recording's constant offset
 * and set a level. An existing step of the kind gets new values. `source` is the hit's own stretch, untreated;
 * `channelMeans` are the recording's.
 */
export function prepareHit(hit: TreatedHit, source: Audio, ticks: Ticks, channelMeans: readonly number[]): Prepared {
  const steps: WantedStep[] = [];
  const offsets = ticks.has('dc') ? offsetValues(channelMeans) : null;
  if (offsets) steps.push(wantedStep(hit, 'dc', offsets));
  const known = hit.steps.find((step) => step.processor === 'dc' && step.active);
  const clean = offsets ? withoutDc(source, channelMeans) : known ? applied(known, source) : source;
  const [from, to] = ticks.has('ends') ? soundingEnds(toMono(clean), source.sampleRate) : [0, frameCount(source)];
  const level = ticks.has('loudness') ? 'loudness' : ticks.has('peak') ? 'peak' : null;
  if (level && peakOf(clean.channels) > 0) steps.push(wantedStep(hit, 'level', { to: level }));
  const mono = toMono({ ...clean, channels: clean.channels.map((channel) => channel.subarray(from, to)) });
  return {
    startFrame: hit.startFrame + from,
    endFrame: hit.startFrame + to,
    rootHz: ticks.has('root') ? (rootOf(mono, source.sampleRate)?.hz ?? hit.rootHz) : hit.rootHz,
    steps,
  };
}

/** The offset is removed first, the level is set last. */
function wantedStep(
  { steps }: TreatedHit,
  processor: 'dc' | 'level',
  values: Readonly<Record<string, unknown>>,
): WantedStep {
  const same = steps.filter((step) => step.processor === processor);
  const known = processor === 'dc' ? same[0] : same.at(-1);
  if (known) return { id: known.id, processor, position: known.position, values };
  const places = steps.map(({ position }) => position);
  const position =
    processor === 'dc' ? Math.min(0, ...places.map((p) => p - 1)) : Math.max(1, ...places.map((p) => p + 1));
  return { id: null, processor, position, values };
}

const STEP_S = 0.001;
/** Relative to the peak: where the sound first comes up to this level it starts; its end is followed further down. */
const START_UNDER_DB = 54;
const END_UNDER_DB = 66;
const AFTER_S = 0.01;

/** The frames [from, to) outside which the sound is silent relative to its own peak; everything for silence. */
export function soundingEnds(samples: Float32Array, sampleRate: number): [number, number] {
  const peak = peakOf([samples]);
  if (peak === 0) return [0, samples.length];
  const startLevel = peak * 10 ** (-START_UNDER_DB / 20);
  let from = 0;
  while (Math.abs(samples[from] as number) < startLevel) from++;
  // Back along the attack to where it leaves the noise floor, at most a millisecond.
  const back = Math.max(0, from - Math.round(STEP_S * sampleRate));
  const endLevel = peak * 10 ** (-END_UNDER_DB / 20);
  let to = samples.length;
  while (to > from + 1 && Math.abs(samples[to - 1] as number) < endLevel) to--;
  let first = from;
  while (first > back && Math.abs(samples[first - 1] as number) > endLevel) first--;
  return [first, Math.min(samples.length, to + Math.round(AFTER_S * sampleRate))];
}
