import { createReadStream, existsSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { startServer, visit } from '../harness';
import { Client } from '../server/client';
import { writeLongWav } from './audio';
import { analysed } from './import';
import { median, type Row, seconds } from './rows';

const SLICES = 500;
const ROUNDS = 5;
/** By then the server's threads have kept the rhythm and are gone. */
const REST_MS = 12_000;

/**
 * 500 slices of ten minutes of which none has been listened to, on a server that has been running, its threads begun anew each time:
 * listening to them alone; the page of shelves, from its address until the first and until all of them stand; then the same once all
 * are known.
 */
export async function shelvesRows(folder: string): Promise<Row[]> {
  const workspace = join(folder, 'shelves.db');
  const id = await tenMinutes(folder, workspace);
  const db = new Database(workspace);
  const heard = db.prepare('SELECT count(*) FROM slice_sound').pluck();
  const server = await startServer(workspace);
  const { browser, page } = await visit();
  const forget = async () => {
    await page.goto('about:blank');
    for (const table of ['slice_sound', 'rhythm', 'job']) db.exec(`DELETE FROM ${table}`);
    await page.waitForTimeout(REST_MS);
  };
  const listened = async () => {
    const start = performance.now();
    await fetch(`${server.address}/api/recordings/${id}/sounds`);
    while ((heard.get() as number) < SLICES) await new Promise((resolve) => setTimeout(resolve, 20));
    return performance.now() - start;
  };
  const opened = async () => {
    const start = performance.now();
    await page.goto(`${server.address}/slice/${id}?view=shelves`, { waitUntil: 'commit' });
    await page.locator('[data-testid=shelf]').first().waitFor({ timeout: 60_000 });
    const first = performance.now() - start;
    await page.waitForFunction(
      () => document.querySelector('[data-testid=shelf]') && !document.querySelector('h1 ~ [role=status]'),
      undefined,
      { polling: 100, timeout: 60_000 },
    );
    return { first, all: performance.now() - start };
  };
  const rounds: { alone: number; first: number; all: number; known: number }[] = [];
  try {
    await page.goto(`${server.address}/recordings`);
    await page.locator('[data-testid=recording]').first().waitFor();
    for (let round = 0; round < ROUNDS; round++) {
      await forget();
      const alone = await listened();
      await forget();
      const fresh = await opened();
      await page.goto('about:blank');
      rounds.push({ alone, ...fresh, known: (await opened()).all });
    }
  } finally {
    await browser.close();
    await server.kill();
    db.close();
  }
  const told = (pick: (round: (typeof rounds)[number]) => number) => {
    const all = rounds.map(pick);
    return { middle: median(all), range: `${seconds(Math.min(...all))} to ${seconds(Math.max(...all))}` };
  };
  const [alone, first, all, known] = [
    told((r) => r.alone),
    told((r) => r.first),
    told((r) => r.all),
    told((r) => r.known),
  ];
  return [
    {
      what: `describing ${SLICES} slices of 10 min, by the server's two threads`,
      figure: seconds(alone.middle),
      beside: `${ROUNDS} rounds, ${alone.range}`,
      floor: 'under 5 s',
      met: alone.middle < 5000,
    },
    {
      what: 'their shelves, from the address until all stand',
      figure: seconds(all.middle),
      beside: `${all.range}; the first after ${seconds(first.middle)}`,
      floor: '',
      met: null,
    },
    {
      what: 'the same when all were listened to before',
      figure: seconds(known.middle),
      beside: known.range,
      floor: '',
      met: null,
    },
  ];
}

/** A workspace with ten minutes in stereo, analysed, of whose slices 500 are left, spread over it, each as far as the next. */
async function tenMinutes(folder: string, workspace: string): Promise<string> {
  const path = join(folder, 'ten-minutes.wav');
  if (!existsSync(path)) writeLongWav(path, { seconds: 600, sampleRate: 44100, channelCount: 2, encoding: 's16' });
  const server = await startServer(workspace);
  const client = new Client(server.address);
  const answer = await client.stream('/api/recordings?name=ten-minutes.wav', createReadStream(path));
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  const id = (answer.body as { recordingId: string }).recordingId;
  await analysed(client, id);
  await server.kill();
  const db = new Database(workspace);
  const slices = db.prepare('SELECT id, start_frame AS start FROM slice ORDER BY start_frame').all() as {
    id: string;
    start: number;
  }[];
  const kept = Array.from({ length: SLICES }, (_, i) => slices[Math.floor((i * slices.length) / SLICES)]);
  const ends = kept.slice(1).map((next) => next?.start ?? 0);
  db.transaction(() => {
    const ids = new Set(kept.map((slice) => slice?.id));
    for (const slice of slices) if (!ids.has(slice.id)) db.prepare('DELETE FROM slice WHERE id = ?').run(slice.id);
    for (const [i, end] of ends.entries())
      db.prepare('UPDATE slice SET end_frame = ? WHERE id = ?').run(end, kept[i]?.id);
  })();
  db.close();
  return id;
}
