import { padOf } from '../../../test/pads';
import { KIT_PADS } from '../play/limits';
import { PAD_GROUPS, UNGROUPED } from './groups';
import { noteOfPlace } from './layout';
import { chromaticLayout, generalMidiLayout, layoutOf, padOfRole } from './layouts';
import { Layout, type LayoutPlace } from './model';
import { KIT_INITIAL } from './parameters';
import { asKitHas } from './whole-kit';

const stored = (places: readonly LayoutPlace[]) =>
  Layout.parse({ id: 'layout-1', name: 'A layout', places, kitValues: {} });

test('General MIDI percussion: 47 roles on notes 35 to 81, each on a place of its own; hats cut one another off', () => {
  const places = generalMidiLayout();
  expect(places.map(({ position }) => noteOfPlace(position)).sort((a, b) => a - b)).toEqual(
    Array.from({ length: 47 }, (_, i) => 35 + i),
  );
  expect(new Set(places.map(({ role }) => role)).size).toBe(47);
  const of = (note: number) => places.find(({ position }) => noteOfPlace(position) === note);
  expect(of(38)).toMatchObject({ role: 'Acoustic snare', family: 'snare', settings: {} });
  const hats = [42, 44, 46].map((note) => of(note)?.settings.chokeGroup);
  expect(new Set(hats).size).toBe(1);
  expect(hats[0]).toBeGreaterThan(0);
  expect(stored(places).places).toEqual(places);
});

test('chromatic from a note: rising places play rising notes, up to the last there is', () => {
  const places = chromaticLayout(48, 32, String);
  expect(places).toHaveLength(32);
  for (const [i, { position, note, role }] of places.entries()) {
    expect(position).toBe(i);
    expect(note ?? noteOfPlace(position)).toBe(48 + i);
    expect(role).toBe(String(48 + i));
  }
  expect(chromaticLayout(120, KIT_PADS, String)).toHaveLength(8);
  stored(chromaticLayout(0, KIT_PADS, String));
});

test('the layout of a kit: names become roles, each once, and how pads play goes along on wish', () => {
  const pads = [
    padOf(0, { name: 'Low', chokeGroup: 3, levelDb: -6 }).pad,
    padOf(8, { name: 'Low', role: 'Rim' }).pad,
    padOf(9, { name: 'Low', note: 40, mode: 'held' }).pad,
  ];
  const places = layoutOf(pads, true);
  expect(places.map(({ role }) => role)).toEqual(['Low', 'Rim', 'Low 2']);
  expect(places[0]?.settings).toEqual({ chokeGroup: 3 });
  expect(places[2]).toMatchObject({ note: 40, settings: { mode: 'held' } });
  expect(layoutOf(pads, false).every(({ settings }) => Object.keys(settings).length === 0)).toBe(true);
  stored(places);
});

test('a role is found by its name, else by its note, else by its family, and the substitute is told', () => {
  const place = (role: string, position: number): LayoutPlace => ({
    ...{ role, position, family: 'snare', note: null, settings: {} },
  });
  const pads = [
    padOf(8, { name: 'On its note' }).pad,
    padOf(20, { role: 'Acoustic snare', family: 'snare' }).pad,
    padOf(11, { family: 'snare' }).pad,
  ];
  expect(padOfRole(place('Acoustic snare', 8), pads)).toEqual({ pad: pads[1], isSubstitute: false });
  expect(padOfRole(place('Electric snare', 8), pads)).toEqual({ pad: pads[0], isSubstitute: true });
  expect(padOfRole(place('Third snare', 60), pads)?.pad).toBe(pads[1]);
  expect(padOfRole({ ...place('Whistle', 60), family: 'voice' }, pads)).toBeNull();
});

test('what the whole kit has comes on top of what pads have, within their ranges, and touches none', () => {
  const pads = [padOf(0, { semitones: 40, levelDb: 20, levelDecayMs: 900 }).pad, padOf(1, { levelAttackMs: 5 }).pad];
  const before = structuredClone(pads);
  const [high, plain] = asKitHas(pads, { ...KIT_INITIAL, transpose: 12, levelDb: 6, attackMs: 30, tailMs: 250 });
  expect(high).toMatchObject({ semitones: 48, levelDb: 24, levelAttackMs: 30, levelDecayMs: 250, levelSustain: 0 });
  expect(plain).toMatchObject({ semitones: 12, levelDb: 6, levelAttackMs: 35, levelDecayMs: 250 });
  expect(pads).toEqual(before);
  expect(asKitHas(pads, KIT_INITIAL)).toEqual(before);
  const alone = asKitHas(
    [padOf(0, { alone: true }).pad, padOf(1).pad, padOf(2, { alone: true, muted: true }).pad],
    KIT_INITIAL,
  );
  expect(alone.map(({ muted }) => muted)).toEqual([false, true, true]);
});

test('the table of pads has every parameter of one value', () => {
  expect(UNGROUPED).toEqual(['cuts', 'moves']);
  const all = Object.values(PAD_GROUPS).flat();
  expect(new Set(all).size).toBe(all.length);
});
