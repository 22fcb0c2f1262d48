import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { createdGroove } from '@/contract/groove-changes';
import type { GrooveView } from '@/contract/views';
import { lengthened } from '@/core/groove/bars';
import type { GrooveNote, GrooveRow } from '@/core/groove/model';
import { NOTE_INITIAL } from '@/core/groove/parameters';
import { STARTERS, starterGroove } from '@/core/groove/starters';
import { barTicks, grooveTicks } from '@/core/groove/time';
import { noteOfPlace } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { PAD_INITIAL } from '@/core/kit/parameters';
import { applyToGroove } from '../data/apply';
import { drawnLines, drawnStrokes } from './drawn';
import { barsChanged, noteChanges, placed } from './edits';
import { shownRows } from './rows';

let made = 0;
const newId = () => `made-${String(++made).padStart(5, '0')}`;
const meters = [{ bar: 0, beats: 4, beatUnit: 4 as const }];

const pad = (position: number, name: string, family: Pad['family'], set: Partial<Pad> = {}): Stored<Pad> => ({
  ...PAD_INITIAL,
  ...{ id: `pad-${position}`, rev: 1, kitId: 'kit-1', position, name, family },
  ...set,
});
const row = (id: string, note: number, set: Partial<GrooveRow> = {}): Stored<GrooveRow> => ({
  ...{ id, rev: 1, grooveId: 'groove-1', position: 0, role: '', note, family: null, muted: false, alone: false },
  ...set,
});
const note = (rowId: string, tick: number): Stored<GrooveNote> => ({
  ...{ id: `note-${rowId}-${tick}`, rev: 1, rowId, tick, length: 240, ...NOTE_INITIAL },
});
const view = (rows: GrooveView['rows'], notes: GrooveView['notes']): GrooveView => ({
  groove: { id: 'groove-1', rev: 1, name: 'Night', bars: 2, meters, bpm: 94, swing: 0.5, swingOf: 16 },
  rows,
  notes,
  lanes: [],
});
const PADS = [pad(0, 'Barrel', 'kick'), pad(8, 'Sack', 'snare'), pad(16, 'Shears', 'closed hat')];

describe('rows', () => {
  test('lie as the pads lie, a pad without a row too; what no pad has comes last, and stays while it has notes', () => {
    const lost = row('lost', 99, { role: 'Bell', family: 'percussion' });
    const rows = [row('kick', noteOfPlace(0)), lost, row('empty', 98)];
    const shown = shownRows(view(rows, [note('kick', 0), note('lost', 480)]), PADS, false);
    expect(shown.map(({ name, pad: own }) => [name, own?.position ?? null])).toEqual([
      ['Shears', 16],
      ['Sack', 8],
      ['Barrel', 0],
      ['Bell', null],
    ]);
    expect(shown[3]).toMatchObject({ isSubstitute: true });
    expect(shownRows(view(rows, [note('kick', 0)]), PADS, true).map(({ name }) => name)).toEqual(['Barrel']);
  });

  test('a new pad has a row by itself, and one of the family stands in for a lost one', () => {
    const rows = [row('snare', 77, { family: 'snare' })];
    const shown = shownRows(view(rows, [note('snare', 0)]), [...PADS, pad(20, 'New', 'cymbal')], false);
    expect(shown.map(({ name }) => name)).toContain('New');
    expect(shown.at(-1)).toMatchObject({ name: 'note 77', isSubstitute: true, pad: PADS[1] });
  });
});

describe('edits', () => {
  test('a first note makes its row; further ones use it', () => {
    const empty = view([], []);
    const [shown] = shownRows(empty, PADS.slice(0, 1), false);
    if (!shown) throw new Error('no row');
    const value = { tick: 240, length: 240, ...NOTE_INITIAL, velocity: 90 };
    const after = applyToGroove(empty, placed(empty, shown, value, newId));
    expect(after.rows).toMatchObject([{ note: noteOfPlace(0), family: 'kick' }]);
    expect(after.notes).toMatchObject([{ rowId: after.rows[0]?.id, ...value }]);
    const [again] = shownRows(after, PADS.slice(0, 1), false);
    const changes = placed(after, again as typeof shown, { ...value, tick: 480 }, newId);
    expect(changes.map(({ op, doc }) => `${op} ${doc}`)).toEqual(['create grooveNote']);
  });

  test('only what differs is changed, and undone bars are what they were', () => {
    const before = view([row('kick', 36)], [note('kick', 0), note('kick', 3840)]);
    const [first, second] = before.notes as [Stored<GrooveNote>, Stored<GrooveNote>];
    expect(noteChanges(before.notes, before.notes)).toEqual([]);
    expect(noteChanges(before.notes, [{ ...first, velocity: 50 }])).toEqual<Change[]>([
      { op: 'remove', doc: 'grooveNote', id: second.id, rev: 1 },
      { op: 'update', doc: 'grooveNote', id: first.id, rev: 1, set: { velocity: 50 } },
    ]);
    const long = applyToGroove(before, barsChanged(before, lengthened(before, 4, newId)));
    expect(long.groove.bars).toBe(4);
    expect(long.notes.map(({ tick }) => tick)).toEqual([0, 3840, 7680, 11_520]);
    const back = applyToGroove(long, barsChanged(long, lengthened(long, 2, newId)));
    expect(back.notes).toEqual(before.notes);
  });
});

test('every starter is whole bars of notes with roles, and is stored with ids of its own', () => {
  for (const starter of STARTERS) {
    const whole = starterGroove(starter, newId);
    expect(whole.notes.length).toBeGreaterThan(3);
    expect(whole.rows.every(({ role, family }) => role !== '' && family !== null)).toBe(true);
    for (const { tick } of whole.notes) expect(tick).toBeLessThan(grooveTicks(whole.groove));
    // No row breaks off within a bar.
    const bar = barTicks(whole.groove.meters[0] as (typeof meters)[number]);
    for (const steps of Object.values(starter.rows))
      expect((steps.length * 960) / (starter.perQuarter ?? 4) / bar).toBeCloseTo(
        Math.round((steps.length * 960) / (starter.perQuarter ?? 4) / bar),
        6,
      );
    const { changes } = createdGroove(whole, newId);
    expect(new Set(changes.map(({ id }) => id)).size).toBe(changes.length);
  }
});

test('a roll is drawn as its strokes within its length, a bar has lines of beats and steps', () => {
  const groove = view([], []).groove;
  const rolled = { ...note('kick', 0), length: 960, strokes: 4, ramp: 1 };
  const strokes = drawnStrokes([rolled], 240, 0.1);
  expect(strokes.map(({ x }) => x)).toEqual([1, 25, 49, 73]);
  expect(strokes.map(({ height }) => height)).toEqual([...strokes.map(({ height }) => height)].sort((a, b) => a - b));
  const lines = drawnLines(groove, [0, 3840, 7680], 240, 0.1);
  expect(lines.filter(({ kind }) => kind === 'bar')).toHaveLength(3);
  expect(lines.filter(({ kind }) => kind === 'beat')).toHaveLength(6);
  expect(lines.filter(({ kind }) => kind === 'step')).toHaveLength(24);
  // Narrow steps have no lines.
  expect(drawnLines(groove, [0, 3840, 7680], 240, 0.01).filter(({ kind }) => kind === 'step')).toHaveLength(0);
});
