import { Fft } from '../kernel/fft';
import { type Audio, frameCount, toMono } from '../signal/audio';
import { fromDb } from '../signal/units';
import { THIRD_OCTAVES_HZ } from './bands';
import type { LayerSound } from './layers';

/** Lows are what lies under this, in hertz. */
const LOW_HZ = 200;
/** Short sounds are padded to so many frames: a third octave at 25 Hz has eight bins then. */
const LEAST_SIZE = 2 ** 16;
const LOWEST_HZ = 20;
/** Bands this far under the strongest say nothing. */
const HEARD_DB = -40;

/** The spectra of layers as they are, from which sums at any offset and polarity are told without making them. */
export class Addition {
  private readonly spectra: readonly Spectrum[];
  private readonly size: number;
  private readonly sampleRate: number;

  /** `room` is how far the layers may be moved apart, in frames. */
  constructor(
    private readonly layers: readonly LayerSound[],
    room: number,
  ) {
    const longest = Math.max(...layers.map((l) => frameCount(l.audio)));
    this.size = 2 ** Math.ceil(Math.log2(Math.max(LEAST_SIZE, longest + 2 * room)));
    this.sampleRate = (layers[0] as LayerSound).audio.sampleRate;
    this.spectra = layers.map((l) => spectrumAt(l.audio, this.size));
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

  /**
   * `gainDb` in a range for a layer that is moved by further frames and turned, the others as they are. Each call costs one
   * rotation a bin.
   */
  movedGainDb(place: number, fromHz: number, toHz: number): (frames: number, turns: boolean) => number {
    const { from, to, first, last } = this.binsOf(fromHz, toHz);
    const count = Math.max(0, last - first + 1);
    const [crossRe, crossIm] = [new Float64Array(count), new Float64Array(count)];
    let [still, apart] = [0, 0];
    for (let k = first; k <= last; k++) {
      const part = partOf(k, from, to);
      let [re, im, ownRe, ownIm] = [0, 0, 0, 0];
      for (const [n, layer] of this.layers.entries()) {
        const [r, i] = this.turned(n, layer, k);
        apart += part * (r * r + i * i);
        if (n === place) [ownRe, ownIm] = [r, i];
        else [re, im] = [re + r, im + i];
      }
      still += part * (re * re + im * im + ownRe * ownRe + ownIm * ownIm);
      crossRe[k - first] = 2 * part * (re * ownRe + im * ownIm);
      crossIm[k - first] = 2 * part * (re * ownIm - im * ownRe);
    }
    let known = Number.NaN;
    let cross = 0;
    return (frames, turns) => {
      if (frames !== known) {
        const turn = (2 * Math.PI * frames) / this.size;
        const [stepRe, stepIm] = [Math.cos(turn), Math.sin(turn)];
        let [c, s] = [Math.cos(turn * first), Math.sin(turn * first)];
        cross = 0;
        for (let b = 0; b < count; b++) {
          cross += (crossRe[b] as number) * c + (crossIm[b] as number) * s;
          const next = c * stepRe - s * stepIm;
          s = s * stepRe + c * stepIm;
          c = next;
        }
        known = frames;
      }
      return apart === 0 ? 0 : 10 * Math.log10((Math.max(0, still + (turns ? -cross : cross)) + 1e-20) / apart);
    };
  }

  private binsOf(fromHz: number, toHz: number): { from: number; to: number; first: number; last: number } {
    const bin = this.sampleRate / this.size;
    const [from, to] = [Math.max(0.5, fromHz / bin), Math.min(this.size / 2, toHz / bin)];
    return { from, to, first: Math.round(from), last: Math.round(to) };
  }

  /** A layer's spectrum in a bin as it lies, its level and polarity in it. */
  private turned(place: number, { levelDb, inverted, offsetFrames }: LayerSound, k: number): [re: number, im: number] {
    const { re, im } = this.spectra[place] as Spectrum;
    const gain = fromDb(levelDb) * (inverted ? -1 : 1);
    const turn = (-2 * Math.PI * k * offsetFrames) / this.size;
    const [c, s] = [Math.cos(turn), Math.sin(turn)];
    const [r, i] = [gain * (re[k] as number), gain * (im[k] as number)];
    return [r * c - i * s, r * s + i * c];
  }

  /** `which` are the places of `layers` among those this was made of. */
  private powers(
    fromHz: number,
    toHz: number,
    layers: readonly LayerSound[],
    which?: readonly number[],
  ): { sum: number; apart: number } {
    const { from, to, first, last } = this.binsOf(fromHz, toHz);
    const bins = Math.max(0, last - first + 1);
    const [re, im] = [new Float64Array(bins), new Float64Array(bins)];
    let [sum, apart] = [0, 0];
    for (const [n, { levelDb, inverted, offsetFrames }] of layers.entries()) {
      const spectrum = this.spectra[which?.[n] ?? n] as Spectrum;
      const gain = fromDb(levelDb) * (inverted ? -1 : 1);
      const turn = (-2 * Math.PI * offsetFrames) / this.size;
      const [stepRe, stepIm] = [Math.cos(turn), Math.sin(turn)];
      let [c, s] = [Math.cos(turn * first), Math.sin(turn * first)];
      for (let b = 0; b < bins; b++) {
        const [r, i] = [gain * (spectrum.re[first + b] as number), gain * (spectrum.im[first + b] as number)];
        re[b] = (re[b] as number) + r * c - i * s;
        im[b] = (im[b] as number) + r * s + i * c;
        apart += partOf(first + b, from, to) * (r * r + i * i);
        const next = c * stepRe - s * stepIm;
        s = s * stepRe + c * stepIm;
        c = next;
      }
    }
    for (let b = 0; b < bins; b++)
      sum += partOf(first + b, from, to) * ((re[b] as number) ** 2 + (im[b] as number) ** 2);
    return { sum, apart };
  }
}

interface Spectrum {
  readonly re: Float32Array;
  readonly im: Float32Array;
}

/** Spectra of audio that is asked for again and again while something else is changed. */
const spectra = new WeakMap<Audio, Map<number, Spectrum>>();

function spectrumAt(audio: Audio, size: number): Spectrum {
  const known = spectra.get(audio) ?? new Map<number, Spectrum>();
  spectra.set(audio, known);
  const found = known.get(size);
  if (found) return found;
  const frame = new Float32Array(size);
  frame.set(toMono(audio));
  const spectrum = new Fft(size).forward(frame);
  known.set(size, spectrum);
  return spectrum;
}

/** A bin at an edge counts by its part inside. */
function partOf(k: number, from: number, to: number): number {
  return Math.min(k + 0.5, to) - Math.max(k - 0.5, from);
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
      const inRange = addition.movedGainDb(n, fromHz, toHz);
      const inLows = inBand === undefined ? null : addition.movedGainDb(n, LOWEST_HZ, LOW_HZ);
      const tried = (frames: number, turns: boolean) => {
        const gainDb = inRange(frames, turns) - now;
        const taken = inLows ? Math.max(0, lows - inLows(frames, turns)) : 0;
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
      for (let frames = -most; frames <= most; frames += step)
        for (const turns of [false, true]) consider(frames, turns);
      const { frames: near, turns } = best;
      if (near !== 0) for (let frames = near - step + 1; frames < near + step; frames++) consider(frames, turns);
      if (best.gainDb < LEAST_GAIN_DB || best.worth <= 0) return [];
      const gains = addition.bands(changed(best.frames, best.turns)).map((db, b) => (db ?? 0) - (bandsNow[b] ?? 0));
      const { frames, turns: isTurned, gainDb } = best;
      return [{ layer: n, frames, turns: isTurned, gainDb, band: gains.indexOf(Math.max(...gains)) }];
    })
    .sort((a, b) => b.gainDb - a.gainDb);
}
