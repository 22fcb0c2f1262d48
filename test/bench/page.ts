import { gzipSync } from 'node:zlib';
import Database from 'better-sqlite3';
import type { Page } from 'playwright-core';
import { saved, startServer, visit } from '../harness';
import { frameRow, frameTimes } from './frames';
import { median, p95, type Row } from './rows';

/** How long the interface is kept busy while the output is watched. */
const LOAD_MS = 60_000;

/** Slice on the hour with 2,000 slices: dragging a foot, panning, and striking pads while that goes on. */
export async function pageRows(workspace: string): Promise<Row[]> {
  const id = markEvenly(workspace, 2000);
  const server = await startServer(workspace);
  const { browser, page } = await visit();
  const rows: Row[] = [];
  try {
    const scripts = new Map<string, Promise<number>>();
    page.on('response', (response) => {
      if (response.request().resourceType() === 'script')
        scripts.set(
          new URL(response.url()).pathname,
          response.body().then((body) => gzipSync(body).length),
        );
    });
    await page.goto(`${server.address}/recordings`);
    await page.locator('[data-testid=recording]').first().waitFor();
    await page.waitForTimeout(500);
    // Those that the page itself names; what is fetched ahead for the other places stands beside.
    const html = await (await fetch(`${server.address}/recordings`)).text();
    let own = 0;
    let ahead = 0;
    for (const [path, size] of scripts) {
      if (html.includes(path)) own += await size;
      else ahead += await size;
    }
    const kilobytes = own / 1000;
    rows.push({
      what: 'first page, scripts compressed',
      figure: `${kilobytes.toFixed(0)} kB`,
      beside: `gzip; ahead for other pages ${(ahead / 1000).toFixed(0)} kB`,
      floor: 'under 300 kB',
      met: kilobytes < 300,
    });

    await page.goto(`${server.address}/slice/${id}`);
    await page.locator('[data-testid=slice-row]').first().waitFor();
    const box = await page.getByTestId('stage').boundingBox();
    if (!box) throw new Error('no stage');
    const middle = { x: box.x + box.width / 2, y: box.y + 200 };
    const panning = async () => {
      await page.mouse.move(middle.x, middle.y);
      for (let i = 0; i < 60; i++) await page.mouse.wheel(i < 30 ? 90 : -90, 0);
    };
    await page.mouse.move(middle.x, middle.y);
    for (let i = 0; i < 6; i++) await page.mouse.wheel(0, -300);
    await page.waitForTimeout(1000);
    const looks = () => page.getByTestId('stage').screenshot();
    const atRest = await looks();
    for (let i = 0; i < 30; i++) await page.mouse.wheel(-90, 0);
    await page.waitForTimeout(200);
    if ((await looks()).equals(atRest)) throw new Error('Panning moved nothing.');
    // Once unmeasured: what is measured is the work, not the compiling of it.
    await panning();
    await page.waitForTimeout(300);
    rows.push(frameRow('panning an hour with 2,000 slices', await frameTimes(page, panning)));

    await page.keyboard.press('ArrowRight');
    for (let i = 0; i < 8; i++) await page.keyboard.press('ArrowRight');
    await page.keyboard.press('[');
    await page.waitForTimeout(600);
    // '[' shows the chosen slice with 8 % of its length to each side: its end foot stands there.
    const from = { x: box.x + (box.width * 1.08) / 1.16, y: middle.y };
    const before = endsOf(workspace);
    const move = async () => {
      for (let i = 0; i < 60; i++) await page.mouse.move(from.x - 60 + Math.abs(30 - i) * 3, from.y);
    };
    await page.mouse.move(from.x, from.y);
    await page.mouse.down();
    await move();
    const dragTimes = await frameTimes(page, move);
    await page.mouse.move(from.x - 100, from.y);
    await page.mouse.up();
    await saved(page);
    const moved = endsOf(workspace).filter((end, i) => end !== before[i]).length;
    if (moved !== 1) throw new Error(`The drag moved ${moved} ends, not one.`);
    rows.push(frameRow('dragging a foot, an hour with 2,000 slices', dragTimes));
    rows.push(...(await soundRows(page, panning)));
  } finally {
    await browser.close();
    await server.kill();
  }
  return rows;
}

