import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Change } from '../../src/contract/edits';
import { writeWav } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import type { TreatedHit, TreatedMember } from '../../src/core/hit/key';
import type { Hit } from '../../src/core/hit/model';
import { Renderer } from '../../src/core/hit/render';
import { MEMBER_INITIAL } from '../../src/core/layering/parameters';
import type { Audio } from '../../src/core/signal/audio';
import { seededRandom } from '../../src/core/signal/random';
import { stepsOf } from '../../src/core/treatment/chain';
import { startServer, visit } from '../harness';
import { Client } from '../server/client';
import { frameRow, frameTimes } from './frames';
import { median, p95, type Row, timed } from './rows';

const RATE = 48_000;
const LAYERS = 8;
const SECONDS = 2;
/** Steps of each layer's hit, and of the sum. */
const OF_EACH = [
  { processor: 'equaliser', points: [{ frequencyHz: 300, gainDb: 4 }] },
  { processor: 'compressor' },
] as const;
const OF_SUM = [{ processor: 'bands' }, { processor: 'limiter', ceilingDbtp: -1 }] as const;
const EDGES = [150, 2500];

function stroke(seed: number): Audio {
  const random = seededRandom(seed);
  const side = () => Float32Array.from({ length: SECONDS * RATE }, (_, i) => Math.exp(-i / 15_000) * (random() - 0.5));
  return { sampleRate: RATE, channels: [side(), side()] };
}

/** Changes of one layer of eight, as a person makes them. */
const TURNED: readonly (readonly [string, Partial<TreatedMember>])[] = [
  ['moved', { offsetFrames: 37 }],
  ['level', { levelDb: -4 }],
  ['polarity', { inverted: true }],
  ['bands', { bandsDb: [0, -9, 0] }],
  ['tuned', { semitones: 2 }],
  ['a step of its own', { steps: stepsOf('m', [{ processor: 'saturation', driveDb: 6 }], () => 's') }],
];

/** Eight layers of two seconds of stereo, in three bands, steps on each and on the sum: after a change of one. */
export function layersRow(folder: string): Row {
  const sources = Array.from({ length: LAYERS }, (_, n) => stroke(n + 1));
  const base = { ...HIT_INITIAL, family: null, sliceId: null, startFrame: 0, endFrame: SECONDS * RATE };
  const members = sources.map((_, n): TreatedMember => {
    const id = `hit-${n}`;
    const hit = { ...base, id, name: id, recordingId: String(n), steps: stepsOf(id, OF_EACH, () => 's') };
    return { ...MEMBER_INITIAL, id: `member-${n}`, layeredId: 'sum', hitId: id, position: n, steps: [], hit };
  });
  const sum: TreatedHit = {
    ...base,
    ...{ id: 'sum', name: 'Sum', recordingId: '0', edgesHz: EDGES, members, steps: stepsOf('sum', OF_SUM, () => 's') },
  };
  const read = ({ recordingId }: Hit) => sources[Number(recordingId)] as Audio;
  const renderer = new Renderer(1 << 29);
  const cold = timed(() => renderer.render(sum, read));
  const times = TURNED.map(([name, set]) => {
    const of = Array.from({ length: 5 }, (_, n) => {
      // Each time another value, so that nothing is known.
      const by = { ...set, levelDb: (set.levelDb ?? 0) - n / 10 };
      const turned = { ...sum, members: members.map((member, i) => (i === 3 ? { ...member, ...by } : member)) };
      return timed(() => renderer.render(turned, read));
    });
    return { name, ms: median(of) };
  });
  const worst = times.reduce((a, b) => (b.ms > a.ms ? b : a));
  const ffmpeg = beside(folder, sources);
  return {
    what: `${LAYERS} layers of ${SECONDS} s, steps on each and on the sum, one changed`,
    figure: `${worst.ms.toFixed(0)} ms at worst (${worst.name}); from nothing ${cold.toFixed(0)} ms`,
    beside: `ffmpeg mixing the eight with the steps of the sum ${ffmpeg.toFixed(0)} ms, ratio ${(worst.ms / ffmpeg).toFixed(2)}`,
    floor: '100 ms',
    met: worst.ms <= 100,
  };
}

