import { Fft } from '../kernel/fft';
import { toMono } from '../signal/audio';
import { fromDb } from '../signal/units';
import { THIRD_OCTAVES_HZ } from './bands';
import type { LayerSound } from './layers';

/** Lows are what lies under this, in hertz. */
const LOW_HZ = 200;
/** Short sounds are padded to so many frames: a third octave at 25 Hz has a dozen bins then. */
const LEAST_SIZE = 2 ** 17;
const LOWEST_HZ = 20;
/** Bands this far under the strongest say nothing. */
const HEARD_DB = -40;

/** The spectra of layers as they are, from which sums at any offset and polarity are told without making them. */
export class Addition {
  private readonly spectra: { readonly re: Float32Array; readonly im: Float32Array }[];
  private readonly size: number;
  private readonly sampleRate: number;

  /** `room` is how far the layers may be moved apart, in frames. */
  constructor(
    private readonly layers: readonly LayerSound[],
    room: number,
  ) {
    const monos = layers.map((l) => toMono(l.audio));
    const longest = Math.max(...monos.map((x) => x.length));
    this.size = 2 ** Math.ceil(Math.log2(Math.max(LEAST_SIZE, longest + 2 * room)));
    this.sampleRate = (layers[0] as LayerSound).audio.sampleRate;
    const fft = new Fft(this.size);
    this.spectra = monos.map((x) => {
      const frame = new Float32Array(this.size);
      frame.set(x);
      return fft.forward(frame);
    });
  }

  /** What the sum has over the layers' own powers in a range of frequencies, in dB; 0 where nothing sounds there. */
  gainDb(fromHz: number, toHz: number, layers: readonly LayerSound[] = this.layers): number {
    const { sum, apart } = this.powers(fromHz, toHz, layers);
    return apart === 0 ? 0 : 10 * Math.log10((sum + 1e-20) / apart);
  }

  /** The same of each third octave; null where the band is not heard. */
  bands(layers: readonly LayerSound[] = this.layers): (number | null)[] {
    const powers = Array.from(THIRD_OCTAVES_HZ, (_, band) => this.powers(...bandRange(band), layers));
    const strongest = Math.max(...powers.map((p) => p.apart));
    return powers.map(({ sum, apart }) =>
      apart <= strongest * 10 ** (HEARD_DB / 10) ? null : 10 * Math.log10((sum + 1e-20) / apart),
    );
  }

  /** What the sum loses under 200 Hz, in dB; 0 where it loses nothing. */
  lostUnder200HzDb(layers: readonly LayerSound[] = this.layers): number {
    return Math.max(0, -this.gainDb(LOWEST_HZ, LOW_HZ, layers));
  }

  /** The two layers that are strongest in a third octave, and the angle between them there; null for fewer than two. */
  causeIn(band: number, layers: readonly LayerSound[] = this.layers): Cause | null {
    const [fromHz, toHz] = bandRange(band);
    const alone = layers.map((layer, n) => ({ n, power: this.powers(fromHz, toHz, [layer], [n]).apart }));
    const [first, second] = alone.sort((a, b) => b.power - a.power);
    if (!first || !second || second.power === 0) return null;
    const pair = [first.n, second.n].sort((a, b) => a - b) as [number, number];
    const two = pair.map((n) => layers[n] as LayerSound);
    const { sum, apart } = this.powers(fromHz, toHz, two, pair);
    const cosine = (sum - apart) / (2 * Math.sqrt(first.power * second.power));
    return { layers: pair, degrees: (180 / Math.PI) * Math.acos(Math.max(-1, Math.min(1, cosine))) };
  }

  /** `which` are the places of `layers` among those this was made of. */
  private powers(
    fromHz: number,
    toHz: number,
    layers: readonly LayerSound[],
    which?: readonly number[],
  ): { sum: number; apart: number } {
    const bin = this.sampleRate / this.size;
    const [from, to] = [Math.max(0.5, fromHz / bin), Math.min(this.size / 2, toHz / bin)];
    const [first, last] = [Math.round(from), Math.round(to)];
    const gains = layers.map((l) => fromDb(l.levelDb) * (l.inverted ? -1 : 1));
    let [sum, apart] = [0, 0];
    for (let k = first; k <= last; k++) {
      let [re, im, own] = [0, 0, 0];
      // A bin at an edge counts by its part inside.
      const part = Math.min(k + 0.5, to) - Math.max(k - 0.5, from);
      for (const [n, layer] of layers.entries()) {
        const spectrum = this.spectra[which?.[n] ?? n] as (typeof this.spectra)[number];
        const gain = gains[n] as number;
        const turn = (-2 * Math.PI * k * layer.offsetFrames) / this.size;
        const [c, s] = [Math.cos(turn), Math.sin(turn)];
        const [r, i] = [gain * (spectrum.re[k] as number), gain * (spectrum.im[k] as number)];
        re += r * c - i * s;
        im += r * s + i * c;
        own += r * r + i * i;
      }
      apart += part * own;
      sum += part * (re * re + im * im);
    }
    return { sum, apart };
  }
}

