import { UndercroftError } from '../errors';
import { BYTES_PER_SAMPLE, encodeFrames, type SampleEncoding } from '../format/pcm';
import { wavHeader } from '../format/wav';
import type { TreatedHit } from '../hit/key';
import { isPlain } from '../hit/key';
import type { HitSound } from '../hit/render';
import { freeName } from '../naming/names';
import { safeFileName } from '../naming/safe-names';
import { atRate } from '../resampling/sinc';
import { type Audio, peakOf } from '../signal/audio';
import { triangularDither } from '../signal/dither';
import { amplified } from '../treatment/processor';
import { type BundleFile, PRIVATE_FILE, textFile } from './bundle';
import { type Credit, creditsSheet } from './credits';

/** How hits are written. */
export interface HitFileOptions {
  /** Sample rate in hertz; null for each hit's own. */
  readonly sampleRate: number | null;
  readonly encoding: 's16' | 's24' | 'f32';
  /** For oneself only: the zip says so. */
  readonly isPrivate: boolean;
}

export interface HitToWrite {
  readonly hit: TreatedHit;
  readonly open: () => HitSound;
  /** How its recording is stored: a sound that is rounded no finer needs no dither. */
  readonly stored: SampleEncoding;
}

/** Frames written at a time. */
const PIECE_FRAMES = 65_536;
/** Another rate is made of the whole sound in memory. */
const LONGEST_RESAMPLED_S = 600;
const FINENESS: Readonly<Record<SampleEncoding, number>> = { u8: 8, s16: 16, s24: 24, s32: 32, f32: 32, f64: 64 };

/**
 * Hits as WAV files of their names, with a credits sheet; yields after each hit. A sound is dithered where its samples have to
 * be rounded: after steps, a gain or resampling, or from a source with more bits. One that exceeds full scale is written as
 * floats.
 */
export function* hitFiles(
  hits: readonly HitToWrite[],
  credits: readonly Credit[],
  options: HitFileOptions,
): Generator<void, BundleFile[]> {
  const taken = new Set<string>();
  const files: BundleFile[] = [];
  for (const wanted of hits) {
    const name = freeName(safeFileName(wanted.hit.name), taken);
    taken.add(name);
    files.push(hitFile(`${name}.wav`, wanted, options));
    yield;
  }
  files.push(textFile('credits.txt', creditsSheet(`${hits.length} hits`, credits)));
  if (options.isPrivate) files.push(PRIVATE_FILE);
  return files;
}

function hitFile(path: string, { hit, open, stored }: HitToWrite, options: HitFileOptions): BundleFile {
  const sound = open();
  const sampleRate = options.sampleRate ?? sound.sampleRate;
  const isResampled = sampleRate !== sound.sampleRate;
  if (isResampled && sound.frames > LONGEST_RESAMPLED_S * sound.sampleRate)
    throw new UndercroftError(
      'too-large',
      `"${hit.name}" is longer than ${LONGEST_RESAMPLED_S / 60} minutes; sounds up to that length can be brought to another rate. Leave it out, or keep its own rate.`,
    );
  // What is resampled may overshoot a little.
  const peak = Math.min(sound.loudest, 1e6) * sound.gain * (isResampled ? 1.2 : 1);
  const encoding = options.encoding !== 'f32' && peak > 1 && peakAt(sound, sampleRate) > 1 ? 'f32' : options.encoding;
  const frames = isResampled ? Math.ceil(sound.frames / (sound.sampleRate / sampleRate)) : sound.frames;
  const header = wavHeader({ encoding, sampleRate, channelCount: sound.channelCount }, frames);
  const body = frames * sound.channelCount * BYTES_PER_SAMPLE[encoding];
  const isExact = isPlain(hit) && sound.gain === 1 && !isResampled && FINENESS[stored] <= FINENESS[encoding];
  return {
    path,
    bytes: header.length + body + (body % 2),
    *pieces() {
      yield header;
      const dither = encoding === 'f32' || isExact ? null : triangularDither(encoding);
      for (const { channels } of blocksOf(sound, sampleRate))
        yield encodeFrames(encoding, dither ? dither(channels) : channels);
      // Chunks have an even length (Microsoft and IBM, "Multimedia Programming Interface", RIFF).
      if (body % 2 === 1) yield new Uint8Array(1);
    },
  };
}

/** The sound with its gain, a block at a time. Another rate is made of the whole sound. */
function* blocksOf(sound: HitSound, sampleRate: number): Generator<Audio> {
  const { frames, gain } = sound;
  if (sampleRate !== sound.sampleRate) {
    yield amplified(atRate(sound.read(0, frames), sampleRate), gain);
    return;
  }
  for (let at = 0; at < frames; at += PIECE_FRAMES)
    yield amplified(sound.read(at, Math.min(frames, at + PIECE_FRAMES)), gain);
}

function peakAt(sound: HitSound, sampleRate: number): number {
  let most = 0;
  for (const { channels } of blocksOf(sound, sampleRate)) most = Math.max(most, peakOf(channels));
  return most;
}
