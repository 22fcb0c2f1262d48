import { SPECTRUM_HZ, spectrumOf } from '../describe/spectrum';
import { type Audio, frameCount, toMono } from '../signal/audio';
import { attackOf } from './line-up';

/** Sounds are compared over so much from their attack, in seconds: when both are struck at once. */
const STRUCK_S = 0.1;
/** A sound this much stronger in a band covers the other there (common practice), in dB. */
const COVERS_DB = 6;
/** Bands this far under a sound's strongest do not matter to it, in dB. */
const MATTERS_DB = 24;

/** Level of a sound in each band of `SPECTRUM_HZ` over the first 100 ms from its attack, in dB. */
export function struckSpectrum(audio: Audio, gain: number): Float32Array {
  const { sampleRate } = audio;
  const from = attackOf(toMono(audio), sampleRate);
  const length = Math.round(STRUCK_S * sampleRate);
  const channels = audio.channels.map((channel) => {
    const struck = new Float32Array(length);
    const end = Math.min(frameCount(audio), from + length);
    for (let i = from; i < end; i++) {
      // Faded over its second half, so that the cut adds nothing of its own.
      const left = Math.min(1, (2 * (length - (i - from))) / length);
      struck[i - from] = (channel[i] as number) * 0.5 * (1 - Math.cos(Math.PI * left));
    }
    return struck;
  });
  return spectrumOf({ sampleRate, channels }, gain);
}

/** A range of frequencies in which one sound covers another. */
export interface Covered {
  /** The place of the other sound. */
  readonly other: number;
  readonly fromHz: number;
  readonly toHz: number;
  /** By how much at most, in dB. */
  readonly db: number;
}

/**
 * `by`: the frequency ranges in which others cover a sound, each with the strongest of them. `of`: for each sound that it
 * covers, the widest such range. Both lists begin with the largest difference of level. Spectra are those of `struckSpectrum`.
 */
export function maskingOf(
  own: Float32Array,
  others: readonly Float32Array[],
): { readonly by: Covered[]; readonly of: Covered[] } {
  const strongest = (band: number) =>
    others.reduce((most, other, n) => ((other[band] as number) > (others[most]?.[band] as number) ? n : most), 0);
  const by =
    others.length === 0 ? [] : rangesOf(own, (band) => [strongest(band), others[strongest(band)]?.[band] as number]);
  const of = others.flatMap((other, n) => {
    const ranges = rangesOf(other, (band) => [n, own[band] as number]);
    return ranges.sort((a, b) => b.toHz / b.fromHz - a.toHz / a.fromHz).slice(0, 1);
  });
  const more = (a: Covered, b: Covered) => b.db - a.db;
  return { by: by.sort(more), of: of.sort(more) };
}

/** Ranges in which a sound is covered; `over` gives which other sound is the strongest in a band, and its level. */
function rangesOf(covered: Float32Array, over: (band: number) => readonly [other: number, level: number]): Covered[] {
  const peak = Math.max(...covered);
  const ranges: { from: number; to: number; db: number; other: number }[] = [];
  for (const [band, level] of covered.entries()) {
    const [other, stronger] = over(band);
    const db = stronger - level;
    if (level < peak - MATTERS_DB || db < COVERS_DB) continue;
    const last = ranges.at(-1);
    if (last && last.to === band - 1 && last.other === other) {
      last.to = band;
      last.db = Math.max(last.db, db);
    } else ranges.push({ from: band, to: band, db, other });
  }
  const edge = 2 ** (1 / 12);
  return ranges.map(({ from, to, db, other }) => ({
    other,
    fromHz: (SPECTRUM_HZ[from] as number) / edge,
    toHz: (SPECTRUM_HZ[to] as number) * edge,
    db,
  }));
}
