import type { Family } from '../family';
import { momentaryLufs } from '../loudness/loudness';
import { type Audio, frameCount, peakOf, silence } from '../signal/audio';
import { fromDb, toDb } from '../signal/units';
import type { VoiceSettings } from '../voice/parameters';
import { renderVoice } from '../voice/render';
import { STARTING_POINTS } from '../voice/starting-points';

/** A sound of the starter kit: a voice, moved from a starting point, for a note of General MIDI's percussion. */
interface Sound {
  readonly note: number;
  readonly name: string;
  readonly from: string;
  readonly set?: Partial<VoiceSettings>;
}

/** The sounds, for the notes of a kit's first bank. */
const SOUNDS: readonly Sound[] = [
  { note: 36, name: 'Tight kick', from: 'Tight kick' },
  { note: 35, name: 'Deep kick', from: 'Deep kick' },
  { note: 38, name: 'Wire snare', from: 'Wire snare' },
  { note: 40, name: 'Dry snare', from: 'Dry snare' },
  { note: 37, name: 'Rim click', from: 'Rim click' },
  { note: 39, name: 'Hand clap', from: 'Hand clap' },
  { note: 41, name: 'Floor tom', from: 'Low tom', set: { toneHz: 74, toneDecayMs: 560 } },
  { note: 43, name: 'Low tom', from: 'Low tom', set: { toneHz: 88, toneDecayMs: 500 } },
  { note: 45, name: 'Lower tom', from: 'Low tom', set: { toneHz: 104 } },
  { note: 47, name: 'Middle tom', from: 'Low tom', set: { toneHz: 124, toneDecayMs: 420 } },
  { note: 48, name: 'Upper tom', from: 'High tom', set: { toneHz: 146 } },
  { note: 50, name: 'High tom', from: 'High tom', set: { toneHz: 176 } },
  { note: 42, name: 'Closed hat', from: 'Closed hat' },
  { note: 44, name: 'Foot hat', from: 'Closed hat', set: { noiseHz: 7600, noiseDecayMs: 70, metalHz: 4100 } },
  { note: 46, name: 'Open hat', from: 'Open hat' },
  { note: 49, name: 'Crash', from: 'Crash' },
  { note: 57, name: 'Dark crash', from: 'Crash', set: { metalHz: 1500, noiseHz: 900, metalTilt: -9 } },
  { note: 55, name: 'Splash', from: 'Crash', set: { metalHz: 2300, noiseDecayMs: 1500, metalDecayMs: 1600 } },
  { note: 51, name: 'Ride', from: 'Ride' },
  { note: 53, name: 'Ride bell', from: 'Ride', set: { noiseDb: -24, metalDb: -6, metalHz: 1450, metalStretch: 0.9 } },
  {
    note: 54,
    name: 'Jingles',
    from: 'Shaker',
    set: { noiseHz: 8200, noiseQ: 1.5, metalDb: -12, metalHz: 3900, metalDecayMs: 140 },
  },
  { note: 56, name: 'Cow bell', from: 'Cow bell' },
  {
    note: 58,
    name: 'Rattle',
    from: 'Wood block',
    set: { noiseDb: -6, noiseKind: 'band', bursts: 8, spacingMs: 22, noiseHz: 2400 },
  },
  { note: 60, name: 'High hand drum', from: 'High tom', set: { toneHz: 310, toneDecayMs: 150, sweep: 3, clickDb: -9 } },
  { note: 61, name: 'Low hand drum', from: 'High tom', set: { toneHz: 225, toneDecayMs: 190, sweep: 3, clickDb: -9 } },
  { note: 64, name: 'Tall hand drum', from: 'High tom', set: { toneHz: 165, toneDecayMs: 240, sweep: 2, second: 0.4 } },
  { note: 69, name: 'Shaker', from: 'Shaker' },
  { note: 70, name: 'Short shaker', from: 'Shaker', set: { noiseHz: 7200, noiseAttackMs: 12, noiseDecayMs: 40 } },
  { note: 75, name: 'Sticks', from: 'Wood block', set: { toneHz: 2450, toneDecayMs: 45 } },
  { note: 76, name: 'High wood block', from: 'Wood block', set: { toneHz: 1100 } },
  { note: 77, name: 'Low wood block', from: 'Wood block', set: { toneHz: 790 } },
  { note: 81, name: 'Triangle', from: 'Triangle' },
];

