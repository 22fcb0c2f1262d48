import type { SoundFigures } from './description';
import { type Chances, TOLD_FAMILIES } from './family';
import { packHead, unpackHead } from './head';
import { BANDS, type Sketch } from './sketch';
import { TEXTURE_FIGURES } from './texture';

/** Version of the analysis of single slices, stored with its figures so that newer ones replace them. */
export const DESCRIPTION_VERSION = 4;

/** Levels are stored in half decibels from here up to +7.5 dB. */
const FLOOR_DB = -120;
const STEP_DB = 0.5;
/** Power of each byte value. */
const POWERS = Float32Array.from({ length: 256 }, (_, b) => (b === 0 ? 0 : 10 ** ((FLOOR_DB + STEP_DB * b) / 10)));
const FIGURES = 13;
const NONE = -1;

/**
 * Figures of a slice as bytes: figures and probabilities as 32-bit floats, then sketch levels and head samples as
 * bytes.
 */
export function packSound(
  { sketch, head, texture, envelope, root, peakDb, lufs, brightnessHz, seconds }: SoundFigures,
  chances: Chances,
): Uint8Array {
  const floats = Float32Array.of(
    sketch.cells,
    envelope.attackMs,
    envelope.decay20Ms ?? NONE,
    envelope.decay40Ms ?? NONE,
    envelope.bursts,
    envelope.crestDb,
    envelope.crossings,
    root?.hz ?? NONE,
    root?.clarity ?? NONE,
    peakDb,
    lufs,
    brightnessHz,
    seconds,
    head.sampleRate,
    ...texture,
    ...chances.main,
    ...chances.contains,
    chances.drum,
  );
  const levels = [sketch.powers, sketch.before, sketch.earlier].flatMap((powers) => Array.from(powers, toByte));
  const beginning = packHead(head);
  const out = new Uint8Array(floats.byteLength + levels.length + beginning.length);
  out.set(new Uint8Array(floats.buffer));
  out.set(levels, floats.byteLength);
  out.set(new Uint8Array(beginning.buffer), floats.byteLength + levels.length);
  return out;
}

export function unpackSound(bytes: Uint8Array): { figures: SoundFigures; chances: Chances } {
  const chancesAt = FIGURES + 1 + TEXTURE_FIGURES;
  const families = TOLD_FAMILIES.length;
  const count = chancesAt + 2 * families + 1;
  // Copied, because the bytes may lie in a larger buffer at an address where floats cannot be read.
  const floats = new Float32Array(Uint8Array.from(bytes.subarray(0, 4 * count)).buffer);
  const [
    cells,
    attackMs,
    decay20,
    decay40,
    bursts,
    crestDb,
    crossings,
    hz,
    clarity,
    peakDb,
    lufs,
    brightnessHz,
    seconds,
    sampleRate,
  ] = floats as unknown as number[];
  const headAt = 4 * count + ((cells as number) + 2) * BANDS;
  const levels = new Float32Array(headAt - 4 * count);
  for (let i = 0; i < levels.length; i++) levels[i] = POWERS[bytes[4 * count + i] as number] as number;
  const size = (cells as number) * BANDS;
  const sketch: Sketch = {
    cells: cells as number,
    powers: levels.subarray(0, size),
    before: levels.subarray(size, size + BANDS),
    earlier: levels.subarray(size + BANDS, size + 2 * BANDS),
  };
  const some = (value: number | undefined) => (value === NONE ? null : (value as number));
  const chances = Float64Array.from(floats.subarray(chancesAt));
  return {
    figures: {
      sketch,
      head: unpackHead(
        new Int8Array(bytes.buffer, bytes.byteOffset + headAt, bytes.length - headAt),
        sampleRate as number,
      ),
      texture: floats.subarray(FIGURES + 1, chancesAt),
      envelope: {
        attackMs: attackMs as number,
        decay20Ms: some(decay20),
        decay40Ms: some(decay40),
        bursts: bursts as number,
        crestDb: crestDb as number,
        crossings: crossings as number,
      },
      root: hz === NONE ? null : { hz: hz as number, clarity: clarity as number },
      peakDb: peakDb as number,
      lufs: lufs as number,
      brightnessHz: brightnessHz as number,
      seconds: seconds as number,
    },
    chances: {
      main: chances.subarray(0, families),
      contains: chances.subarray(families, 2 * families),
      drum: chances[2 * families] as number,
    },
  };
}

function toByte(power: number): number {
  if (power <= 0) return 0;
  return Math.max(0, Math.min(255, Math.round((10 * Math.log10(power) - FLOOR_DB) / STEP_DB)));
}
