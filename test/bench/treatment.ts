import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { writeWav } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import type { TreatedHit } from '../../src/core/hit/key';
import { Renderer } from '../../src/core/hit/render';
import type { Audio } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { stepsOf } from '../../src/core/treatment/chain';
import { Chain } from '../../src/core/treatment/chain-schema';
import { median, type Row, timed } from './rows';

const RATE = 48_000;
const point = (frequencyHz: number, gainDb: number) => ({ frequencyHz, gainDb });
const CHAIN = [
  { processor: 'noise' },
  { processor: 'equaliser', points: [point(90, -6), point(400, 3), point(3000, -2), point(9000, 4)] },
  { processor: 'attack', attackDb: 4 },
  { processor: 'compressor' },
  { processor: 'saturation', driveDb: 8, mix: 0.6 },
  { processor: 'tune', semitones: 2 },
  { processor: 'length', timeMs: 700 },
  { processor: 'limiter', ceilingDbtp: -1 },
];
/** A change of each step, as turning it makes it. */
const TURNED: readonly object[] = [
  { amountDb: 20 },
  { points: [point(120, -6)] },
  { attackDb: 5 },
  { ratio: 5 },
  { driveDb: 9 },
  { semitones: 3 },
  { timeMs: 600 },
  { ceilingDbtp: -2 },
];

/** A second of stereo with eight steps: rendered from nothing, and after a change of each step. */
export function treatmentRow(folder: string): Row {
  const random = seededRandom(4);
  const side = () => Float32Array.from({ length: RATE }, (_, i) => Math.exp(-i / 9000) * (random() - 0.5));
  const source: Audio = { sampleRate: RATE, channels: [side(), side()] };
  const base = { ...HIT_INITIAL, id: 'h', name: 'h', family: null, recordingId: 'r', sliceId: null };
  const hit: TreatedHit = {
    ...base,
    startFrame: 0,
    endFrame: RATE,
    steps: stepsOf('h', Chain.parse(CHAIN), () => 's'),
  };
  // Twice beforehand, so that what is measured is compiled.
  for (let n = 0; n < 2; n++) new Renderer(0).render(hit, source);
  const cold = median(Array.from({ length: 5 }, () => timed(() => new Renderer(0).render(hit, source))));
  const worst = Math.max(
    ...TURNED.map((set, n) =>
      median(
        Array.from({ length: 5 }, () => {
          const renderer = new Renderer(1 << 28);
          renderer.render(hit, source);
          const steps = hit.steps.map((step, i) => (i === n ? { ...step, ...set } : step));
          return timed(() => renderer.render({ ...hit, steps }, source));
        }),
      ),
    ),
  );
  const ffmpeg = beside(folder, source);
  return {
    what: 'eight steps on a second of stereo',
    figure: `${cold.toFixed(0)} ms, ${worst.toFixed(0)} ms after the worst change`,
    beside: `ffmpeg with the like filters ${ffmpeg.toFixed(0)} ms, ratio ${(cold / ffmpeg).toFixed(2)}`,
    floor: '300 ms, 100 ms',
    met: cold <= 300 && worst <= 100,
  };
}

function beside(folder: string, source: Audio): number {
  const path = join(folder, 'hit.wav');
  writeFileSync(path, writeWav(source, 'f32'));
  const filters = [
    'afftdn=nr=18',
    'equalizer=f=90:t=o:w=1:g=-6',
    'equalizer=f=400:t=o:w=1:g=3',
    'equalizer=f=3000:t=o:w=1:g=-2',
    'equalizer=f=9000:t=o:w=1:g=4',
    'acompressor',
    'asoftclip=type=tanh:oversample=8',
    'asetrate=53880,aresample=48000:resampler=soxr:precision=28',
    'afade=t=out:st=0.35:d=0.35',
    'alimiter=limit=0.89',
  ];
  const args = ['-y', '-v', 'error', '-i', path, '-af', filters.join(','), '-f', 'null', '-'];
  return median(Array.from({ length: 5 }, () => timed(() => execFileSync('ffmpeg', args, { stdio: 'ignore' }))));
}
