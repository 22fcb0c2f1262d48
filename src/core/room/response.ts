import { filtered } from '../filter/biquad';
import { butterworth } from '../filter/cookbook';
import { seededRandom } from '../signal/random';
import { onsetS, type RoomSettings, roomFrames, SPEED_OF_SOUND } from './size';

export type { RoomSettings } from './size';

/** Height and depth of the room against its length: no whole ratios, so that few reflections fall together. */
const SHAPE = [1, 0.79, 0.47] as const;
/** Images up to this order are traced; later reflections are too dense to be told apart. */
const ORDER = 3;
const SPLIT_HZ = 2500;

/**
 * The impulse response of a small room or a plate, left and right, of energy 1 a side. Early reflections by images of the
 * source (J. Allen, D. Berkley, "Image method for efficiently simulating small-room acoustics", JASA 65, 1979), then
 * noise that falls exponentially (J. Moorer, "About this reverberation business", Computer Music J. 3, 1979), its high
 * part sooner. The same settings always give the same response.
 */
export function roomResponse(settings: RoomSettings, sampleRate: number): readonly [Float32Array, Float32Array] {
  const { kind, width } = settings;
  const onset = onsetS(settings);
  const frames = roomFrames(settings, sampleRate);
  const sides = [1, 2].map((seed) => tail(settings, frames, onset, sampleRate, seed)) as [Float32Array, Float32Array];
  if (kind === 'room') for (const [side, h] of sides.entries()) addReflections(h, settings, side, sampleRate);
  const [a, b] = sides;
  const shared = Math.sqrt(1 - width ** 2 / 2);
  const own = width / Math.SQRT2;
  const left = a.map((x, i) => shared * x + own * (b[i] as number));
  const right = a.map((x, i) => shared * x - own * (b[i] as number));
  return [normalised(left), normalised(right)];
}

function tail(
  { kind, decayS, sizeM, tone }: RoomSettings,
  frames: number,
  onsetS: number,
  sampleRate: number,
  seed: number,
): Float32Array {
  const random = seededRandom(seed * 7919);
  // The sum of three even numbers is near enough to a normal one.
  const noise = Float32Array.from({ length: frames }, () => random() + random() + random() - 1.5);
  const low = filtered(noise, butterworth(1, SPLIT_HZ, 2, sampleRate));
  const highS = Math.max(0.02, decayS * tone);
  const fall = Math.log(1000);
  // Reflections become dense over the time that sound takes through the room.
  const rise = kind === 'plate' ? 0.001 : (1.5 * sizeM) / SPEED_OF_SOUND;
  // Each falls by the same factor from frame to frame.
  const first = Math.ceil(onsetS * sampleRate);
  const [lowStep, highStep, sparseStep] = [-fall / decayS, -fall / highS, -2 / rise].map((rate) =>
    Math.exp(rate / sampleRate),
  ) as [number, number, number];
  let [lowGain, highGain, sparse] = [1, 1, 1];
  for (let i = 0; i < frames; i++) {
    const x = noise[i] as number;
    const l = low[i] as number;
    noise[i] = i < first ? 0 : (1 - sparse) * (l * lowGain + (x - l) * highGain);
    if (i < first) continue;
    lowGain *= lowStep;
    highGain *= highStep;
    sparse *= sparseStep;
  }
  return noise;
}

/** Adds the reflections off the walls, of energy against the tail as an even room has them. */
function addReflections(h: Float32Array, settings: RoomSettings, side: number, sampleRate: number): void {
  const { decayS, sizeM, distanceM } = settings;
  const dims = SHAPE.map((share) => share * sizeM);
  const volume = dims.reduce((a, b) => a * b, 1);
  const [x, y, z] = dims as [number, number, number];
  const surface = 2 * (x * y + y * z + x * z);
  // Sabine: T60 = 0.161 V / (S a).
  const kept = Math.sqrt(Math.max(0, 1 - Math.min(0.95, (0.161 * volume) / (surface * decayS))));
  const source = [0.31 * x, 0.42 * y, 0.5 * z];
  const apart = Math.min(distanceM, 0.6 * x);
  const ear = [0.31 * x + apart, (0.42 + (side === 0 ? 0.02 : -0.02)) * y, 0.47 * z];
  const tailPower = meanPower(h) || 1;
  for (let i = -ORDER; i <= ORDER; i++)
    for (let j = -ORDER; j <= ORDER; j++)
      for (let k = -ORDER; k <= ORDER; k++) {
        const order = Math.abs(i) + Math.abs(j) + Math.abs(k);
        if (order === 0 || order > ORDER) continue;
        const image = [i, j, k].map((n, d) => {
          const size = dims[d] as number;
          return n % 2 === 0 ? n * size + (source[d] as number) : (n + 1) * size - (source[d] as number);
        });
        const away = Math.hypot(...image.map((v, d) => v - (ear[d] as number)));
        const at = Math.round((away / SPEED_OF_SOUND) * sampleRate);
        if (at < h.length) h[at] = (h[at] as number) + (kept ** order / away) * 6 * Math.sqrt(tailPower) * sizeM;
      }
}

function meanPower(h: Float32Array): number {
  return h.reduce((sum, x) => sum + x * x, 0) / Math.max(1, h.length);
}

function normalised(h: Float32Array): Float32Array {
  const energy = h.reduce((sum, x) => sum + x * x, 0);
  const scale = energy > 0 ? 1 / Math.sqrt(energy) : 0;
  return h.map((x) => x * scale);
}
