import { MPEGDecoder } from 'mpg123-decoder';
import { UndercroftError } from '@/core/errors';
import { type MpegStart, mpegStart } from '@/core/format/mpeg';
import { type Decoded, damagedFrames, FloatFrames, freed, type PcmSink, quietly } from './sink';
import type { SourceFile } from './source-file';

/** Delay of layer III decoders where no tag tells the encoder's: 528 + 1 frames (ISO/IEC 11172-3). */
const DECODER_DELAY = 529;

/** Frames are searched in windows of this many bytes, which overlap by twice the longest frame. */
const WINDOW_BYTES = 512 * 1024;
const SHARED_BYTES = 8 * 1024;
const MOST_SEARCHED = 64 * 1024 * 1024;

/** The first two consecutive frames; anything before them, such as a picture, is skipped. */
function firstFrames(file: SourceFile): MpegStart | null {
  const end = Math.min(file.bytes, file.start + MOST_SEARCHED);
  for (const freeRate of [false, true]) {
    for (let at = file.start; at < end; at += WINDOW_BYTES - SHARED_BYTES) {
      const found = mpegStart(file.read(at, WINDOW_BYTES), { freeRate });
      if (!found) continue;
      file.start = at + found.at;
      return found;
    }
  }
  return null;
}

/** Decodes MPEG audio; removes encoder delay and padding where the file's first frame tells them. */
export async function decodeMp3(file: SourceFile, sink: PcmSink): Promise<Decoded> {
  const start = firstFrames(file);
  if (!start) {
    throw new UndercroftError(
      'damaged-audio',
      'This looks like an MP3 file, but no two frames that follow each other were found in it.',
    );
  }
  const decoder = new MPEGDecoder({ enableGapless: start.delay !== null });
  const floats = new FloatFrames(sink);
  let errors = 0;
  try {
    await decoder.ready;
    for await (const piece of file.pieces()) {
      const { channelData, samplesDecoded, sampleRate, errors: found } = await quietly(() => decoder.decode(piece));
      errors += found.length;
      // The decoder returns mono as two channels.
      if (samplesDecoded > 0) floats.push(channelData.slice(0, start.header.channelCount), sampleRate);
      if (floats.changed) break;
    }
  } finally {
    freed(decoder);
  }
  const untold =
    start.delay === null
      ? [
          `The file does not tell its encoder's delay, so nothing was cut: sounds lie late by some 25 ms (at least ${DECODER_DELAY + 576} frames with common encoders).`,
        ]
      : [];
  return { kind: 'mp3', delay: start.delay, warnings: [...untold, ...floats.warnings(), ...damagedFrames(errors)] };
}
