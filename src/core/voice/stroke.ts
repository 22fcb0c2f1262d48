import { seededRandom } from '../signal/random';
import { OFF_DB, type VoiceSettings } from './parameters';

const NOISE_KINDS: readonly VoiceSettings['noiseKind'][] = ['low', 'band', 'high'];

/** How far a full variation goes, to either side. */
const CENTS = 60;
const LEVEL_DB = 3;
const DECAY_SHARE = 0.25;
const FILTER_OCTAVES = 0.3;

/** A power of two, by products and a root alone, which are the same to the bit wherever they are computed. */
function octavesOf(octaves: number): number {
  // In 256ths of an octave: 2 to the 1/256 as eight square roots.
  const steps = Math.round(octaves * 256);
  let root = 2;
  for (let i = 0; i < 8; i++) root = Math.sqrt(root);
  let value = 1;
  for (let i = Math.abs(steps); i > 0; i--) value *= root;
  return steps < 0 ? 1 / value : value;
}

/**
 * What the kernel is asked for: the numbers of one stroke, in the order of `kernel/assembly/struck.ts`. Velocity 1 to 127.
 * The seed decides what varies; without variation every stroke of a velocity is the same.
 */
export function strokeOf(voice: VoiceSettings, velocity: number, seed: number, sampleRate: number): Float64Array {
  const { variation } = voice;
  const random = seededRandom(seed);
  const vary = () => (2 * random() - 1) * variation;
  const [cents, toneDb, noiseDb, metalDb] = [CENTS * vary(), LEVEL_DB * vary(), LEVEL_DB * vary(), LEVEL_DB * vary()];
  const longer = 1 + DECAY_SHARE * vary();
  const brighter = FILTER_OCTAVES * vary();
  const softness = 1 - (velocity - 1) / 126;
  const down = -softness * voice.softDb;
  const dark = softness * voice.softDark;
  // Soft strokes are shorter by half of what they are darker.
  const decay = longer * octavesOf(-dark / 2);
  const filter = octavesOf(brighter - dark);
  const of = (db: number, by: number) => (db <= OFF_DB ? OFF_DB : db + by + down + voice.levelDb);
  return Float64Array.of(
    sampleRate,
    variation > 0 ? seed >>> 0 : 0,
    cents,
    of(voice.toneDb, toneDb),
    voice.toneHz,
    voice.sweep,
    voice.sweepMs,
    voice.toneAttackMs,
    voice.toneDecayMs * decay,
    voice.secondRatio,
    voice.second,
    of(voice.noiseDb, noiseDb),
    NOISE_KINDS.indexOf(voice.noiseKind),
    voice.noiseHz * filter,
    voice.noiseQ,
    voice.noiseAttackMs,
    voice.noiseDecayMs * decay,
    voice.bursts,
    voice.spacingMs,
    of(voice.metalDb, metalDb),
    voice.metalHz,
    voice.metalStretch,
    voice.metalTilt - 6 * dark,
    voice.metalDecayMs * decay,
    voice.metalDamping,
    of(voice.clickDb, -3 * dark),
    voice.clickHz,
  );
}

/** Seconds until all parts of a stroke lie 90 dB under where they began, at most `MOST_SECONDS`. */
export function strokeSeconds(stroke: Float64Array): number {
  const [toneDb, toneAttack, toneDecay] = [stroke[3], stroke[7], stroke[8]] as [number, number, number];
  const [noiseDb, noiseAttack, noiseDecay] = [stroke[11], stroke[15], stroke[16]] as [number, number, number];
  const [bursts, spacing, metalDb, metalDecay] = [stroke[17], stroke[18], stroke[19], stroke[23]] as [
    number,
    number,
    number,
    number,
  ];
  const ends = [
    MOST_CLICK_MS,
    ...(toneDb > OFF_DB ? [toneAttack + 1.5 * toneDecay] : []),
    ...(noiseDb > OFF_DB ? [(bursts - 1) * spacing + noiseAttack + 1.5 * noiseDecay] : []),
    ...(metalDb > OFF_DB ? [1.5 * metalDecay] : []),
  ];
  return Math.min(MOST_SECONDS, Math.max(...ends) / 1000);
}

const MOST_CLICK_MS = 12;
const MOST_SECONDS = 20;
