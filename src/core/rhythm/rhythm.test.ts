import { TOLD_FAMILIES, type ToldFamily } from '../describe/family';
import type { Hearing, ListenedSlice } from '../describe/hearing';
import type { Candidate } from '../onset/detect';
import { rhythmOf } from './rhythm';
import { type Stroke, strokesHeard } from './stroke';

const RATE = 44100;
const UNSAID = { tempoBpm: null, downbeatFrame: null, beats: 4, beatUnit: 4 };

const certain = (family: ToldFamily) => TOLD_FAMILIES.map((f) => (f === family ? 1 : 0));

/** Strokes at places in quarter notes, `from` seconds into the recording. */
function played(
  list: readonly (readonly [quarters: number, family: ToldFamily, db: number])[],
  bpm: number,
  from = 0.5,
) {
  const strokes = list.map(([quarters, family, peakDb], i): Stroke => {
    const frame = Math.round((from + (quarters * 60) / bpm) * RATE);
    return { frame, group: i % 3, peakDb, families: certain(family) };
  });
  const onsets = strokes.map(
    ({ frame, peakDb, families }): Candidate => ({
      frame,
      strength: 1,
      decayEnd: frame + 4000,
      peak: 10 ** (peakDb / 20),
      low: families[0] as number,
      mid: 0.3,
      high: 0.3,
      click: false,
    }),
  );
  return { strokes, onsets, frames: (strokes.at(-1)?.frame ?? 0) + RATE };
}

/** Bars of kick, snare and off-beat kicks, begun on a beat of the bar. */
function backbeat(bars: number, bpm: number, begin = 0, from?: number) {
  const list = Array.from({ length: bars }, (_, bar) => [
    [bar * 4, 'kick', -6] as const,
    [bar * 4, 'cymbal', -9] as const,
    [bar * 4 + 1, 'snare', -8] as const,
    [bar * 4 + 1.5, 'kick', -10] as const,
    [bar * 4 + 2.5, 'kick', -8] as const,
    [bar * 4 + 3, 'snare', -8] as const,
    [bar * 4 + 3.5, 'tom', -8] as const,
  ])
    .flat()
    .filter(([quarters]) => quarters >= begin);
  return played(list, bpm, from);
}

test.each([94, 120, 148])('kick and snare that take turns tell the octave of the tempo: %d', (bpm) => {
  const { strokes, onsets, frames } = backbeat(4, bpm);
  const rhythm = rhythmOf(strokes, onsets, UNSAID, RATE, frames);
  expect(rhythm.bpm).toBeCloseTo(bpm, 0);
  expect(rhythm.octaves).toHaveLength(3);
  expect(rhythm.octaves.reduce((sum, { share }) => sum + share, 0)).toBeCloseTo(1, 9);
  expect(rhythm.bpmConfidence).toBe(rhythm.octaves[0]?.share);
  // The same strokes at odd times are in no tempo.
  const odd = strokes.map((s, i) => ({ ...s, frame: s.frame + ((i * 7919) % 13000) }));
  expect(rhythmOf(odd, onsets, UNSAID, RATE, frames).bpmConfidence).toBeLessThan(0.3);
});

test.each([0, 1, 2, 3])('the first bar is told where a recording begins on beat %d of one', (begin) => {
  const { strokes, onsets, frames } = backbeat(6, 100, begin);
  const { downbeatFrame } = rhythmOf(strokes, onsets, { ...UNSAID, tempoBpm: 100 }, RATE, frames);
  const quarters = ((downbeatFrame / RATE - 0.5) * 100) / 60;
  expect(quarters).toBeCloseTo(begin === 0 ? 0 : 4, 1);
});

test('what a person says goes before what is estimated', () => {
  const { strokes, onsets, frames } = backbeat(4, 100);
  const said = { tempoBpm: 50, downbeatFrame: 1234, beats: 3, beatUnit: 8 };
  const rhythm = rhythmOf(strokes, onsets, said, RATE, frames);
  expect(rhythm).toMatchObject({
    bpm: 50,
    bpmConfidence: 1,
    downbeatFrame: 1234,
    downbeatConfidence: 1,
    beats: 3,
    beatUnit: 8,
  });
});

test('notes tell where in quarters, which drum and how hard against the loudest', () => {
  const { strokes, onsets, frames } = played(
    [
      [0, 'kick', -6],
      [1, 'snare', -12],
      [2, 'kick', -6],
      [3, 'snare', -26],
      [4, 'kick', -6],
    ],
    120,
  );
  const { notes } = rhythmOf(
    strokes,
    onsets,
    { ...UNSAID, tempoBpm: 120, downbeatFrame: strokes[0]?.frame ?? 0 },
    RATE,
    frames,
  );
  expect(notes.map((n) => Number(n.quarters.toFixed(3)))).toEqual([0, 1, 2, 3, 4]);
  expect(notes.map((n) => n.group)).toEqual([0, 1, 2, 0, 1]);
  expect(notes[1]?.velocity).toBeCloseTo(0.501, 3);
  expect(notes[3]?.velocity).toBeCloseTo(0.1, 3);
});

test('a family that a person said of one slice is certain for its whole shelf', () => {
  const unsure = Float64Array.from(TOLD_FAMILIES, () => 1 / TOLD_FAMILIES.length);
  const listened = (startFrame: number, family: 'kick' | 'voice' | null) =>
    ({ startFrame, family, figures: { peakDb: -6 }, chances: { main: unsure } }) as unknown as ListenedSlice;
  const slices = [listened(300, 'kick'), listened(100, null), listened(200, null), listened(400, 'voice')];
  const shelves = [
    { members: [0, 1], family: 'kick' },
    { members: [2], family: 'tom' },
    { members: [3], family: 'voice' },
  ];
  const strokes = strokesHeard(slices, { shelves } as unknown as Hearing);
  expect(strokes.map((s) => s.frame)).toEqual([100, 200, 300, 400]);
  expect(strokes[0]?.families).toEqual(certain('kick'));
  expect(strokes[1]?.families).toBe(unsure);
  expect(strokes[2]?.families).toEqual(certain('kick'));
  // A voice is none of the families that tell time.
  expect(Array.from(strokes[3]?.families ?? []).every((chance) => chance === 0)).toBe(true);
});

test('too few strokes have no tempo, and no strokes no notes', () => {
  const { strokes, onsets, frames } = played([[0, 'kick', -6]], 120);
  expect(rhythmOf(strokes, onsets, UNSAID, RATE, frames)).toMatchObject({ bpm: null, octaves: [], bpmConfidence: 0 });
  expect(rhythmOf([], [], UNSAID, RATE, RATE).notes).toEqual([]);
});

test('the tempo written with a recording tells the octave where it agrees with one, and is not believed where it is another', () => {
  const { strokes, onsets, frames } = played(
    Array.from({ length: 32 }, (_, i) => [i / 2, 'closed hat', -6] as const),
    120,
  );
  const told = (writtenBpm: number | null) => rhythmOf(strokes, onsets, { ...UNSAID, writtenBpm }, RATE, frames);
  const unwritten = told(null);
  const [first, second] = unwritten.octaves;
  const other = told(second?.bpm ?? 0);
  expect(other.bpm).toBeCloseTo(second?.bpm ?? 0, 1);
  expect(other.bpmConfidence).toBeLessThan(1);
  expect(told(first?.bpm ?? 0).bpmConfidence).toBeGreaterThan(unwritten.bpmConfidence);
  expect(told(97)).toEqual(unwritten);
});
