import { spawn } from 'node:child_process';
import { readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import type { ListPage } from '../../src/contract/views';
import { wavHeader, writeWav } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { seededRandom } from '../../src/core/signal/random';
import { openWorkspace } from '../../src/server/db/open';
import { type Server, startServer } from '../harness';
import { manyRows } from '../many';
import { Client } from '../server/client';
import { soak } from '../soak/soak';
import { median, p95, type Row, seconds } from './rows';

/** What the issue of the server allows an edit to take, whatever goes on beside it. */
const MOST_EDIT_MS = 100;

/** `npm run bench -- soak`: ten minutes in which everything goes wrong. */
export async function soakRows(folder: string): Promise<Row[]> {
  const plan = { seed: 1128, seconds: 600, kills: 60, fullDisks: 2, frozenThreads: 3, secondServers: 3 };
  const { counts, happened, faults, p95: slowest, mostMemoryMb, ownDisk } = await soak(folder, plan);
  for (const fault of faults) console.log(`  ${fault}`);
  const said = Object.entries({ ...counts, ...happened }).map(([what, n]) => `${n} ${what}`);
  return [
    {
      what: 'soak, three clients, ten minutes: what was acknowledged and lost, or done twice',
      figure: String(faults.length),
      beside: said.join(', '),
      floor: '0',
      met: faults.length === 0 && happened.kills === plan.kills && (!ownDisk || happened.fullDisks === plan.fullDisks),
    },
    ...Object.entries(slowest).map(([what, ms]) => ({
      what: `soak, edits answered (${what}), 95 %`,
      figure: `${ms.toFixed(1)} ms`,
      beside: `server ${mostMemoryMb} MB at most`,
      floor: `${MOST_EDIT_MS} ms`,
      met: what === 'just after a start' ? null : ms < MOST_EDIT_MS,
    })),
  ];
}

/** `npm run bench -- keeping`: memory over thousands of requests, long removals, long exports, and lists of ten thousand. */
export async function keepingRows(folder: string): Promise<Row[]> {
  const rows = await listRows(folder);
  const server = await startServer(join(folder, 'keeping.db'));
  const bench = new Bench(server);
  rows.push(await bench.flatMemory());
  for (const gigabytes of [1.5, 3.5]) rows.push(...(await bench.longRemoval(gigabytes)));
  rows.push(...(await bench.longExport()));
  await server.kill();
  return rows;
}

class Bench {
  private readonly client: Client;
  private made = 0;

  constructor(private readonly server: Server) {
    this.client = new Client(server.address);
  }

  async flatMemory(): Promise<Row> {
    const random = seededRandom(5);
    const importOne = async () => {
      const samples = Float32Array.from({ length: 4000 }, () => random() - 0.5);
      await this.client.import(`${++this.made}.wav`, writeWav({ sampleRate: 44100, channels: [samples] }, 's16'));
    };
    const paths = ['/api/kits', '/api/plans', '/api/hits?paged=yes', '/recordings', '/api/recordings?paged=yes'];
    const request = (n: number) => this.client.ask('GET', paths[n % paths.length] as string);
    const rounds: number[] = [];
    for (let round = 0; round < 6; round++) {
      for (let n = 0; n < 200; n++) {
        await importOne();
        for (let k = 0; k < 5; k++) await request(n * 5 + k);
      }
      await this.quiet();
      rounds.push(Math.round(this.memoryMb()));
    }
    // What the first round loads stays; memory that is free comes and goes by some tens of megabytes.
    const [, second, third] = rounds as [number, number, number];
    const [fifth, last] = rounds.slice(-2) as [number, number];
    const grown = (fifth + last) / 2 - (second + third) / 2;
    return {
      what: 'memory of the server over 1,200 imports and 6,000 requests',
      figure: `${grown > 0 ? '+' : ''}${Math.round(grown)} MB`,
      beside: `after each sixth ${rounds.join(', ')} MB; last two beside the second and third`,
      floor: 'flat: +30 MB',
      met: grown < 30,
    };
  }

  async longRemoval(gigabytes: number): Promise<Row[]> {
    const { client } = this;
    const frames = Math.round((gigabytes * 1e9) / 6);
    async function* pieces() {
      yield wavHeader({ encoding: 's24', sampleRate: 48000, channelCount: 2 }, frames);
      const piece = new Uint8Array(1 << 20);
      for (let at = 0; at < frames * 6; at += piece.length) {
        piece.fill((at >> 20) + gigabytes * 10);
        yield piece.subarray(0, Math.min(piece.length, frames * 6 - at));
      }
    }
    const { body } = await client.stream('/api/recordings?name=long.wav', pieces());
    const { recordingId: id } = body as { recordingId: string };
    // It is being listened to while it goes.
    const { rev } = (await client.get<{ recording: { rev: number } }>(`/api/recordings/${id}/cut`)).recording;
    await client.edit('bin', [{ op: 'update', doc: 'recording', id, rev, set: { binnedAt: 1 } }]);
    const size = () => statSync(this.server.workspace).size;
    const journal = () => statSync(`${this.server.workspace}-wal`).size;
    const full = size();
    let mostJournal = 0;
    const begun = performance.now();
    await client.ask('DELETE', `/api/recordings/${id}`);
    const times = await this.editingUntil(() => {
      mostJournal = Math.max(mostJournal, journal());
      return size() < full - gigabytes * 0.95e9;
    });
    const what = `a recording of ${gigabytes} GB removed`;
    const took = seconds(performance.now() - begun);
    return [
      this.editRow(`edits while ${what}`, times, `its room given back after ${took}`),
      {
        what: `the disk's room used meanwhile, ${what}`,
        figure: `${Math.round(mostJournal / 1e6)} MB`,
        beside: 'the journal at its largest',
        floor: '100 MB',
        met: mostJournal < 100e6,
      },
    ];
  }

  async longExport(): Promise<Row[]> {
    const { client } = this;
    const rate = 44100;
    const frames = 40 * 60 * rate;
    async function* pieces() {
      yield wavHeader({ encoding: 's16', sampleRate: rate, channelCount: 2 }, frames);
      const piece = new Uint8Array(1 << 20).fill(3);
      for (let at = 0; at < frames * 4; at += piece.length)
        yield piece.subarray(0, Math.min(piece.length, frames * 4 - at));
    }
    const { body } = await client.stream('/api/recordings?name=forty.wav', pieces());
    const { recordingId } = body as { recordingId: string };
    const value = {
      ...HIT_INITIAL,
      name: 'Long',
      family: null,
      recordingId,
      startFrame: 0,
      endFrame: frames,
      sliceId: null,
    };
    await client.edit('kit', [
      { op: 'create', doc: 'hit', id: 'hit-long-0001', value },
      { op: 'create', doc: 'kit', id: 'kit-long-0001', value: { name: 'Long' } },
      {
        op: 'create',
        doc: 'pad',
        id: 'pad-long-0001',
        value: { ...PAD_INITIAL, kitId: 'kit-long-0001', position: 0, name: 'Long', family: null },
      },
      {
        op: 'create',
        doc: 'layer',
        id: 'layer-long-1',
        value: { ...LAYER_INITIAL, padId: 'pad-long-0001', hitId: 'hit-long-0001', position: 0 },
      },
    ]);
    await this.quiet();
    const before = this.memoryMb();
    let most = before;
    let over = false;
    const begun = performance.now();
    // Read by a process of its own: this one measures.
    const address = `${this.server.address}/api/kits/kit-long-0001/export?for=self`;
    const read = `fetch('${address}').then(async (answer) => { for await (const _ of answer.body); })`;
    spawn(process.execPath, ['-e', read], { stdio: 'ignore' }).on('exit', () => {
      over = true;
    });
    const watching = setInterval(() => {
      most = Math.max(most, this.memoryMb());
    }, 200);
    const times = await this.editingUntil(() => over);
    clearInterval(watching);
    const took = seconds(performance.now() - begun);
    return [
      this.editRow('edits while a pad of 40 minutes is exported', times, `the export took ${took}`),
      {
        what: 'memory that exporting a pad of 40 minutes takes',
        figure: `${Math.round(most - before)} MB`,
        beside: `${Math.round(before)} MB before`,
        floor: '150 MB',
        met: most - before < 150,
      },
    ];
  }

  private async editingUntil(over: () => boolean): Promise<number[]> {
    const times: number[] = [];
    while (!over()) {
      const id = `kit-${String(++this.made).padStart(8, '0')}`;
      const at = performance.now();
      await this.client.edit('a kit', [{ op: 'create', doc: 'kit', id, value: { name: id } }]);
      times.push(performance.now() - at);
      await new Promise((resolve) => setTimeout(resolve, 5));
    }
    return times;
  }

  private editRow(what: string, times: readonly number[], beside: string): Row {
    const slow = p95(times);
    return {
      what: `${what}, 95 %`,
      figure: `${slow.toFixed(1)} ms`,
      beside: `${times.length} edits, longest ${Math.max(...times).toFixed(0)} ms; ${beside}`,
      floor: `${MOST_EDIT_MS} ms`,
      met: slow < MOST_EDIT_MS,
    };
  }

  /** Until idle threads have ended and given their memory back. */
  private async quiet(): Promise<void> {
    const looks: number[] = [];
    while (looks.length < 3 || Math.max(...looks.slice(-3)) - Math.min(...looks.slice(-3)) > 2) {
      await new Promise((resolve) => setTimeout(resolve, 5000));
      looks.push(this.memoryMb());
    }
  }

  private memoryMb(): number {
    return Number(/VmRSS:\s+(\d+)/.exec(readFileSync(`/proc/${this.server.pid}/status`, 'utf8'))?.[1]) / 1024;
  }
}

/** Lists of ten thousand, over the wire: the first rows, and what is sent after one of them has changed. */
async function listRows(folder: string): Promise<Row[]> {
  const path = join(folder, 'lists.db');
  const db = openWorkspace(path);
  manyRows(db, 10_000);
  // Listened to by a later method, so that nothing is listened to now.
  db.prepare("INSERT INTO analysis (recording_id, version, candidates) SELECT id, 99, x'' FROM recording").run();
  db.close();
  const server = await startServer(path);
  const client = new Client(server.address);
  const rows: Row[] = [];
  for (const list of ['hits', 'recordings'] as const) {
    const times = { first: [] as number[], since: [] as number[] };
    let page = await client.get<ListPage<{ id: string; rev: number }>>(`/api/${list}?paged=yes`);
    for (let n = 0; n < 20; n++) {
      let at = performance.now();
      page = await client.get(`/api/${list}?paged=yes`);
      times.first.push(performance.now() - at);
      const doc = list === 'hits' ? 'hit' : 'recording';
      const set = list === 'hits' ? { name: `Other ${n}` } : { title: `Other ${n}` };
      const row = page.rows[5] as { id: string; rev: number };
      await client.edit('renamed', [{ op: 'update', doc, id: row.id, rev: row.rev, set }]);
      at = performance.now();
      const changed = await client.get<ListPage<unknown>>(`/api/${list}?paged=yes&since=${page.cursor}`);
      times.since.push(performance.now() - at);
      if (changed.rows.length !== 1) throw new Error(`${changed.rows.length} rows were sent for one that changed.`);
    }
    rows.push(
      {
        what: `${list} of 10,000: first rows`,
        figure: `${median(times.first).toFixed(1)} ms`,
        beside: `95 % ${p95(times.first).toFixed(1)} ms, ${page.rows.length} rows`,
        floor: '50 ms',
        met: p95(times.first) < 50,
      },
      {
        what: `${list} of 10,000: after one has changed`,
        figure: `${median(times.since).toFixed(1)} ms`,
        beside: '1 row is sent',
        floor: '50 ms',
        met: p95(times.since) < 50,
      },
    );
  }
  await server.kill();
  return rows;
}
