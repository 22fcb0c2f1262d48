import { fork } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { UndercroftError } from '../../src/core/errors';
import { decodeFile } from '../../src/server/importing/decoding/decode-file';
import { id3Tag } from '../server/damaged';
import { makeFiles } from './files';
import { fuzzServer } from './fuzz-server';
import { mutate } from './mutate';

/**
 * `npm run fuzz [-- --cases N]`: files of every kind, cut anywhere, with bytes changed, sizes that lie, and stretches taken
 * out or doubled. Each must be read or refused with a reason, within ten seconds and within a bound of memory; a case that
 * hangs or ends the process is named by its kind and number, from which it can be made again. A tenth of them is then sent to a server,
 * beside files that nothing is wrong with.
 */
const CASES = numberAfter('--cases') ?? 2000;
const LONGEST_MS = 10_000;
const MOST_MEMORY = 700e6;
/** A file of a second unfolds to less than a second of sound, or some that a changed header makes of it. */
const MOST_SOUND_BYTES = 64e6;

interface Told {
  readonly type: 'begun' | 'read' | 'refused' | 'fault' | 'done';
  readonly kind: string;
  readonly n: number;
  readonly text?: string;
  readonly memory?: number;
}

async function child(folder: string, kind: string, first: number): Promise<void> {
  const tell = (told: Omit<Told, 'kind'>) => process.send?.({ kind, ...told });
  const good = new Uint8Array(readFileSync(join(folder, kind)));
  const path = join(folder, 'case');
  for (let n = first; n < CASES; n++) {
    tell({ type: 'begun', n });
    writeFileSync(path, n === 0 ? new Uint8Array(0) : mutate(good, n * 7919 + kind.length));
    let bytes = 0;
    try {
      await decodeFile(path, {
        begin: () => {},
        take: (piece) => {
          bytes += piece.length;
          if (bytes > MOST_SOUND_BYTES) throw new UndercroftError('damaged-audio', 'more sound than the file can hold');
        },
      });
      tell({ type: 'read', n });
    } catch (error) {
      if (error instanceof UndercroftError && error.message.length > 10) tell({ type: 'refused', n });
      else tell({ type: 'fault', n, text: (error as Error).stack ?? String(error) });
    }
    if (n % 50 === 0) tell({ type: 'read', n: -1, memory: process.resourceUsage().maxRSS * 1024 });
  }
  tell({ type: 'read', n: -1, memory: process.resourceUsage().maxRSS * 1024 });
  tell({ type: 'done', n: CASES });
  process.disconnect();
}

interface Outcome {
  read: number;
  refused: number;
  faults: string[];
  memory: number;
}

/** Runs one kind in a process of its own, begun anew after a case that ends or hangs it. */
function runKind(folder: string, kind: string): Promise<Outcome> {
  const outcome: Outcome = { read: 0, refused: 0, faults: [], memory: 0 };
  return new Promise((resolve) => {
    const start = (first: number) => {
      const worker = fork(
        process.argv[1] as string,
        ['--child', folder, kind, String(first), '--cases', String(CASES)],
        {
          silent: true,
        },
      );
      let at = first;
      let done = false;
      let since = Date.now();
      const watch = setInterval(() => {
        if (Date.now() - since < LONGEST_MS) return;
        outcome.faults.push(`case ${at}: no end after ${LONGEST_MS / 1000} s`);
        worker.kill('SIGKILL');
      }, 500);
      worker.on('message', (told: Told) => {
        if (told.memory) outcome.memory = Math.max(outcome.memory, told.memory);
        if (told.n < 0) return;
        at = told.n;
        since = Date.now();
        if (told.type === 'read') outcome.read++;
        else if (told.type === 'refused') outcome.refused++;
        else if (told.type === 'fault')
          outcome.faults.push(`case ${at}: ${told.text?.split('\n').slice(0, 3).join(' | ')}`);
        else if (told.type === 'done') done = true;
      });
      worker.on('exit', (code, signal) => {
        clearInterval(watch);
        if (done || outcome.faults.length > 20) {
          resolve(outcome);
          return;
        }
        if (signal !== 'SIGKILL') outcome.faults.push(`case ${at}: the process ended (${code ?? signal})`);
        start(at + 1);
      });
    };
    start(0);
  });
}