type Context = AudioContext & { readonly playbackStats?: { underrunEvents: number } };

interface OpenedSound {
  readonly engine: {
    readonly context: Context;
    readonly strikes: { readonly sent: number; readonly received: number };
    strike(pad: number, velocity: number): void;
  };
}

/**
 * How soon the audio thread has a strike that the page wrote, and whether the output ever ran dry under load, by the
 * browser's own statistics (Web Audio API, AudioContext.playbackStats).
 */
async function soundRows(page: Page, load: () => Promise<void>): Promise<Row[]> {
  const delays = await page.evaluate(async () => {
    const { engine } = (globalThis as never as { undercroftSound: OpenedSound }).undercroftSound;
    const tick = () =>
      new Promise<void>((resolve) => {
        const { port1, port2 } = new MessageChannel();
        port2.onmessage = () => resolve();
        port1.postMessage(null);
      });
    const found: number[] = [];
    for (let n = 0; n < 100; n++) {
      const target = engine.strikes.received + 1;
      const start = performance.now();
      engine.strike(0, 1);
      while (engine.strikes.received < target && performance.now() - start < 1000) await tick();
      found.push(performance.now() - start);
      await new Promise((r) => setTimeout(r, 7));
    }
    return found;
  });
  // A context of one oscillator runs beside it: what both miss is the machine's doing.
  await page.evaluate(() => {
    const context = new AudioContext({ latencyHint: 'interactive' });
    const tone = new OscillatorNode(context);
    tone.connect(new GainNode(context, { gain: 0.001 })).connect(context.destination);
    tone.start();
    (globalThis as never as { bareSound: unknown }).bareSound = context;
  });
  const stats = () =>
    page.evaluate(() => {
      const { undercroftSound, bareSound } = globalThis as never as {
        undercroftSound: OpenedSound;
        bareSound: Context;
      };
      return [undercroftSound.engine.context, bareSound].map(
        ({ playbackStats }) => playbackStats?.underrunEvents ?? null,
      );
    });
  const before = await stats();
  const end = performance.now() + LOAD_MS;
  while (performance.now() < end) await load();
  const after = await stats();
  const [underruns = null, bare = null] = after.map((n, i) => (n === null ? null : n - (before[i] ?? 0)));
  return [
    {
      what: 'pad struck: from the page to the audio thread',
      figure: `${p95(delays).toFixed(1)} ms (95 %)`,
      beside: `100 strikes, median ${median(delays).toFixed(1)} ms, in the same task, nothing awaited`,
      floor: 'under 5 ms',
      met: p95(delays) < 5,
    },
    {
      what: 'output run dry while panning',
      figure: underruns === null ? 'not told by this browser' : `${underruns} times`,
      beside: `in ${(LOAD_MS / 1000).toFixed(0)} s; a lone oscillator in the same page ${bare} times`,
      floor: 'never',
      met: underruns === null ? null : underruns === 0,
    },
  ];
}

/** Ends of all slices, in order of their starts: to see that a drag moved what it was meant to. */
function endsOf(workspace: string): number[] {
  const db = new Database(workspace, { readonly: true });
  const rows = db.prepare('SELECT end_frame AS end FROM slice ORDER BY start_frame').all() as { end: number }[];
  db.close();
  return rows.map((row) => row.end);
}

/** Replaces the slices of the workspace's recording by as many evenly laid ones. */
function markEvenly(workspace: string, count: number): string {
  const db = new Database(workspace);
  const { id, frames } = db.prepare('SELECT id, frames FROM recording ORDER BY arrived_at LIMIT 1').get() as {
    id: string;
    frames: number;
  };
  db.transaction(() => {
    db.prepare('DELETE FROM slice').run();
    const insert = db.prepare(
      "INSERT INTO slice (id, recording_id, start_frame, end_frame, origin) VALUES (?, ?, ?, ?, 'hand')",
    );
    const step = Math.floor(frames / count);
    for (let i = 0; i < count; i++)
      insert.run(`slice-bench-${String(i).padStart(5, '0')}`, id, i * step, i * step + Math.floor(step * 0.9));
  })();
  db.close();
  return id;
}