function beside(folder: string, sources: readonly Audio[]): number {
  const paths = sources.map((source, n) => {
    const path = join(folder, `layer-${n}.wav`);
    writeFileSync(path, writeWav(source, 'f32'));
    return path;
  });
  const graph = `amix=inputs=${LAYERS}:normalize=0,mcompand,alimiter`;
  const args = ['-v', 'error', ...paths.flatMap((path) => ['-i', path]), '-filter_complex', graph, '-f', 'null', '-'];
  return median(Array.from({ length: 3 }, () => timed(() => execFileSync('ffmpeg', args))));
}

/** The same on the page: lanes while one is dragged, and the sum's figures after one is muted. */
export async function lanesRows(folder: string): Promise<Row[]> {
  const server = await startServer(join(folder, 'lanes.db'));
  const { browser, page } = await visit();
  try {
    const client = new Client(server.address);
    const changes: Change[] = [];
    const create = (doc: Change['doc'], id: string, value: Record<string, unknown>) =>
      changes.push({ op: 'create', doc, id, value });
    for (let n = 0; n < LAYERS; n++) {
      const { recordingId } = await client.import(`Layer ${n}.wav`, writeWav(stroke(n + 1), 's24'));
      const place = { recordingId, startFrame: 0, endFrame: SECONDS * RATE, sliceId: null, family: 'kick' };
      create('hit', `hit-lanes-00${n}`, { name: `Layer ${n}`, ...place });
      if (n === 0) create('hit', 'hit-lanes-sum', { name: 'Sum', edgesHz: EDGES, ...place });
      for (const [position, step] of OF_EACH.entries())
        create('step', `step-lanes-${n}-${position}`, { hitId: `hit-lanes-00${n}`, position, ...step });
      create('member', `member-lanes-${n}`, { layeredId: 'hit-lanes-sum', hitId: `hit-lanes-00${n}`, position: n });
    }
    for (const [position, step] of OF_SUM.entries())
      create('step', `step-lanes-sum-${position}`, { hitId: 'hit-lanes-sum', position, ...step });
    await client.edit('eight layers', changes);
    await page.goto(`${server.address}/hits/hit-lanes-sum/layers`);
    const sum = page.getByTestId('sum');
    await sum.getByText('LUFS').waitFor();
    const box = await page.getByTestId('lanes').boundingBox();
    if (!box) throw new Error('no lanes');
    const at = { x: box.x + box.width / 2, y: box.y + 60 };
    await page.mouse.move(at.x, at.y);
    await page.mouse.down();
    const move = async () => {
      for (let i = 0; i < 60; i++) await page.mouse.move(at.x - 60 + Math.abs(30 - i) * 3, at.y);
    };
    await move();
    const times = await frameTimes(page, move);
    await page.mouse.move(at.x, at.y);
    await page.mouse.up();
    const shown: number[] = [];
    for (let n = 0; n < 12; n++) {
      await page.waitForTimeout(700);
      shown.push(await page.evaluate(muted));
    }
    const mutes = shown.slice(2);
    return [
      frameRow('dragging a lane of eight', times),
      {
        what: 'one of eight layers muted on the page',
        figure: `the sum told after ${median(mutes).toFixed(0)} ms`,
        beside: `95 % ${p95(mutes).toFixed(0)} ms`,
        floor: '-',
        met: null,
      },
    ];
  } finally {
    await browser.close();
    await server.kill();
  }
}

/** Runs in the page: mutes a layer, or has it heard again, and tells how long it took until the sum's figures changed, in ms. */
async function muted(): Promise<number> {
  const button = document.querySelector<HTMLElement>('[data-testid=lane] [aria-label$="ute Layer 0"]');
  const sum = document.querySelector('[data-testid=sum]');
  if (!button || !sum) throw new Error('There is no layer or no sum.');
  const begun = performance.now();
  const changed = new Promise<number>((done) => {
    const observer = new MutationObserver(() => {
      observer.disconnect();
      done(performance.now() - begun);
    });
    observer.observe(sum, { subtree: true, childList: true, characterData: true });
  });
  button.click();
  return changed;
}
