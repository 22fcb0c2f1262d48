import { execFileSync } from 'node:child_process';
import { createReadStream, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { startServer } from '../harness';
import { Client } from '../server/client';
import { writeLongWav } from './audio';
import { median, p95, type Row, seconds, timed } from './rows';

/** Highest resident memory of a process so far, in MB, as Linux counts it. */
function peakMemoryMb(pid: number): number {
  const kb = /VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
  return Number(kb) / 1024;
}

/** An hour of stereo 48 kHz 24-bit sound comes in while another client edits; beside it SoX reads the same file. */
export async function importRows(folder: string): Promise<{ rows: Row[]; workspace: string }> {
  const path = join(folder, 'hour.wav');
  writeLongWav(path, { seconds: 3600, sampleRate: 48000, channelCount: 2, encoding: 's24' });
  const sox = timed(() => execFileSync('sox', [path, '-t', 'raw', '/dev/null']));
  const server = await startServer(join(folder, 'hour.db'));
  const client = new Client(server.address);
  const kit = { op: 'create', doc: 'kit', id: 'kit-bench-0001', value: { name: 'Bench' } } as const;
  await client.edit('made a kit', [kit]);
  const rename = async (n: number) => {
    const change = {
      op: 'update',
      doc: 'kit',
      id: kit.id,
      rev: client.rev('kit', kit.id),
      set: { name: `Bench ${n}` },
    } as const;
    const start = performance.now();
    await client.edit('renamed', [change]);
    return performance.now() - start;
  };
  const alone: number[] = [];
  for (let i = 0; i < 40; i++) alone.push(await rename(i));
  const start = performance.now();
  let done = false;
  const importing = client
    .stream('/api/recordings?name=hour.wav', createReadStream(path, { highWaterMark: 1 << 18 }))
    .then((answer) => {
      done = true;
      return answer;
    });
  const during: number[] = [];
  while (!done) {
    during.push(await rename(1000 + during.length));
    await new Promise((r) => setTimeout(r, 50));
  }
  const answer = await importing;
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  const took = performance.now() - start;
  const id = (answer.body as { recordingId: string }).recordingId;
  const analysing = performance.now();
  for (;;) {
    const recording = (await client.recordings()).find((r) => r.id === id);
    if (recording?.analysed) break;
    await new Promise((r) => setTimeout(r, 200));
  }
  const analysed = performance.now() - analysing;
  const memory = peakMemoryMb(server.pid);
  const megabytes = statSync(path).size / 1e6;
  await server.kill();
  return {
    workspace: server.workspace,
    rows: [
      {
        what: 'import of 60 min stereo 48 kHz 24-bit',
        figure: seconds(took),
        beside: `${(megabytes / (took / 1000)).toFixed(0)} MB/s; sox to nowhere ${seconds(sox)}, ratio ${(took / sox).toFixed(1)}`,
        floor: 'streaming, cancellable',
        met: null,
      },
      {
        what: '  server memory at its highest, analysis included',
        figure: `${memory.toFixed(0)} MB`,
        beside: `file ${megabytes.toFixed(0)} MB; analysis of it ${seconds(analysed)}`,
        floor: 'under 400 MB',
        met: memory < 400,
      },
      {
        what: '  edits meanwhile',
        figure: `${p95(during).toFixed(0)} ms (95 %)`,
        beside: `${during.length} edits, median ${median(during).toFixed(0)} ms; alone ${median(alone).toFixed(0)} ms, 95 % ${p95(alone).toFixed(0)} ms`,
        floor: 'not delayed: under 100 ms',
        met: p95(during) < 100,
      },
    ],
  };
}
