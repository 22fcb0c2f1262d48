import { spawn, spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, rmSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { seededRandom } from '../../src/core/signal/random';
import { PROGRAM, type Server, startServer } from '../harness';
import { Client, errorOf } from '../server/client';
import { endlessM4a } from '../server/damaged';
import { type Counts, type Door, Lane } from './lane';

export interface SoakPlan {
  readonly seed: number;
  readonly seconds: number;
  readonly kills: number;
  readonly fullDisks: number;
  readonly frozenThreads: number;
  readonly secondServers: number;
}

export interface SoakReport {
  readonly counts: Counts;
  readonly happened: { kills: number; fullDisks: number; frozenThreads: number; secondServers: number };
  /** What was acknowledged and is not there, done twice, or not refused in words. */
  readonly faults: readonly string[];
  /** 95 % of edits took at most so many ms: in all, and while each thing went on. */
  readonly p95: Readonly<Record<string, number>>;
  readonly mostMemoryMb: number;
  /** Whether disks could be filled: that takes a disk of their own. */
  readonly ownDisk: boolean;
}

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const LANES = 3;
/** After a start the first of each kind of request loads what it needs. */
const WARM_MS = 1000;
const RESTART = 'just after a start';
/** Between a kill and the next thing, the server has some time to work. */
const REST_MS = 1500;

/**
 * Three clients edit, import, export, remove and undo, seeded, while the server is killed, its disk filled, a decoder frozen and a
 * second server started. Afterwards what was acknowledged is held against the workspace.
 */
export async function soak(folder: string, plan: SoakPlan): Promise<SoakReport> {
  const disk = join(folder, 'disk');
  mkdirSync(disk);
  const ownDisk = spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=400m', 'tmpfs', disk]).status === 0;
  const path = join(disk, 'soak.db');
  try {
    return await run(folder, disk, path, plan, ownDisk);
  } finally {
    if (ownDisk) spawnSync('umount', ['-l', disk]);
  }
}

async function run(folder: string, disk: string, path: string, plan: SoakPlan, ownDisk: boolean): Promise<SoakReport> {
  const random = seededRandom(plan.seed);
  let server: Server | null = await startServer(path);
  let starting: Promise<Server> | null = null;
  const door: Door = { address: async () => (server ?? (await (starting as Promise<Server>))).address };
  let over = false;
  const lanes = Array.from({ length: LANES }, (_, i) => new Lane(door, `lane${i}`, plan.seed + i, () => over));
  const happened = { kills: 0, fullDisks: 0, frozenThreads: 0, secondServers: 0 };
  const spans: { what: string; from: number; to: number }[] = [];
  const faults: string[] = [];
  let mostMemory = 0;
  const look = () => {
    try {
      const kb = /VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${server?.pid}/status`, 'utf8'))?.[1];
      mostMemory = Math.max(mostMemory, Number(kb) / 1024);
    } catch {
      // It is being started.
    }
  };
  const during = async (what: string, work: () => Promise<void>) => {
    const from = performance.now();
    await work();
    spans.push({ what, from, to: performance.now() });
  };

  const things: Record<keyof typeof happened, () => Promise<void>> = {
    kills: async () => {
      const killed = server as Server;
      const from = performance.now();
      server = null;
      starting = killed.kill().then(() => startServer(path));
      server = await starting;
      spans.push({ what: RESTART, from, to: performance.now() + WARM_MS });
      happened.kills++;
    },
    fullDisks: () =>
      during('disk full', async () => {
        if (!ownDisk) return;
        const filler = join(disk, 'filler');
        spawnSync('dd', ['if=/dev/zero', `of=${filler}`, 'bs=64k'], { stdio: 'ignore' });
        await pause(3000);
        rmSync(filler);
        happened.fullDisks++;
      }),
    frozenThreads: () =>
      during('thread frozen', async () => {
        const { status, body } = await new Client(await door.address()).importBytes('endless.m4a', endlessM4a(folder));
        if (status !== 422) faults.push(`a file without an end was answered with ${status}: ${errorOf(body).message}`);
        happened.frozenThreads++;
      }),
    secondServers: () =>
      during('second server', async () => {
        const second = spawn(PROGRAM, ['serve', '--port', '0', '--workspace', path], { stdio: 'ignore' });
        const code = await new Promise((resolve) => second.on('exit', resolve));
        if (code !== 1) faults.push(`a second server ended with ${code}`);
        happened.secondServers++;
      }),
  };
  // All that is to happen, shuffled by the seed and spread over the time.
  const order = (Object.keys(things) as (keyof typeof happened)[]).flatMap((what) =>
    Array.from({ length: plan[what] }, () => what),
  );
  for (let i = order.length - 1; i > 0; i--) {
    const k = Math.floor(random() * (i + 1));
    [order[i], order[k]] = [order[k] as keyof typeof happened, order[i] as keyof typeof happened];
  }
  const watching = setInterval(look, 500);
  const begun = performance.now();
  const running = Promise.all(lanes.map((lane) => lane.run()));
  for (const [i, what] of order.entries()) {
    const due = begun + ((i + random()) * plan.seconds * 1000) / order.length;
    await pause(Math.max(random() * REST_MS, due - performance.now()));
    await things[what]();
  }
  await pause(Math.max(0, begun + plan.seconds * 1000 - performance.now()));
  over = true;
  await running;
  clearInterval(watching);
  await (server as Server).kill();
  faults.push(...lanes.flatMap((lane) => lane.faults), ...held(path, lanes));
  return {
    counts: total(lanes),
    happened,
    faults,
    p95: latencies(lanes, spans),
    mostMemoryMb: Math.round(mostMemory),
    ownDisk,
  };
}

/** What was acknowledged against what is there. */
function held(path: string, lanes: readonly Lane[]): string[] {
  const faults: string[] = [];
  const { stdout } = spawnSync(PROGRAM, ['check', '--json', '--workspace', path], {
    encoding: 'utf8',
    maxBuffer: 1 << 26,
  });
  const found = JSON.parse(stdout) as { faults: string[] };
  faults.push(...found.faults.map((fault) => `check: ${fault}`));
  const db = new Database(path, { readonly: true });
  const map = (sql: string) =>
    new Map((db.prepare(sql).all() as { id: string; name: string }[]).map((row) => [row.id, row.name]));
  const compare = (what: string, expected: ReadonlyMap<string, string>, there: ReadonlyMap<string, string>) => {
    for (const [id, name] of expected)
      if (there.get(id) !== name) faults.push(`${what} ${id}: "${there.get(id)}", not "${name}"`);
    for (const id of there.keys())
      if (!expected.has(id)) faults.push(`${what} ${id}: it was removed, or never acknowledged`);
  };
  const all = <K, V>(of: (lane: Lane) => Iterable<readonly [K, V]>) => new Map(lanes.flatMap((lane) => [...of(lane)]));
  compare(
    'kit',
    all((lane) => lane.acknowledged.kits),
    map('SELECT id, name FROM kit'),
  );
  compare(
    'hit',
    all((lane) => [...lane.acknowledged.hits].map(([id, hit]) => [id, hit.name] as const)),
    map('SELECT id, name FROM hit'),
  );
  const ready = map("SELECT id, 'there' AS name FROM recording WHERE state = 'ready'");
  compare(
    'recording',
    all((lane) => [...lane.acknowledged.recordings].map((id) => [id, 'there'] as const)),
    ready,
  );
  const keys = map('SELECT key AS id, count(*) AS name FROM edit WHERE key IS NOT NULL GROUP BY key');
  for (const lane of lanes)
    for (const key of lane.acknowledged.keys)
      if (!keys.has(key)) faults.push(`edit ${key} was acknowledged and is not in the history`);
  db.close();
  return faults;
}

function total(lanes: readonly Lane[]): Counts {
  const sum: Counts = { edits: 0, undos: 0, imports: 0, removals: 0, exports: 0, refused: 0, resent: 0 };
  for (const { counts } of lanes) for (const name of Object.keys(sum) as (keyof Counts)[]) sum[name] += counts[name];
  return sum;
}

function latencies(
  lanes: readonly Lane[],
  spans: readonly { what: string; from: number; to: number }[],
): Record<string, number> {
  const all = lanes.flatMap((lane) => lane.latencies);
  const p95 = (list: readonly { ms: number }[]) => {
    const sorted = list.map(({ ms }) => ms).sort((a, b) => a - b);
    return Math.round((sorted[Math.floor(sorted.length * 0.95)] ?? 0) * 10) / 10;
  };
  const within = (what: string) =>
    all.filter(({ at }) => spans.some((span) => span.what === what && at >= span.from && at <= span.to));
  const starting = new Set(within(RESTART));
  return Object.fromEntries([
    ['all others', p95(all.filter((one) => !starting.has(one)))],
    ...[...new Set(spans.map(({ what }) => what))].map((what) => [what, p95(within(what))] as const),
  ]);
}
