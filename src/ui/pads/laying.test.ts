import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs, RecordingView } from '@/contract/views';
import type { Family } from '@/core/family';
import { noteOfPlace } from '@/core/kit/layout';
import type { Pad } from '@/core/kit/model';
import { KIT_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { applyToKit } from '../data/apply';
import { takeInstead } from '../kits/edits';
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
  const forty = Array.from({ length: 40 }, (_, i) => stretch(i + 1, i % 2 ? 'kick' : null));
  const many = layMany(kit, forty, 'role', newId);
  expect(many.laid).toHaveLength(32);
  expect(many.left).toBe(8);
  const view = applied(kit, many.changes);
  expect(new Set(view.pads.map((p) => p.position)).size).toBe(32);
  expect(view.layers).toHaveLength(32);
  expect(layMany(view, forty, 'role', newId)).toMatchObject({ changes: [], left: 40 });
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
