import { writeFileSync } from 'node:fs';
import type { SampleEncoding } from '@/core/format/pcm';
import { writeWav } from '@/core/format/wav';
import { Addition } from '@/core/layering/addition';
import { THIRD_OCTAVES_HZ } from '@/core/layering/bands';
import { type LayerSound, sumOf } from '@/core/layering/layers';
import { proposedShares, sharedLayer } from '@/core/layering/share';
import { type LINE_UP_BY, linedUp, mended, turned } from '@/core/layering/taken';
import { measured } from '@/core/loudness/measured';
import { atRate } from '@/core/resampling/sinc';
import { frameCount, peakOf } from '@/core/signal/audio';
import { toDb } from '@/core/signal/units';
import { rounded } from './figures';
import { loadFile } from './files';

interface LayerOptions {
  readonly out: string;
  readonly lineUp: boolean;
  readonly by: (typeof LINE_UP_BY)[number];
  readonly share: boolean;
  readonly mend: boolean;
  readonly encoding: SampleEncoding;
  readonly json: boolean;
}

const MOST_LAYERS = 8;
/** Longest layer, in seconds: layers are held whole. */
const LONGEST_S = 120;

/** Lays sound files over one another into one sound; every figure is at the first file's rate, the first layer at 0. */
export async function runLayer(files: readonly string[], options: LayerOptions): Promise<void> {
  if (files.length < 2 || files.length > MOST_LAYERS)
    throw new Error(`A layered sound has 2 to ${MOST_LAYERS} layers; ${files.length} given.`);
  const loaded = [];
  for (const file of files) loaded.push((await loadFile(file)).audio);
  const sampleRate = loaded[0]?.sampleRate ?? 48_000;
  let layers = loaded.map((audio, i): LayerSound => {
    if (frameCount(audio) === 0) throw new Error(`${files[i]}: it has no samples to lay.`);
    if (frameCount(audio) > LONGEST_S * audio.sampleRate)
      throw new Error(`${files[i]}: it is longer than ${LONGEST_S} s; layers up to that length can be laid.`);
    const own = audio.sampleRate === sampleRate ? audio : atRate(audio, sampleRate);
    return { audio: own, offsetFrames: 0, levelDb: 0, pan: 0, inverted: false };
  });
  const shared = options.share ? proposedShares(layers.map((l) => l.audio)) : null;
  if (options.lineUp) layers = linedUp(layers, options.by);
  if (shared) layers = layers.map((l, i) => ({ ...l, audio: sharedLayer(l.audio, shared, i) }));
  layers = options.mend ? mended(layers) : options.lineUp ? turned(layers) : layers;
  const { audio, startFrame } = sumOf(layers);
  writeFileSync(options.out, writeWav(audio, options.encoding));
  const addition = new Addition(layers, Math.max(0, ...layers.map((l) => Math.abs(l.offsetFrames))));
  const bands = addition.bands();
  const { truePeak, momentaryLufs } = measured(audio);
  const report = {
    out: options.out,
    sampleRate,
    startFrame,
    layers: layers.map(({ offsetFrames, inverted, levelDb, audio: own }, i) => ({
      file: files[i],
      offsetFrames,
      inverted,
      levelDb,
      peakDb: rounded(toDb(peakOf(own.channels))),
    })),
    edgesHz: shared?.edgesHz ?? [],
    sumPeakDb: rounded(toDb(peakOf(audio.channels))),
    sumTruePeakDb: rounded(toDb(truePeak)),
    sumLufs: rounded(momentaryLufs),
    lostUnder200HzDb: rounded(addition.lostUnder200HzDb()),
    bands: Array.from(THIRD_OCTAVES_HZ, (hz, b) => ({
      hz: rounded(hz),
      gainDb: bands[b] === null ? null : rounded(bands[b] as number),
    })),
  };
  if (options.json) process.stdout.write(`${JSON.stringify(report)}\n`);
  else
    for (const line of [
      ...report.layers.map(
        (l) => `${l.file}: at ${l.offsetFrames} frames${l.inverted ? ', polarity turned' : ''}, peak ${l.peakDb} dBFS`,
      ),
      `${report.out}: peak ${report.sumPeakDb} dBFS, loses ${report.lostUnder200HzDb} dB under 200 Hz`,
    ])
      process.stdout.write(`${line}\n`);
}