async function main(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'undercroft-fuzz-'));
  const wanted = [
    '16-bit.aiff',
    'float.aifc',
    '16-bit.flac',
    '24-bit alac.m4a',
    'delay tag.mp3',
    'no tag.mp3',
    'vorbis.ogg',
    'opus.opus',
    'aac.m4a',
    'bare.aac',
  ];
  const made = makeFiles(folder, 1).filter((f) => wanted.includes(f.name));
  const kinds = ['plain.wav', 'long.wav', 'picture.mp3', ...made.map((f) => f.name)];
  const plain = withMarks(readFileSync(made[0]?.source as string));
  writeFileSync(join(folder, 'plain.wav'), plain);
  plain.set(new TextEncoder().encode('BW64'));
  writeFileSync(join(folder, 'long.wav'), plain);
  // A picture of a megabyte and some padding before the sound.
  const picture = Uint8Array.from({ length: 1e6 }, (_, i) => (i * 7919) >> 5);
  const sound = readFileSync(join(folder, 'delay tag.mp3'));
  writeFileSync(join(folder, 'picture.mp3'), Buffer.concat([id3Tag(picture), new Uint8Array(3000), sound]));
  let failed = false;
  for (const kind of kinds) {
    const begun = performance.now();
    const { read, refused, faults, memory } = await runKind(folder, kind);
    const seconds = (performance.now() - begun) / 1000;
    const over = memory > MOST_MEMORY;
    failed ||= faults.length > 0 || over;
    console.log(
      `${kind.padEnd(18)} ${CASES} cases: ${read} read, ${refused} refused with a reason, ${faults.length} faults; ${(memory / 1e6).toFixed(0)} MB at most${over ? ' (TOO MUCH)' : ''}, ${seconds.toFixed(0)} s`,
    );
    for (const fault of faults.slice(0, 10)) console.log(`  ${fault}`);
  }
  failed = !(await fuzzServer(folder, kinds, Math.ceil(CASES / 10))) || failed;
  rmSync(folder, { recursive: true });
  if (failed) process.exitCode = 1;
}

/** A WAV file with descriptive chunks behind its sound, so that those are bent as well. */
function withMarks(wav: Uint8Array): Uint8Array {
  const chunk = (id: string, ...words: number[]) => {
    const body = new Uint8Array(new Uint32Array(words).buffer);
    return [...new TextEncoder().encode(id), ...new Uint8Array(Uint32Array.of(body.length).buffer), ...body];
  };
  const cue = chunk('cue ', 2, 1, 0, 0x61746164, 0, 0, 500, 2, 0, 0x61746164, 0, 0, 9000);
  const smpl = chunk('smpl', 0, 0, 22675, 60, 0, 0, 0, 1, 0, 0, 0, 100, 9000, 0, 0);
  const info = [
    ...new TextEncoder().encode('LIST'),
    18,
    0,
    0,
    0,
    ...new TextEncoder().encode('INFOINAM'),
    6,
    0,
    0,
    0,
    ...new TextEncoder().encode('Sluice'),
  ];
  return Uint8Array.from([...wav, ...cue, ...smpl, ...info]);
}

function numberAfter(flag: string): number | null {
  const at = process.argv.indexOf(flag);
  return at < 0 ? null : Number(process.argv[at + 1]);
}

const at = process.argv.indexOf('--child');
if (at >= 0) void child(process.argv[at + 1] as string, process.argv[at + 2] as string, Number(process.argv[at + 3]));
else void main();
