import { execFileSync } from 'node:child_process';
import type { Row } from '../formats/table';

/** Runs one of the project's measuring programs; gives what it printed. */
const measure = (...args: string[]) =>
  execFileSync(process.execPath, ['scripts/measure.mjs', ...args], { encoding: 'utf8', maxBuffer: 1e8 });

describe('files of every kind against what they were made of, and against ffmpeg decoding the same file', () => {
  const rows: Row[] = JSON.parse(measure('formats', '--json').trim().split('\n').at(-1) as string);

  test.each(rows.filter((r) => r.exact !== null).map((r) => [r.file, r] as const))(
    '%s: equal bit for bit',
    (_, row) => {
      expect(row).toMatchObject({ exact: true, warnings: [] });
      expect(row.frames).toBe(row.sourceFrames);
    },
  );

  const told = rows.filter((r) => r.exact === null && !/^(no tag|bare)/.test(r.file));
  test.each(told.map((r) => [r.file, r] as const))('%s: at its place and length, the delay taken off', (_, row) => {
    expect(row).toMatchObject({ offset: 0, warnings: [] });
    expect(row.frames).toBe(row.sourceFrames);
    // Decoders of one standard differ by rounding only: 16 bits end at -98 dB. ffmpeg's Opus decoder is another design
    // than libopus; RFC 6716, section 6, asks for less than hearing could tell.
    expect(row.againstFfmpegDb).toBeLessThan(row.kind.startsWith('opus') ? -70 : -100);
  });

  test('where a file does not tell its delay, nothing is cut and that is said', () => {
    const untold = rows.find((r) => r.file === 'no tag.mp3');
    // 576 of the encoder, 528 + 1 of the decoder (LAME's technical FAQ).
    expect(untold?.offset).toBe(1105);
    expect(untold?.warnings.join()).toMatch(/does not tell its encoder's delay.*at least 1105 frames/);
    expect(rows.find((r) => r.file === 'bare.aac')?.warnings.join()).toMatch(/does not tell its encoder's delay/);
  });
});

test('bent files of every kind are read or refused with a reason: 30 seeded cases a kind, 2,000 in `npm run fuzz`', () => {
  const said = measure('fuzz', '--cases', '30');
  const lines = said.split('\n').filter((line) => / cases: /.test(line));
  expect(lines).toHaveLength(14);
  const throughServer = lines.pop();
  for (const line of lines) expect(line).toMatch(/, 0 faults; \d+ MB at most, /);
  expect(throughServer).toMatch(/^through a server: 39 cases: .*, 0 faults; \d+ good files beside them/);
});
