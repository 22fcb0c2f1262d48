import { demoRecordings } from '../../demo/scenario';
import type { Family } from '../family';
import { detectOnsets } from '../onset/detect';
import { selectOnsets, slicesFromOnsets } from '../onset/select';
import { SPLIT_INITIAL } from '../onset/split';
import { toMono } from '../signal/audio';
import { seededRandom } from '../signal/random';
import { chancesOf } from './chances';
import { Describer } from './description';
import { averageLinkage, groupManySounds, groupSounds, MOST_PAIRED } from './grouping';
import { type HeardSlice, hear, type ListenedSlice } from './hearing';
import { innerOnsets, isolationOf, usualOf } from './isolation';
import { comparable, SoundPairs } from './sameness';
import { Sketcher } from './sketch';
import { type Bareness, byBareness } from './wholeness';

const RATE = 44100;

const put = (shelf: string | null) => ({ shelf, family: null });

describe('grouping', () => {
  const drum = [0, 1, 0, 2, 1, 0, 2, 2, 1];
  const odds = (a: number, b: number) => (drum[a] === drum[b] ? 3 : -3);

  test('finds the groups that the odds speak of, and how many there are', () => {
    expect(groupSounds(drum.length, odds).groupOf).toEqual(drum);
    expect(groupSounds(0, odds).groupOf).toEqual([]);
    expect(groupSounds(1, odds).groupOf).toEqual([0]);
  });

  test('one pair that is wrongly like does not join two groups, since the mean of all pairs counts', () => {
    const wrong = (a: number, b: number) => (Math.min(a, b) === 0 && Math.max(a, b) === 1 ? 2 : odds(a, b));
    expect(groupSounds(drum.length, wrong).groupOf).toEqual(drum);
  });

  test('what a person has put together stays together, what apart apart, and what is like them follows', () => {
    const fixed = drum.map((_, i) => put(i === 0 || i === 3 ? 'mine' : i === 2 ? 'other' : null));
    const { groupOf } = groupSounds(drum.length, odds, fixed);
    expect(groupOf[0]).toBe(groupOf[3]);
    expect(groupOf[2]).not.toBe(groupOf[0]);
  });

  test('what a person has called two drums is not one, unless it was put on one shelf', () => {
    const said = drum.map((_, i) => ({ shelf: null, family: i === 0 ? 'open hat' : i === 2 ? 'closed hat' : null }));
    const apart = groupSounds(drum.length, odds, said).groupOf;
    expect(apart[0]).not.toBe(apart[2]);
    // The third of the three is like either.
    expect([apart[0], apart[2]]).toContain(apart[5]);
    const together = said.map(({ family }) => ({ shelf: family && 'mine', family }));
    expect(groupSounds(drum.length, odds, together).groupOf).toEqual(drum);
  });

  test('of two that are as like a third, that one is joined which keeps its company', () => {
    // 0 to 3 are one drum, 5 to 8 another; 4 is a little like the first of either, and for the rest like the others of the second.
    const near = (a: number, b: number): number => {
      const [x, y] = [Math.min(a, b), Math.max(a, b)];
      if (x === 4 || y === 4) {
        const other = x === 4 ? y : x;
        return other === 0 || other === 5 ? 0.3 : other > 5 ? -0.2 : -3;
      }
      return x < 4 === y < 4 ? 3 : -3;
    };
    const { groupOf } = groupSounds(9, near);
    expect(groupOf[4]).toBe(groupOf[5]);
    expect(groupOf[4]).not.toBe(groupOf[0]);
  });

  test('of thousands finds the same groups without looking at all pairs', () => {
    const count = 4 * MOST_PAIRED;
    const kind = (i: number) => (i * i + 3 * i) % 7;
    let looked = 0;
    const near = (a: number, b: number) => {
      looked++;
      return kind(a) === kind(b) ? 2 : -4;
    };
    const fixed = Array.from({ length: count }, (_, i) => put(i === 3 || i === 4 ? 'mine' : null));
    const { groupOf, confidence } = groupManySounds(count, near, fixed);
    const groupsOfKind = new Map<number, Set<number>>();
    for (let i = 0; i < count; i++)
      if (i !== 3 && i !== 4)
        groupsOfKind.set(kind(i), (groupsOfKind.get(kind(i)) ?? new Set()).add(groupOf[i] as number));
    for (const groups of groupsOfKind.values()) expect(groups.size).toBe(1);
    expect(groupOf[3]).toBe(groupOf[4]);
    expect(Math.min(...confidence)).toBeGreaterThan(0.5);
    expect(looked).toBeLessThan((count * count) / 10);
  });

  test('of thousands, too, what a person has called two drums is not one', () => {
    const count = 4 * MOST_PAIRED;
    const said = Array.from({ length: count }, (_, i) => ({
      shelf: null,
      family: i % 501 === 1 ? 'open hat' : i % 501 === 2 ? 'closed hat' : null,
    }));
    const { groupOf } = groupManySounds(count, () => 2, said);
    const groupsOf = (family: string) =>
      new Set(said.flatMap((s, i) => (s.family === family ? (groupOf[i] as number) : [])));
    expect([...groupsOf('open hat')].filter((group) => groupsOf('closed hat').has(group))).toEqual([]);
  });

  test('is the same by pairs joined one at a time over all pairs', () => {
    const random = seededRandom(41);
    const count = 40;
    const at = Array.from({ length: count }, () => random() * 10);
    const near = (a: number, b: number) => 1 - Math.abs((at[a] as number) - (at[b] as number));
    // The plain way: every pair of groups is looked at before each joining.
    let groups = at.map((_, i) => [i]);
    for (;;) {
      let [best, x, y] = [0, -1, -1];
      for (let a = 0; a < groups.length; a++)
        for (let b = a + 1; b < groups.length; b++) {
          const [one, other] = [groups[a] as number[], groups[b] as number[]];
          const sum = one.reduce((s, i) => s + other.reduce((t, j) => t + near(i, j), 0), 0);
          if (sum / (one.length * other.length) > best) [best, x, y] = [sum / (one.length * other.length), a, b];
        }
      if (x < 0) break;
      const joined = [...(groups[x] as number[]), ...(groups[y] as number[])];
      groups = [...groups.filter((_, i) => i !== x && i !== y), joined];
    }
    const pair = Float32Array.from({ length: count * count }, (_, i) => near(Math.floor(i / count), i % count));
    const groupOf = averageLinkage(pair, count, 0);
    for (const members of groups) expect(new Set(members.map((i) => groupOf[i])).size).toBe(1);
    expect(new Set(groupOf).size).toBe(groups.length);
  });
});

