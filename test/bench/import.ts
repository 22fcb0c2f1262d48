import { execFileSync } from 'node:child_process';
import { createReadStream, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { type Server, startServer } from '../harness';
import { Client } from '../server/client';
import { writeLongWav } from './audio';
import { median, p95, type Row, seconds, timed } from './rows';

/** Highest resident memory of a process so far, in MB, as Linux counts it. */
function peakMemoryMb(pid: number): number {
  const kb = /VmHWM:\s+(\d+) kB/.exec(readFileSync(`/proc/${pid}/status`, 'utf8'))?.[1];
  return Number(kb) / 1024;
}

/** What an hour of stereo 48 kHz 24-bit sound comes in as; the lossy ones are decoded to floats. */
const KINDS = [
  { name: 'hour.wav', encode: [] },
  { name: 'hour.flac', encode: ['-c:a', 'flac', '-sample_fmt', 's32'] },
  { name: 'hour.mp3', encode: ['-c:a', 'libmp3lame', '-b:a', '256k'] },
  { name: 'hour.m4a', encode: ['-c:a', 'aac', '-aac_coder', 'fast', '-b:a', '256k'] },
] as const;

/** Hours of sound come in one after another while another client edits; beside each ffmpeg decodes the same file to nowhere. */
export async function importRows(folder: string): Promise<{ rows: Row[]; workspace: string }> {
  const source = join(folder, 'hour.wav');
  writeLongWav(source, { seconds: 3600, sampleRate: 48000, channelCount: 2, encoding: 's24' });
  for (const { name, encode } of KINDS) {
    const ffmpeg = ['-v', 'error', '-y', '-i', source, '-af', 'volume=0.9', ...encode, join(folder, name)];
    if (encode.length > 0) execFileSync('ffmpeg', ffmpeg);
  }
  const server = await startServer(join(folder, 'hour.db'));
  const client = new Client(server.address);
  const kit = { op: 'create', doc: 'kit', id: 'kit-bench-0001', value: { name: 'Bench' } } as const;
  await client.edit('made a kit', [kit]);
  let edits = 0;
  const rename = async () => {
    const name = `Bench ${++edits}`;
    const rev = client.rev('kit', kit.id);
    const start = performance.now();
    await client.edit('renamed', [{ op: 'update', doc: 'kit', id: kit.id, rev, set: { name } }]);
    return performance.now() - start;
  };
  const alone: number[] = [];
  for (let i = 0; i < 40; i++) alone.push(await rename());
  const rows: Row[] = [];
  for (const { name } of KINDS)
    rows.push(...(await importOne(server, client, join(folder, name), name, rename, alone)));
  await server.kill();
  return { workspace: server.workspace, rows };
}

/** A workspace with an hour of mono at 22.05 kHz, analysed: for measuring the page alone. */
export async function hourOfMono(folder: string): Promise<string> {
  const source = join(folder, 'mono.wav');
  writeLongWav(source, { seconds: 3600, sampleRate: 22050, channelCount: 1, encoding: 's16' });
  const server = await startServer(join(folder, 'mono.db'));
  const client = new Client(server.address);
  const answer = await client.stream('/api/recordings?name=mono.wav', createReadStream(source));
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  await analysed(client, (answer.body as { recordingId: string }).recordingId);
  await server.kill();
  return server.workspace;
}

/** Waits until a recording has been listened to for onsets. */
export async function analysed(client: Client, id: string): Promise<void> {
  while (!(await client.recordings()).find((r) => r.id === id)?.analysed) await new Promise((r) => setTimeout(r, 200));
}

async function importOne(
  server: Server,
  client: Client,
  path: string,
  name: string,
  rename: () => Promise<number>,
  alone: readonly number[],
): Promise<Row[]> {
  const reference = timed(() => execFileSync('ffmpeg', ['-v', 'error', '-i', path, '-f', 'f32le', '-y', '/dev/null']));
  const start = performance.now();
  let done = false;
  const importing = client
    .stream(`/api/recordings?name=${name}`, createReadStream(path, { highWaterMark: 1 << 18 }))
    .finally(() => {
      done = true;
    });
  const during: number[] = [];
  while (!done) {
    during.push(await rename());
    await new Promise((r) => setTimeout(r, 50));
  }
  const answer = await importing;
  if (answer.status !== 200) throw new Error(JSON.stringify(answer.body));
  const took = performance.now() - start;
  const id = (answer.body as { recordingId: string }).recordingId;
  const analysing = performance.now();
  await analysed(client, id);
  const listened = performance.now() - analysing;
  const memory = peakMemoryMb(server.pid);
  const megabytes = statSync(path).size / 1e6;
  return [
    {
      what: `import of 60 min stereo 48 kHz, ${name}`,
      figure: seconds(took),
      beside: `${megabytes.toFixed(0)} MB; ffmpeg to nowhere ${seconds(reference)}, ratio ${(took / reference).toFixed(1)}; analysis ${seconds(listened)}`,
      floor: 'streaming, cancellable',
      met: null,
    },
    {
      what: '  server memory at its highest so far, analysis included',
      figure: `${memory.toFixed(0)} MB`,
      beside: '',
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
  ];
}