/** Edges of a third octave in hertz (IEC 61260-1, base ten). */
function bandRange(band: number): [fromHz: number, toHz: number] {
  const edge = 10 ** (1 / 20);
  const hz = THIRD_OCTAVES_HZ[band] as number;
  return [hz / edge, hz * edge];
}

/** Why a band loses: the angle between its two strongest layers; 0 adds fully, 180 cancels. */
export interface Cause {
  /** Their places among the layers, in order. */
  readonly layers: readonly [number, number];
  readonly degrees: number;
}

/** A change of one layer that gives back what the sum loses. */
export interface Mend {
  /** The layer's place among the others. */
  readonly layer: number;
  /** Frames to add to its offset; 0 where only its polarity is inverted. */
  readonly frames: number;
  readonly turns: boolean;
  /** What it gives back in the range that was asked for, in dB. */
  readonly gainDb: number;
  /** The third octave in which it gives back most. */
  readonly band: number;
}

/** How far a mend may move a layer, in seconds: half a period of 50 Hz is enough to undo any cancellation over it. */
const MOST_MOVE_S = 0.01;
/** A mend that gives back less than this is none. */
const LEAST_GAIN_DB = 0.5;
/** A polarity alone is preferred to a move that gives back so little more, and a small move to a large one. */
const WORTH_DB_A_MS = 0.1;

/**
 * The changes of single layers after the first that give back most under 200 Hz, or in a third octave, best first: the
 * polarity turned, a move, or both. Empty where nothing is lost that they could give back. A change for a third octave takes
 * nothing from the lows.
 */
export function mendsOf(layers: readonly LayerSound[], inBand?: number): Mend[] {
  const [first] = layers;
  if (!first || layers.length < 2) return [];
  const { sampleRate } = first.audio;
  const [fromHz, toHz] = inBand === undefined ? [LOWEST_HZ, LOW_HZ] : bandRange(inBand);
  // In a third octave a period is enough.
  const most = Math.round(Math.min(MOST_MOVE_S, inBand === undefined ? MOST_MOVE_S : 1 / fromHz) * sampleRate);
  const addition = new Addition(layers, most);
  const now = addition.gainDb(fromHz, toHz);
  const lows = addition.gainDb(LOWEST_HZ, LOW_HZ);
  const bandsNow = addition.bands();
  // A period of the highest frequency has room for many moves.
  const step = Math.max(1, Math.round(sampleRate / (40 * toHz)));
  return layers
    .flatMap((_, n) => {
      if (n === 0) return [];
      const changed = (frames: number, turns: boolean) =>
        layers.map((l, m) =>
          m === n ? { ...l, offsetFrames: l.offsetFrames + frames, inverted: l.inverted !== turns } : l,
        );
      const tried = (frames: number, turns: boolean) => {
        const to = changed(frames, turns);
        const gainDb = addition.gainDb(fromHz, toHz, to) - now;
        const taken = inBand === undefined ? 0 : Math.max(0, lows - addition.gainDb(LOWEST_HZ, LOW_HZ, to));
        return {
          frames,
          turns,
          gainDb,
          worth: gainDb - 2 * taken - WORTH_DB_A_MS * Math.abs((1000 * frames) / sampleRate),
        };
      };
      let best = tried(0, true);
      const consider = (frames: number, turns: boolean) => {
        const other = tried(frames, turns);
        if (other.worth > best.worth) best = other;
      };
      for (const turns of [false, true])
        for (let frames = -most; frames <= most; frames += step) consider(frames, turns);
      const { frames: near, turns } = best;
      if (near !== 0) for (let frames = near - step + 1; frames < near + step; frames++) consider(frames, turns);
      if (best.gainDb < LEAST_GAIN_DB || best.worth <= 0) return [];
      const gains = addition.bands(changed(best.frames, best.turns)).map((db, b) => (db ?? 0) - (bandsNow[b] ?? 0));
      const { frames, turns: isTurned, gainDb } = best;
      return [{ layer: n, frames, turns: isTurned, gainDb, band: gains.indexOf(Math.max(...gains)) }];
    })
    .sort((a, b) => b.gainDb - a.gainDb);
}