describe('isolation', () => {
  const random = seededRandom(6);
  const burst = Float32Array.from({ length: RATE / 2 }, (_, i) => (random() - 0.5) * Math.exp((-25 * i) / RATE));
  const start = RATE / 2;
  /** A burst while a tone rings, so far under it over the slice's length. */
  function under(db: number): Float32Array {
    const energy = burst.reduce((sum, x) => sum + x * x, 0);
    const amplitude = Math.sqrt((energy / burst.length) * 10 ** (db / 10) * 2);
    const out = Float32Array.from({ length: RATE }, (_, i) => amplitude * Math.sin((2 * Math.PI * 700 * i) / RATE));
    for (let i = 0; i < burst.length; i++) out[start + i] = (out[start + i] as number) + (burst[i] as number);
    return out;
  }
  const told = (samples: Float32Array) => isolationOf(new Sketcher(RATE).sketch(samples, start, RATE), [], null, RATE);

  test.each([-10, -20, -30])('of a sound while a tone of %d dB rings on is told within 3 dB, with the reason', (db) => {
    const { reasons, score } = told(under(db));
    expect(reasons[0]?.kind).toBe('tail before');
    expect(Math.abs((reasons[0]?.db ?? 0) - db)).toBeLessThan(3);
    expect(Math.abs(score + (db * 100) / 40)).toBeLessThan(10);
  });

  test('of a sound out of silence is 100, without a reason', () => {
    const alone = under(-200);
    expect(told(alone)).toMatchObject({ score: 100, reasons: [] });
  });

  test('tells what others of the group do not have', () => {
    const sketcher = new Sketcher(RATE);
    const clean = sketcher.sketch(under(-200), start, RATE);
    const bled = under(-200);
    for (let i = 0; i < RATE / 3; i++)
      bled[start + i] = (bled[start + i] as number) + 0.1 * Math.sin((2 * Math.PI * 5000 * i) / RATE);
    const sketch = sketcher.sketch(bled, start, RATE);
    const { reasons, score } = isolationOf(sketch, [], usualOf([clean, clean, clean, sketch]), RATE);
    const [reason] = reasons;
    if (reason?.kind !== 'foreign to its group') throw new Error(`The first reason is ${reason?.kind}.`);
    expect(reason.hz / 5000).toBeGreaterThan(0.88);
    expect(reason.hz / 5000).toBeLessThan(1.14);
    expect(score).toBeLessThan(60);
    expect(isolationOf(clean, [], usualOf([clean, clean, clean, sketch]), RATE).score).toBe(100);
  });

  test('what sounds from another onset on is foreign, as far as that is as loud', () => {
    // Two equal bursts in one slice: from the second on everything is its, so that both have the same energy.
    const twice = new Float32Array(RATE * 2);
    for (const at of [0, 0.4])
      for (let i = 0; i < burst.length; i++)
        twice[start + at * RATE + i] = (twice[start + at * RATE + i] as number) + (burst[i] as number);
    const sketch = new Sketcher(RATE).sketch(twice, start, RATE * 1.6);
    const { score, reasons } = isolationOf(sketch, [{ seconds: 0.37, db: 0 }], null, RATE);
    expect(reasons[0]).toMatchObject({ kind: 'another onset', seconds: 0.37 });
    expect(Math.abs(reasons[0]?.db ?? 99)).toBeLessThan(3);
    expect(score).toBeLessThan(8);
    expect(isolationOf(sketch, [{ seconds: 0.37, db: -30 }], null, RATE).reasons[0]?.db).toBeLessThan(-28);
  });

  test('onsets inside a slice count, those at its very start and after its end do not', () => {
    const candidate = (seconds: number, strength = 0.9) => ({
      frame: Math.round(seconds * RATE),
      strength,
      decayEnd: RATE,
      peak: 0.5,
      low: 0,
      mid: 0,
      high: 0,
      click: false,
    });
    const region = { startFrame: 0, endFrame: RATE };
    const found = innerOnsets(
      region,
      [candidate(0), candidate(0.02), candidate(0.4), candidate(0.5, 0.1), candidate(1.2)],
      RATE,
    );
    expect(found.map((o) => o.seconds)).toEqual([0.4]);
    expect(found[0]?.db).toBeCloseTo(20 * Math.log10(0.9), 3);
  });
});