/** The strokes of each sound, softest first, and the velocities that each is for. */
export const STROKES = [
  { velocity: 50, low: 1, high: 66 },
  { velocity: 90, low: 67, high: 104 },
  { velocity: 120, low: 105, high: 127 },
] as const;

/** How loud the sounds of a family lie beside one another, in LUFS over their loudest 400 ms (common practice). */
const LOUDNESS: Partial<Record<Family, number>> = { kick: -15, snare: -16, tom: -17, clap: -18, 'closed hat': -25 };
const OTHERS_LUFS = -22;
const HIGHEST_PEAK_DB = -1;

const RATE = 48_000;
/** Between strokes of a recording, so that each has died away. */
const APART_S = 0.25;
const FADE_S = 0.02;

/** A stroke of a supplied sound: where it lies in the recording of its family. */
export interface SuppliedStroke {
  readonly name: string;
  readonly note: number;
  readonly lowVelocity: number;
  readonly highVelocity: number;
  readonly startFrame: number;
  readonly endFrame: number;
}

/** The supplied sounds of one family as a recording, the strokes one after another. */
export interface SuppliedRecording {
  readonly family: Family;
  readonly title: string;
  readonly audio: Audio;
  readonly strokes: readonly SuppliedStroke[];
}

/** The sounds of the starter kit, struck by our own voice: the same bytes wherever they are made. */
export function suppliedRecordings(): SuppliedRecording[] {
  const families = new Map<Family, { sound: Sound; voice: VoiceSettings }[]>();
  for (const sound of SOUNDS) {
    const point = STARTING_POINTS.find(({ name }) => name === sound.from);
    if (!point) throw new Error(`There is no starting point ${sound.from}.`);
    const voice = { ...point.voice, ...sound.set, softDb: 0 };
    families.set(point.family, [...(families.get(point.family) ?? []), { sound, voice }]);
  }
  return [...families].map(([family, sounds]) => recordingOf(family, sounds));
}

function recordingOf(family: Family, sounds: readonly { sound: Sound; voice: VoiceSettings }[]): SuppliedRecording {
  const strokes: SuppliedStroke[] = [];
  const parts: { at: number; samples: Float32Array }[] = [];
  let at = Math.round(APART_S * RATE);
  for (const { sound, voice } of sounds)
    for (const [n, { velocity, low, high }] of STROKES.entries()) {
      const samples = levelled(
        renderVoice(voice, velocity, 100 * sound.note + n, RATE),
        LOUDNESS[family] ?? OTHERS_LUFS,
      );
      const endFrame = at + samples.length;
      strokes.push({
        ...{ name: `${sound.name} ${n + 1}`, note: sound.note, lowVelocity: low, highVelocity: high },
        ...{ startFrame: at, endFrame },
      });
      parts.push({ at, samples });
      at = endFrame + Math.round(APART_S * RATE);
    }
  const audio = silence(at, 1, RATE);
  for (const part of parts) (audio.channels[0] as Float32Array).set(part.samples, part.at);
  return { family, title: `Supplied ${PLURALS[family] ?? family}`, audio, strokes };
}

const PLURALS: Partial<Record<Family, string>> = {
  kick: 'kicks',
  snare: 'snares',
  rim: 'rims',
  clap: 'claps',
  tom: 'toms',
  'closed hat': 'closed hats',
  'open hat': 'open hats',
  cymbal: 'cymbals',
};

/** A stroke at its loudness, or as near as its peak allows, faded at its end. */
function levelled(audio: Audio, lufs: number): Float32Array {
  const room = HIGHEST_PEAK_DB - toDb(peakOf(audio.channels));
  const gain = fromDb(Math.min(lufs - momentaryLufs(audio), room));
  const frames = frameCount(audio);
  const fade = Math.round(FADE_S * audio.sampleRate);
  return (audio.channels[0] as Float32Array).map((x, n) => gain * x * Math.min(1, (frames - 1 - n) / fade));
}
