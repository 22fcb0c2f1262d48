import { execFileSync } from 'node:child_process';
import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { readWav, writeWav } from '../../src/core/format/wav';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { demoRecordings } from '../../src/demo/scenario';
import { aubioOnsets } from '../accuracy/aubio';
import { TUNING } from '../accuracy/fonts';
import { makeItem } from '../accuracy/items';
import { GROUPS } from '../accuracy/patterns';
import { addScores, COUNTED_FROM_DB, fMeasure, quantile, score } from '../accuracy/score';
import { remove, scratch, undercroft } from '../harness';

/**
 * A small accuracy set beside aubio's onset tool, so that a change which spoils detection fails the tests. The figures
 * that count are those of `npm run accuracy`, on fonts that were never tuned on.
 */ const folder = scratch();
afterAll(() => remove(folder));

test('detection is as good as it was, and better than aubio, on one item of each group', () => {
  const items = GROUPS.map((group) => makeItem('tim', TUNING.tim as readonly string[], group, 1, folder));
  const ours = items.map((item) =>
    selectOnsets(detectOnsets(item.samples, item.sampleRate), SPLIT_INITIAL, item.sampleRate).map(
      (o) => o.frame / item.sampleRate,
    ),
  );
  const theirs = items.map((item) => aubioOnsets(item.wavPath, []));
  const strokes = (found: readonly (readonly number[])[], windowS: number) =>
    addScores(items.map((item, i) => score(found[i] as readonly number[], item.truth, windowS)));
  const allNotes = (found: readonly (readonly number[])[]) =>
    addScores(
      items.map((item, i) =>
        score(found[i] as readonly number[], item.truthOfAll, 0.05, (t) => t.raisesDb >= COUNTED_FROM_DB),
      ),
    );
  const sum = strokes(ours, 0.05);
  expect(fMeasure(sum)).toBeGreaterThan(0.97);
  expect(fMeasure(allNotes(ours))).toBeGreaterThan(fMeasure(allNotes(theirs)));
  for (const windowS of [0.005, 0.002])
    expect(fMeasure(strokes(ours, windowS))).toBeGreaterThan(fMeasure(strokes(theirs, windowS)) + 0.1);
  const errors = sum.errorsMs.map(Math.abs);
  expect(quantile(errors, 0.5)).toBeLessThan(0.3);
  expect(quantile(errors, 0.95)).toBeLessThan(3.5);
});

describe('the demo recordings, by the command line', () => {
  const demo = demoRecordings();
  test.each(demo.map((r) => [r.title, r] as const))('%s: its slices rebuild it bit for bit', (_, recording) => {
    const wav = join(folder, recording.fileName);
    writeFileSync(wav, writeWav(recording.audio, recording.encoding));
    const out = join(folder, 'kits');
    const told = JSON.parse(undercroft('kit', wav, '--out', out, '--formats', 'wav,sfz,bundle', '--json')) as {
      slices: number;
      pads: number;
      identical: boolean;
      residualDb: number | null;
    };
    expect(told).toMatchObject({ identical: true, residualDb: null });
    expect(told.slices).toBeGreaterThan(3);
    if (told.slices > told.pads) return;
    // An outside check where every slice has a pad: SoX joins the files end to end, and they are the source's own bytes.
    const folderName = recording.fileName.replace('.wav', '').replaceAll('_', ' ');
    const files = execFileSync('find', [join(out, folderName, 'samples'), '-name', '*.wav'], { encoding: 'utf8' })
      .trim()
      .split('\n')
      .sort();
    const joined = join(folder, 'joined.wav');
    execFileSync('sox', [...files, joined]);
    const [a, b] = [wav, joined].map((path) => readWav(readFileSync(path)).audio);
    expect(b).toEqual(a);
  });

  test('onsets are told one JSON object a file, with frames, seconds and slices; a file that fails is named', () => {
    const wav = join(folder, 'sluice.wav');
    const recording = demo[0];
    if (!recording) throw new Error('no demo recording');
    writeFileSync(wav, writeWav(recording.audio, recording.encoding));
    const told = JSON.parse(undercroft('onsets', wav, '--json')) as {
      sampleRate: number;
      frames: number;
      onsets: { frame: number; seconds: number }[];
      slices: { startFrame: number; endFrame: number }[];
    };
    expect(told).toMatchObject({ sampleRate: 44100, frames: recording.audio.channels[0]?.length });
    expect(told.slices).toHaveLength(told.onsets.length);
    for (const [i, onset] of told.onsets.entries()) {
      expect(onset.seconds).toBeCloseTo(onset.frame / 44100, 9);
      expect(told.slices[i]?.startFrame).toBe(onset.frame);
    }
    const broken = join(folder, 'broken.wav');
    writeFileSync(broken, 'no sound');
    const failing = () => undercroft('onsets', broken, wav, '--json');
    expect(failing).toThrow(/broken\.wav: This is not a sound file that can be read/);
    expect(() => undercroft('onsets', wav, '--sensitivity', '7')).toThrow(/between 0 and 1; it was 7/);
  });
});
