import { execFileSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { joinBytes } from '../../src/core/bytes';
import { decodeFrames, type PcmFormat } from '../../src/core/format/pcm';
import { decodeFile } from '../../src/server/importing/decoding/decode-file';
import { type MadeFile, makeFiles } from './files';

/**
 * `npm run formats`: every kind of file against what it was made of and against ffmpeg's decoding of the same file.
 * Lossless kinds must be equal bit for bit to both; for lossy ones the start offset against the source and the level of
 * the difference from ffmpeg's decoding are told.
 */
export interface Row {
  readonly file: string;
  readonly kind: string;
  readonly frames: number;
  readonly sourceFrames: number;
  readonly exact: boolean | null;
  /** Frames by which the sound lies late against its source; lossy only. */
  readonly offset: number | null;
  /** Level of the difference from ffmpeg's decoding against its level, in dB. */
  readonly againstFfmpegDb: number;
  readonly warnings: readonly string[];
}

async function main(): Promise<void> {
  const folder = mkdtempSync(join(tmpdir(), 'undercroft-formats-'));
  const rows: Row[] = [];
  for (const made of makeFiles(folder, 3)) rows.push(await compare(made));
  rmSync(folder, { recursive: true });
  if (process.argv.includes('--json')) console.log(JSON.stringify(rows));
  else print(rows);
  const wrong = rows.filter((r) => r.exact === false);
  if (wrong.length > 0) process.exitCode = 1;
}

async function compare(made: MadeFile): Promise<Row> {
  const pieces: Uint8Array[] = [];
  let format: PcmFormat | null = null;
  const findings = await decodeFile(made.path, {
    begin: (f) => {
      format = f;
    },
    take: (bytes) => pieces.push(bytes.slice()),
  });
  const { encoding, channelCount, sampleRate } = format as unknown as PcmFormat;
  const bytes = joinBytes(pieces);
  const ours = decodeFrames(encoding, bytes, channelCount);
  const channels = String(channelCount);
  const raw = (path: string, ...args: string[]) => {
    const to = ['-f', 'f32le', '-ac', channels, '-ar', String(sampleRate), '-'];
    const out = execFileSync('ffmpeg', ['-v', 'error', '-i', path, ...args, ...to], { maxBuffer: 1e9 });
    return decodeFrames('f32', new Uint8Array(out), channelCount);
  };
  const reference = raw(made.path);
  const source = raw(made.source);
  const [a, b, s] = [ours, reference, source].map((c) => c[0] as Float32Array) as [
    Float32Array,
    Float32Array,
    Float32Array,
  ];
  const same = (x: readonly Float32Array[], y: readonly Float32Array[]) =>
    x.every((channel, c) => channel.length === y[c]?.length && channel.every((v, i) => v === y[c]?.[i]));
  return {
    file: made.name,
    kind: `${findings.kind} ${encoding}`,
    frames: a.length,
    sourceFrames: s.length,
    exact: made.lossless ? same(ours, source) && same(ours, reference) : null,
    offset: made.lossless ? null : lateBy(a, s),
    againstFfmpegDb: difference(a, b),
    warnings: findings.warnings,
  };
}

/** The shift at which a decoded sound fits its source best, by the product of both over the noise in its middle. */
function lateBy(decoded: Float32Array, source: Float32Array): number {
  const from = Math.round(source.length * 0.55);
  const length = 8000;
  let best = { shift: 0, sum: Number.NEGATIVE_INFINITY };
  for (let shift = -3000; shift <= 3000; shift++) {
    let sum = 0;
    for (let i = from; i < from + length; i++) sum += (decoded[i + shift] ?? 0) * (source[i] as number);
    if (sum > best.sum) best = { shift, sum };
  }
  return best.shift;
}

/**
 * Difference from the reference in dB of its level over the plucked half, at the shift that fits best (some decoders keep
 * a first frame). Not over the noise: AAC replaces it by noise of each decoder's own.
 */
function difference(ours: Float32Array, reference: Float32Array): number {
  const at = lateBy(ours, reference);
  let error = 0;
  let level = 0;
  for (let i = 3000; i < reference.length * 0.45; i++) {
    const x = ours[i + at];
    if (x === undefined) continue;
    error += (x - (reference[i] as number)) ** 2;
    level += (reference[i] as number) ** 2;
  }
  return error === 0 ? Number.NEGATIVE_INFINITY : 10 * Math.log10(error / level);
}

function print(rows: readonly Row[]): void {
  const line = (...cells: string[]) =>
    console.log(cells.map((c, i) => c.padEnd([18, 12, 18, 12, 12, 16][i] ?? 0)).join(''));
  line('file', 'stored as', 'frames (source)', 'bit for bit', 'late by', 'against ffmpeg', 'said');
  for (const r of rows) {
    line(
      r.file,
      r.kind,
      `${r.frames} (${r.sourceFrames})`,
      r.exact === null ? '-' : r.exact ? 'yes' : 'NO',
      r.offset === null ? '-' : `${r.offset}`,
      Number.isFinite(r.againstFfmpegDb) ? `${r.againstFfmpegDb.toFixed(1)} dB` : 'equal',
      r.warnings.join(' '),
    );
  }
}

void main();