describe('listening together', () => {
  const loop = demoRecordings()[0];
  if (!loop) throw new Error('The demo has no loop.');
  const { sampleRate } = loop.audio;
  const mono = toMono(loop.audio);
  const candidates = detectOnsets(mono, sampleRate);
  const recording = { candidates, sampleRate };
  const describer = new Describer(sampleRate);
  const slices = slicesFromOnsets(selectOnsets(candidates, SPLIT_INITIAL, sampleRate), mono.length).map(
    (region): ListenedSlice => {
      const figures = describer.describe(mono, region.startFrame, region.endFrame);
      return { ...region, figures, chances: chancesOf(figures), family: null, shelf: null };
    },
  );
  const heard = (set: (slice: ListenedSlice, i: number) => Partial<ListenedSlice> = () => ({})) =>
    hear(
      slices.map((slice, i) => ({ ...slice, ...set(slice, i) })),
      () => recording,
    );

  test('puts every slice on one shelf, barest first', () => {
    const { shelves, slices: all } = heard();
    expect(shelves.flatMap((s) => s.members).sort((a, b) => a - b)).toEqual(slices.map((_, i) => i));
    for (const { members } of shelves) {
      const bareness = members.map((i): Bareness => {
        const { isolation, cutShortDb } = all[i] as HeardSlice;
        const { startFrame, figures } = slices[i] as (typeof slices)[number];
        return { foreignDb: isolation.foreignDb, cutShortDb, lufs: figures.lufs, startFrame };
      });
      expect(bareness).toEqual([...bareness].sort(byBareness));
    }
    expect(shelves.length).toBeGreaterThan(2);
    expect(shelves.length).toBeLessThan(slices.length / 1.5);
  });

  test('shelves that are likelier no drum stand behind those of drums, and their family is told to be unsure; what a person says stands', () => {
    const before = heard().shelves;
    const notes = before[0]?.members ?? [];
    const undrummed = (slice: ListenedSlice, i: number) =>
      notes.includes(i) ? { chances: { ...slice.chances, drum: 0.1 } } : {};
    const after = heard(undrummed).shelves;
    const last = after.at(-1);
    expect(last?.members).toEqual(notes);
    expect(last?.drum).toBeCloseTo(0.1, 9);
    expect(last?.confidence).toBeLessThan(0.2);
    expect(after.slice(0, -1).map((s) => s.members)).toEqual(before.slice(1).map((s) => s.members));
    const said = heard((slice, i) => ({ ...undrummed(slice, i), family: i === notes[0] ? ('kick' as Family) : null }));
    expect(said.shelves[0]).toMatchObject({ family: 'kick', drum: 1, members: notes });
  });

  test('what a person says of one slice goes for its group, and never over what was said of another', () => {
    const before = heard();
    const shelf = before.shelves.find((s) => s.members.length > 2);
    const members = shelf?.members ?? [];
    const [first, second, other] = members;
    const after = heard((_, i) =>
      i === first ? { family: 'effect' as Family } : i === second ? { family: 'rim' as Family } : {},
    );
    expect(after.slices[second as number]).toMatchObject({ family: 'rim', familyConfidence: 1 });
    const third = after.slices[other as number];
    expect(['effect', 'rim']).toContain(third?.family);
    expect(third?.familyConfidence).toBeGreaterThan(0.9);
    expect(third?.familyConfidence).toBeLessThan(1);
  });

  test('pairs that were held against one another before a slice came are not heard otherwise for it', () => {
    const pairs = new SoundPairs();
    const once = (some: readonly ListenedSlice[]) => hear(some, () => recording, pairs);
    const add = (slice: ListenedSlice) => pairs.add(comparable(slice.figures, slice.chances));
    slices.slice(0, -3).forEach(add);
    once(slices.slice(0, -3));
    slices.slice(-3).forEach(add);
    expect(once(slices)).toEqual(heard());
  });

  test('slices that a person has parted stand on shelves of their own', () => {
    const members = heard().shelves[0]?.members as number[];
    const after = heard((_, i) => (members.includes(i) ? { shelf: i === members[0] ? 'alone' : 'the rest' } : {}));
    const groups = members.map((i) => after.slices[i]?.group);
    expect(new Set(groups).size).toBe(2);
    expect(after.slices[members[0] as number]?.groupConfidence).toBe(1);
  });
});
