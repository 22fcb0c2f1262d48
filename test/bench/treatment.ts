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
import { startServer, visit } from '../harness';
import { Client } from '../server/client';
import { median, p95, type Row, timed } from './rows';

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

/** A second of stereo that falls, as a stroke with its room. */
function stroke(): Audio {
  const random = seededRandom(4);
  const side = () => Float32Array.from({ length: RATE }, (_, i) => Math.exp(-i / 9000) * (random() - 0.5));
  return { sampleRate: RATE, channels: [side(), side()] };
}

/** A second of stereo with eight steps: rendered from nothing, and after a change of each step. */
export function treatmentRow(folder: string): Row {
  const source = stroke();
  const base = { ...HIT_INITIAL, id: 'h', name: 'h', family: null, recordingId: 'r', sliceId: null };
  const hit: TreatedHit = {
    ...base,
    startFrame: 0,
    endFrame: RATE,
    steps: stepsOf('h', Chain.parse(CHAIN), () => 's'),
  };
  // Twice beforehand, so that what is measured is compiled.
  for (let n = 0; n < 2; n++) new Renderer(0).render(hit, () => source);
  const cold = median(Array.from({ length: 5 }, () => timed(() => new Renderer(0).render(hit, () => source))));
  const worst = Math.max(
    ...TURNED.map((set, n) =>
      median(
        Array.from({ length: 5 }, () => {
          const renderer = new Renderer(1 << 28);
          renderer.render(hit, () => source);
          const steps = hit.steps.map((step, i) => (i === n ? { ...step, ...set } : step));
          return timed(() => renderer.render({ ...hit, steps }, () => source));
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

/** The same hit on the page: from the pointer's move over a bar until the wave is drawn anew. */
export async function turningRows(folder: string): Promise<Row[]> {
  const server = await startServer(join(folder, 'turning.db'));
  const { browser, page } = await visit();
  try {
    const client = new Client(server.address);
    const { recordingId } = await client.import('Stroke.wav', writeWav(stroke(), 's24'));
    await client.cut(recordingId);
    await client.edit('a hit with eight steps', [
      {
        op: 'create',
        doc: 'hit',
        id: 'hit-turning-1',
        value: { name: 'Stroke', family: null, sliceId: null, recordingId, startFrame: 0, endFrame: RATE },
      },
      ...CHAIN.map((step, n) => ({
        op: 'create' as const,
        doc: 'step' as const,
        id: `step-turning-${n}`,
        value: { hitId: 'hit-turning-1', position: n, ...step },
      })),
    ]);
    await page.goto(`${server.address}/hits/hit-turning-1`);
    await page.locator('dl[aria-label="Figures of the hit"]').getByText('LUFS').waitFor();
    const rows: Row[] = [];
    for (const [label, bar] of [
      ['Noise reduction', 'At most'],
      ['Limiter', 'Ceiling'],
    ] as const) {
      await page.locator('[data-testid=step]').filter({ hasText: label }).click();
      const times = await page.getByRole('slider', { name: bar }).evaluate(turned, 30);
      rows.push({
        what: `the ${label === 'Limiter' ? 'last' : 'first'} of eight steps turned on the page`,
        figure: `shown after ${median(times).toFixed(0)} ms`,
        beside: `95 % ${p95(times).toFixed(0)} ms`,
        floor: '100 ms',
        met: median(times) <= 100,
      });
    }
    return rows;
  } finally {
    await browser.close();
    await server.kill();
  }
}

/** Runs in the page: moves a bar so many times and tells how long each took until the wave was drawn, in ms. */
async function turned(bar: Element, times: number): Promise<number[]> {
  const { left, width, top, height } = bar.getBoundingClientRect();
  const wave = document.querySelector<HTMLCanvasElement>('[data-testid=treated-wave] canvas')?.getContext('2d');
  if (!wave) throw new Error('There is no wave.');
  // Every drawing begins with this.
  const clear = wave.clearRect.bind(wave);
  const point = (type: string, share: number) =>
    bar.dispatchEvent(
      new PointerEvent(type, {
        bubbles: true,
        pointerId: 1,
        clientX: left + share * width,
        clientY: top + height / 2,
        buttons: 1,
      }),
    );
  // Only a pointer of the browser's own can be captured.
  (bar as HTMLElement).setPointerCapture = () => {};
  const found: number[] = [];
  point('pointerdown', 0.5);
  for (let n = 0; n < times; n++) {
    await new Promise((done) => setTimeout(done, 400));
    found.push(
      await new Promise<number>((done) => {
        const begun = performance.now();
        let last = 5000;
        // The handles and the step's own curve may be drawn before the sound is rendered: the last drawing counts.
        wave.clearRect = (...box) => {
          last = performance.now() - begun;
          clear(...box);
        };
        point('pointermove', 0.3 + 0.4 * ((n * 0.37) % 1));
        setTimeout(() => done(last), 600);
      }),
    );
  }
  point('pointerup', 0.5);
  return found.slice(3);
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
