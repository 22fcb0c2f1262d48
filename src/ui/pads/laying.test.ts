import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs, RecordingView } from '@/contract/views';
import type { Family } from '@/core/family';
import { noteOfPlace } from '@/core/kit/layout';
import { generalMidiLayout } from '@/core/kit/layouts';
import type { Pad } from '@/core/kit/model';
import { KIT_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { applyToKit } from '../data/apply';
import { emptyPad, takeInstead } from '../kits/edits';
import { emptiedKit, laidOut } from '../kits/layouts';
import { asPlaced, copyPad, layMany, layStretch, movePad, nameOfStretch, type Stretch } from './laying';

const recording = {
  id: 'rec-00001',
  title: 'Sluice loop',
  sliceCount: 12,
  pattern: '',
  frames: 90_000,
} as RecordingView;
const kit: KitDocs = {
  kit: { ...KIT_INITIAL, id: 'kit-00001', rev: 1, name: 'Kit' },
  pads: [],
  layers: [],
  steps: [],
  buses: [],
  busSteps: [],
  variations: [],
  hits: [],
  recordings: [],
};
let made = 0;
const newId = () => `new-${String(++made).padStart(5, '0')}`;
const stretch = (number: number, family: Family | null, more: Partial<Stretch> = {}): Stretch => ({
  recording,
  startFrame: number * 100,
  endFrame: number * 100 + 90,
  sliceId: null,
  family,
  number,
  ...more,
});
const applied = (view: KitDocs, changes: readonly Change[]) => applyToKit(view, changes, [recording]);
const padAt = (view: KitDocs, position: number) => view.pads.find((p) => p.position === position) as Stored<Pad>;

test('a sound is named by what it is, its source and a number that sorts; unknown families are left out', () => {
  expect(nameOfStretch(stretch(3, 'open hat'))).toBe('Open hat Sluice 03');
  expect(nameOfStretch(stretch(3, null))).toBe('Sluice 03');
  expect(nameOfStretch(stretch(3, 'kick', { also: ['closed hat'] }))).toBe('Kick + closed hat Sluice 03');
  expect(nameOfStretch(stretch(3, 'kick', { title: 'Boom' }))).toBe('Boom');
  const own = { ...recording, pattern: '{number} {family}', sliceCount: 140 };
  expect(nameOfStretch(stretch(3, 'kick', { recording: own }))).toBe('003 Kick');
});

test('what is of no known family is what the pad is for that it is put on by hand', () => {
  expect(asPlaced(stretch(1, null), 18).family).toBe('open hat');
  expect(asPlaced(stretch(1, 'kick'), 18).family).toBe('kick');
  // A guess gives way to the hand unless it is very sure.
  expect(asPlaced(stretch(1, 'kick', { sure: 0.75 }), 18).family).toBe('open hat');
  expect(asPlaced(stretch(1, 'kick', { sure: 0.75 }), 24).family).toBe('kick');
  expect(asPlaced(stretch(1, 'kick', { sure: 0.9 }), 18).family).toBe('kick');
});

test('seven drums lie on their roles notes, in one step', () => {
  const families: Family[] = ['kick', 'snare', 'closed hat', 'open hat', 'tom', 'tom', 'cymbal'];
  const many = layMany(
    kit,
    families.map((family, i) => stretch(i + 1, family)),
    'role',
    newId,
  );
  expect(many.laid.map(({ position }) => noteOfPlace(position))).toEqual([36, 38, 42, 46, 43, 47, 49]);
  const view = applied(kit, many.changes);
  expect(view.pads).toHaveLength(7);
  expect(view.layers).toHaveLength(7);
  expect(view.recordings).toEqual([recording]);
});

test('four from the pad of E on lie on E, F, F sharp, G; what is taken is passed over', () => {
  const four = [1, 2, 3, 4].map((n) => stretch(n, null, { title: `Sound ${n}` }));
  const from = (view: KitDocs) =>
    layMany(view, four, { from: 9 }, newId).laid.map(({ position }) => noteOfPlace(position));
  expect(noteOfPlace(9)).toBe(40);
  expect(from(kit)).toEqual([40, 41, 42, 43]);
  const taken = layStretch(kit, stretch(9, null), 5, 'next', newId);
  expect(noteOfPlace(5)).toBe(41);
  expect(from(applied(kit, taken?.changes ?? []))).toEqual([40, 42, 43, 44]);
});

test('more than the pads hold is told, and nothing is layered', () => {
  const all = Array.from({ length: 136 }, (_, i) => stretch(i + 1, i % 2 ? 'kick' : null));
  const many = layMany(kit, all, 'role', newId);
  expect(many.laid).toHaveLength(128);
  expect(many.left).toBe(8);
  const view = applied(kit, many.changes);
  expect(new Set(view.pads.map((p) => p.position)).size).toBe(128);
  expect(view.layers).toHaveLength(128);
  expect(layMany(view, all, 'role', newId)).toMatchObject({ changes: [], left: 136 });
});

describe('pads', () => {
  const two = layMany(kit, [stretch(1, 'kick'), stretch(2, 'snare')], 'role', newId);
  const view = applied(kit, two.changes);

  test('one moves to an empty place and changes places with one that is not', () => {
    expect(applied(view, movePad(view, 0, 20)).pads.map((p) => [p.name, p.position])).toEqual([
      ['Snare Sluice 02', 8],
      ['Kick Sluice 01', 20],
    ]);
    expect(applied(view, movePad(view, 0, 8)).pads.map((p) => [p.name, p.position])).toEqual([
      ['Snare Sluice 02', 0],
      ['Kick Sluice 01', 8],
    ]);
    expect(movePad(view, 3, 8)).toEqual([]);
  });

  test('a copy plays the same hits under a name of its own, and never lies on another sound', () => {
    const copied = applied(view, copyPad(view, 0, 20, newId));
    expect(copied.pads.map((p) => [p.name, p.position])).toContainEqual(['Kick Sluice 02', 20]);
    expect(copied.layers).toHaveLength(3);
    expect(copied.hits).toHaveLength(2);
    expect(copyPad(view, 0, 8, newId)).toEqual([]);
  });

  test('a swapped take takes its name along, unless a person has named the pad', () => {
    const pad = padAt(view, 0);
    const layer = view.layers.find((l) => l.padId === pad.id);
    const kept = { id: 'var-00001', rev: 1, padId: pad.id, hitId: padHit(view, 8), position: 0 };
    if (!layer) throw new Error('There is no layer.');
    const swapped = takeInstead(view, pad, layer, kept);
    expect(swapped[0]).toMatchObject({ doc: 'pad', set: { name: 'Snare Sluice 02' } });
    expect(takeInstead(view, { ...pad, name: 'Mine' }, layer, kept).some((c) => c.doc === 'pad')).toBe(false);
  });

  const padHit = (of: KitDocs, position: number) =>
    of.layers.find((l) => l.padId === padAt(of, position).id)?.hitId ?? '';
});

test('a pad made by an older version is one of many voices on the note of its place', () => {
  expect(PAD_INITIAL).toMatchObject({ note: null, voices: null });
});

describe('a kit with a layout', () => {
  const roles = applied(kit, laidOut(kit, generalMidiLayout(), newId));
  const roleAt = (view: KitDocs, note: number) =>
    view.pads.find((pad) => pad.note === note || noteOfPlace(pad.position) === note) as Stored<Pad>;

  test('has its roles without sounds; sounds go to the roles of their families, and keep role, note and settings', () => {
    expect(roles.pads).toHaveLength(47);
    expect(roleAt(roles, 42)).toMatchObject({ role: 'Closed hi-hat', name: 'Closed hi-hat', chokeGroup: 1 });
    const drums: Family[] = ['kick', 'kick', 'snare', 'closed hat', 'open hat', 'cymbal'];
    const many = layMany(
      roles,
      drums.map((family, i) => stretch(i + 1, family)),
      'role',
      newId,
    );
    expect(many.left).toBe(0);
    const filled = applied(roles, many.changes);
    expect(filled.pads).toHaveLength(47);
    for (const { position, stretch: of } of many.laid) {
      const pad = padAt(filled, position);
      expect(pad.family).toBe(of.family);
      expect(pad.role).not.toBe('');
      expect(pad.name).toMatch(/Sluice/);
      expect(pad.chokeGroup).toBe(padAt(roles, position).chokeGroup);
    }
    // Emptied, a role stays what it is.
    const first = padAt(filled, many.laid[0]?.position as number);
    const emptied = applied(filled, emptyPad(filled, first));
    expect(padAt(emptied, first.position)).toMatchObject({ role: first.role, name: first.role });
    expect(emptied.layers).toHaveLength(filled.layers.length - 1);
  });

  test('another sound laid on a role leaves the role its name, family and settings', () => {
    const hat = roleAt(roles, 46);
    const laid = layStretch(roles, stretch(5, 'cymbal'), hat.position, 'instead', newId);
    const filled = applied(roles, laid?.changes ?? []);
    expect(padAt(filled, hat.position)).toMatchObject({
      ...{ role: 'Open hi-hat', family: 'open hat', chokeGroup: 1, name: 'Cymbal Sluice 05' },
    });
  });

  test('given to a kit with sounds, these keep theirs; another layout takes empty roles away again', () => {
    const full = applied(kit, layStretch(kit, stretch(1, 'kick'), 0, 'beside', newId)?.changes ?? []);
    const laid = applied(full, laidOut(full, generalMidiLayout(), newId));
    expect(padAt(laid, 0)).toMatchObject({ role: 'Bass drum 1', name: 'Kick Sluice 01' });
    const place = { position: 5, role: 'Only this', family: null, note: 99, settings: { voices: 1 } };
    const other = applied(laid, laidOut(laid, [place], newId));
    expect(other.pads.map(({ position, role }) => [position, role])).toEqual([
      [0, ''],
      [5, 'Only this'],
    ]);
    expect(padAt(other, 5)).toMatchObject({ note: 99, voices: 1 });
  });

  test('without its sounds it is a new kit whose pads have their names as roles', () => {
    const full = applied(kit, layStretch(kit, stretch(1, 'kick'), 0, 'beside', newId)?.changes ?? []);
    const { changes } = emptiedKit(full, 'Kit roles', newId);
    expect(changes.map(({ doc }) => doc)).toEqual(['kit', 'pad']);
    expect(changes[1]).toMatchObject({ op: 'create', value: { role: 'Kick Sluice 01', position: 0 } });
  });
});

test('a kit whose first bank is full goes on in the next one', () => {
  let view = kit;
  for (let n = 0; n < 40; n++) {
    const laid = layStretch(view, stretch(n, 'kick'), null, 'next', newId);
    view = applied(view, laid?.changes ?? []);
  }
  expect(view.pads).toHaveLength(40);
  expect(Math.max(...view.pads.map(({ position }) => position))).toBe(39);
});

test('several sounds replace, join or become takes of what the pads of their family have, in their order; the rest go to free ones', () => {
  const two = layMany(kit, [stretch(1, 'kick'), stretch(2, 'kick')], 'role', newId);
  const filled = applied(kit, two.changes);
  const [first, second] = two.laid.map(({ position }) => position) as [number, number];
  const three = [stretch(3, 'kick'), stretch(4, 'kick'), stretch(5, 'kick')];
  for (const occupied of ['instead', 'beside', 'take'] as const) {
    const many = layMany(filled, three, 'role', newId, occupied);
    expect(many.laid.map(({ position, on }) => [position, on !== null])).toEqual([
      [first, true],
      [second, true],
      [expect.any(Number), false],
    ]);
    const after = applied(filled, many.changes);
    const layers = after.layers.filter(({ padId }) => padId === padAt(after, first).id);
    expect(layers.map(({ isTake }) => isTake)).toEqual(occupied === 'instead' ? [false] : [false, occupied === 'take']);
  }
  const from = layMany(filled, three, { from: first }, newId, 'instead').laid.map(({ position }) =>
    noteOfPlace(position),
  );
  expect(from).toEqual([...from].sort((a, b) => a - b));
  expect(from[0]).toBe(noteOfPlace(first));
  expect(layMany(filled, three, 'role', newId).laid.every(({ on }) => on === null)).toBe(true);
});
