import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { seededRandom } from '../../src/core/signal/random';
import { begin, forgetTold, type Session, saved, soon, told } from '../harness';
import { choose, drag, openSlice, press, setNumber, sliceCount } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

interface SliceRow {
  readonly id: string;
  readonly start: number;
  readonly end: number;
  readonly name: string;
  readonly locked: number;
}

/** What is stored of a recording's slices, in order. */
function stored(title: string): SliceRow[] {
  return session.ask<SliceRow>(
    `SELECT s.id, s.start_frame AS start, s.end_frame AS "end", s.name, s.locked FROM slice s
       JOIN recording r ON r.id = s.recording_id WHERE r.title = ? ORDER BY s.start_frame, s.end_frame`,
    title,
  );
}

const starts = (title: string) => stored(title).map((s) => s.start);
const tableRow = (i: number) => page.locator('[data-testid=slice-row]').nth(i);

/** Does something, waits until it is stored, and proves that one undo brings back every slice as it was. */
async function undoable(title: string, gesture: () => Promise<void>): Promise<SliceRow[]> {
  const before = stored(title);
  await gesture();
  // What is worked out first, as where sounds die away, is not on its way to be stored yet: "Saved" still tells of what was before.
  await soon(() => expect(stored(title)).not.toEqual(before));
  await saved(page);
  const after = stored(title);
  await page.locator('h1').click();
  await page.keyboard.press('Control+z');
  await told(page, /^Undone: /);
  await saved(page);
  expect(stored(title)).toEqual(before);
  await page.keyboard.press('Control+Shift+z');
  await told(page, /^Done again: /);
  await saved(page);
  expect(stored(title)).toEqual(after);
  return after;
}

async function stageBox() {
  const box = await page.locator('[data-testid=stage]').boundingBox();
  if (!box) throw new Error('There is no stage.');
  return box;
}

const RATE = 44100;

describe('four ways to split', () => {
  test('by attack: a band, the strongest only, a lead before the attack', async () => {
    await openSlice(session, 'Sluice loop');
    const all = starts('Sluice loop');
    await undoable('Sluice loop', async () => {
      await press(page, 'More settings of the split by attack');
      await setNumber(page, 'Start before the attack', '5');
    });
    // The first attack is nearer to the start than 5 ms.
    expect(starts('Sluice loop').slice(1)).toEqual(all.slice(1).map((s) => s - Math.round(0.005 * RATE)));
    await page.keyboard.press('Control+z');
    await saved(page);
    await press(page, 'More settings of the split by attack');
    await setNumber(page, 'At most', '4');
    await saved(page);
    await soon(async () => expect(await sliceCount(page)).toBe(4));
    await page.keyboard.press('Escape');
    await page.locator('h1').click();
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(starts('Sluice loop')).toEqual(all);
  });

  test('by silence: the takes of the sack floor, at the threshold of their own room tone', async () => {
    await openSlice(session, 'Sack-floor takes');
    const after = await undoable('Sack-floor takes', () => press(page, 'Silence'));
    expect(after.length).toBeGreaterThan(10);
    for (const [i, { start, end }] of after.entries()) {
      expect(end).toBeGreaterThan(start);
      expect(start).toBeGreaterThanOrEqual(after[i - 1]?.end ?? 0);
    }
    // A threshold dragged on the wave itself: with all of the room called silence there are fewer sounds, or shorter ones.
    const box = await stageBox();
    const shown = await page.getByLabel('Silence under').inputValue();
    await page.getByLabel('Silence under').fill('-20');
    await saved(page);
    expect(stored('Sack-floor takes').length).toBeLessThan(after.length);
    const middle = box.y + 56 + (box.height - 56) / 2;
    const away = 10 ** (-17 / 20) * ((box.height - 56) / 2 - 2);
    await drag(page, { x: box.x + 640, y: middle + away }, { x: box.x + 640, y: middle + away / 2 });
    await saved(page);
    await soon(async () => expect(Number(await page.getByLabel('Silence under').inputValue())).toBeLessThan(-24));
    await press(page, 'Suggest');
    await saved(page);
    await soon(async () => expect(await page.getByLabel('Silence under').inputValue()).toBe(shown));
    expect(stored('Sack-floor takes').map((s) => [s.start, s.end])).toEqual(after.map((s) => [s.start, s.end]));
  });

  test('by grid: two bars of 3/4 in eighths are twelve slices', async () => {
    // Twelve eighths at 97 BPM, each struck, as a file of exactly that length.
    const random = seededRandom(12);
    const frames = Math.round(((6 * 60) / 97) * RATE);
    const loop = Float32Array.from({ length: frames }, (_, i) => {
      const since = i % (frames / 12);
      return 0.7 * Math.exp(-since / 1500) * (random() * 2 - 1);
    });
    const path = join(session.folder, 'Two bars of three.wav');
    writeFileSync(path, writeWav({ sampleRate: RATE, channels: [loop] }, 's16'));
    await page.goto(`${session.server.address}/recordings`);
    await page.getByTestId('file-input').setInputFiles(path);
    await soon(() => expect(stored('Two bars of three')).not.toEqual([]));
    await openSlice(session, 'Two bars of three');
    await press(page, 'Grid');
    await saved(page);
    await press(page, 'More settings of the grid');
    await setNumber(page, 'Beats in a bar', '3');
    await page.keyboard.press('Escape');
    await setNumber(page, 'Tempo', '97');
    await choose(page, 'Note value of the grid', '1/8');
    await saved(page);
    const eighths = stored('Two bars of three');
    expect(eighths).toHaveLength(12);
    expect(eighths[0]?.start).toBe(0);
    expect(eighths.at(-1)?.end).toBe(frames);
    for (const [i, { start }] of eighths.entries()) expect(Math.abs(start - (i * frames) / 12)).toBeLessThan(1);
    await undoable('Two bars of three', () => press(page, 'Half the tempo'));
    expect(stored('Two bars of three')).toHaveLength(6);
    await press(page, 'Twice the tempo');
    await choose(page, 'Note value of the grid', 'bar');
    await saved(page);
    expect(stored('Two bars of three')).toHaveLength(2);
  });

  test('the first downbeat is dragged on the wave, and the tempo is tapped', async () => {
    const box = await stageBox();
    await choose(page, 'Note value of the grid', '1/4');
    // "Saved" may still tell of what was before; the drag is to be undone, and not this.
    await soon(() => expect(stored('Two bars of three')).toHaveLength(6));
    await saved(page);
    await undoable('Two bars of three', () =>
      drag(page, { x: box.x, y: box.y + box.height - 8 }, { x: box.x + 100, y: box.y + box.height - 8 }),
    );
    const frames = Math.round(((6 * 60) / 97) * RATE);
    expect(Math.abs((starts('Two bars of three')[0] ?? 0) - (100 / 1280) * frames)).toBeLessThan(frames / 400);
    const taps = await page.evaluateHandle(() => {
      const times: number[] = [];
      document.addEventListener('click', ({ timeStamp }) => times.push(timeStamp), true);
      return times;
    });
    for (let i = 0; i < 5; i++) {
      await page.getByRole('button', { name: 'Tap' }).click();
      if (i < 4) await page.waitForTimeout(500);
    }
    await saved(page);
    const tapped = Number(await page.getByLabel('Tempo', { exact: true }).inputValue());
    // By when the page was tapped, not by when it was to be: a busy machine taps late.
    const times = (await taps.jsonValue()).slice(0, 5);
    const meant = (4 * 60_000) / ((times[4] as number) - (times[0] as number));
    expect(Math.abs(tapped / meant - 1)).toBeLessThan(0.08);
  });
});

describe('the hand', () => {
  test('a region is split anew by itself; what is locked stays', async () => {
    await openSlice(session, 'Headrace loop');
    const before = starts('Headrace loop');
    await page.getByLabel('Lock slice 2', { exact: true }).click();
    await saved(page);
    const box = await stageBox();
    const y = box.y + 150;
    // A stretch over the second half; it begins where no mark is near that would be dragged instead.
    const frames = 312686;
    const edges = stored('Headrace loop').flatMap((s) => [s.start, s.end].map((f) => (f / frames) * box.width));
    const free = Array.from({ length: 200 }, (_, i) => 640 + i).find((x) => edges.every((e) => Math.abs(e - x) > 7));
    await drag(page, { x: box.x + (free ?? 0), y }, { x: box.x + 1270, y });
    await page.getByTestId('stretch-handle').waitFor();
    await page.getByLabel('Sensitivity').fill('5');
    await saved(page);
    const after = starts('Headrace loop');
    const parted = ((free ?? 0) / box.width) * frames;
    const first = (list: readonly number[]) => list.filter((s) => s < parted - 500);
    expect(first(after)).toEqual(first(before));
    expect(after.length).toBeLessThan(before.length);
    await page.keyboard.press('Escape');
    await page.getByLabel('Sensitivity').fill('0');
    await saved(page);
    expect(starts('Headrace loop')).toContain(before[1]);
    await page.locator('h1').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(starts('Headrace loop')).toEqual(before);
  });

  test('at sample zoom the loupe stores the very sample that is under the pointer', async () => {
    await openSlice(session, 'Sluice loop');
    await page.locator('body').press('ArrowRight');
    await page.keyboard.press('ArrowRight');
    const loupe = page.getByTestId('loupe-start').locator('canvas');
    const box = await loupe.boundingBox();
    if (!box) throw new Error('There is no loupe.');
    // The wheel brings it to its closest: 0.6 ms across, some twenty pixels a sample.
    await page.mouse.move(box.x + box.width / 2, box.y + 20);
    for (let i = 0; i < 20; i++) await page.mouse.wheel(0, -400);
    await page
      .getByTestId('loupe-start')
      .getByText(/0\.6 ms shown/)
      .waitFor();
    const before = stored('Sluice loop')[1] as SliceRow;
    const pixels = box.width / (0.0006 * RATE);
    const wanted = before.start - 7;
    await undoable('Sluice loop', () =>
      drag(page, { x: box.x + box.width / 2, y: box.y + 20 }, { x: box.x + box.width / 2 - 7 * pixels, y: box.y + 20 }),
    );
    expect(stored('Sluice loop')[1]?.start).toBe(wanted);
    for (const [key, frames] of [
      ['Alt+Shift+ArrowRight', 1],
      ['Shift+ArrowRight', 44],
      ['Control+Shift+ArrowRight', 441],
    ] as const) {
      const now = stored('Sluice loop')[1]?.start ?? 0;
      await page.keyboard.press(key);
      await saved(page);
      expect(stored('Sluice loop')[1]?.start).toBe(now + frames);
    }
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(stored('Sluice loop')[1]?.start).toBe(before.start);
  });

  test('an edge is drawn to the attack, or to a zero crossing', async () => {
    const before = stored('Sluice loop')[1] as SliceRow;
    await page.keyboard.press('Shift+ArrowRight');
    await page.keyboard.press('Shift+ArrowRight');
    await saved(page);
    const loupe = page.getByTestId('loupe-start').locator('canvas');
    const box = await loupe.boundingBox();
    if (!box) throw new Error('There is no loupe.');
    await page.mouse.move(box.x + box.width / 2, box.y + 20);
    for (let i = 0; i < 4; i++) await page.mouse.wheel(0, 400);
    await page
      .getByTestId('loupe-start')
      .getByText(/20\.3 ms shown/)
      .waitFor();
    await choose(page, 'Drawn to', 'attack');
    const middle = box.x + box.width / 2;
    await drag(page, { x: middle, y: box.y + 20 }, { x: middle - 12, y: box.y + 20 });
    await saved(page);
    expect(stored('Sluice loop')[1]?.start).toBe(before.start);
    await choose(page, 'Drawn to', 'free');
    await page.locator('h1').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
  });

  test('merging, splitting, ends that die away, sound kept after them: each is one step, undone and done again', async () => {
    const title = 'Sluice loop';
    await page.locator('h1').click();
    await tableRow(2).click({ position: { x: 20, y: 12 } });
    const [, , third, fourth] = stored(title);
    await undoable(title, () => page.keyboard.press('Backslash'));
    expect(stored(title)[2]).toMatchObject({ id: third?.id, end: Math.max(third?.end ?? 0, fourth?.end ?? 0) });
    await undoable(title, () => page.keyboard.press('Period'));
    expect(stored(title)[3]?.start).toBeGreaterThan(third?.start ?? 0);
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await saved(page);
    const ends = stored(title).map((s) => s.end);
    const chooseAll = async () => {
      await page.keyboard.press('Control+a');
      await page
        .locator('footer')
        .getByText(/\d+ chosen/)
        .waitFor();
    };
    // Ends go past the next start only when that is asked for.
    await chooseAll();
    await forgetTold(page);
    await page.keyboard.press('Semicolon');
    await told(page, /ends where the next one starts; Ctrl ; lets its sound ring on over it/);
    expect(stored(title).map((s) => s.end)).toEqual(ends);
    const after = await undoable(title, async () => {
      await chooseAll();
      await page.keyboard.press('Control+Semicolon');
    });
    expect(after.filter((s, i) => s.end > (after[i + 1]?.start ?? 1e9)).length).toBeGreaterThan(2);
    expect(after.every((s, i) => s.end >= (ends[i] ?? 0))).toBe(true);
    await page.keyboard.press('Control+z');
    await saved(page);
    await tableRow(0).click({ position: { x: 20, y: 12 } });
    const box = await stageBox();
    await drag(page, { x: box.x + 900, y: box.y + 200 }, { x: box.x + 1000, y: box.y + 200 });
    await page.getByText('drag to a pad').waitFor();
    await undoable(title, () => page.keyboard.press('Shift+Semicolon'));
    expect(Math.abs((stored(title)[0]?.end ?? 0) - (1000 / 1280) * 238421)).toBeLessThan(400);
    await page.keyboard.press('Control+z');
    await saved(page);
  });

  test('many are chosen and deleted at once; a name typed in the table goes with the slice to its pad', async () => {
    const title = 'Sluice loop';
    const before = stored(title);
    await tableRow(3).click({ position: { x: 20, y: 12 } });
    await page.keyboard.press('Control+ArrowRight');
    await page.keyboard.press('Control+ArrowRight');
    await page.locator('footer').getByText('3 chosen').waitFor();
    const after = await undoable(title, () => page.keyboard.press('Delete'));
    expect(after.map((s) => s.id)).toEqual(before.filter((_, i) => i < 3 || i > 5).map((s) => s.id));
    await page.keyboard.press('Control+z');
    await saved(page);
    await page.getByLabel('Name of slice 2', { exact: true }).fill('Dry clank');
    await page.getByLabel('Name of slice 2', { exact: true }).press('Enter');
    await saved(page);
    expect(stored(title)[1]?.name).toBe('Dry clank');
    await page.getByLabel('Sort by Name').click();
    await page.waitForFunction(
      () => document.querySelector<HTMLInputElement>('[data-testid=slice-row] input')?.value === 'Dry clank',
    );
    await tableRow(0).click({ position: { x: 20, y: 12 } });
    await page.keyboard.press('Enter');
    await saved(page);
    await page.locator('[data-position]').getByText('Dry clank').first().waitFor();
  });
});

test('what is done again while the word of what was undone is fading out is told all the same', async () => {
  const title = 'Sluice loop';
  const before = stored(title);
  await tableRow(3).click({ position: { x: 20, y: 12 } });
  await page.keyboard.press('Delete');
  await soon(() => expect(stored(title)).toHaveLength(before.length - 1));
  await page.locator('h1').click();
  await forgetTold(page);
  // The keys come at the very moment that the message begins to go.
  await page.evaluate(() => {
    const watch = new MutationObserver(() => {
      if (!document.querySelector('[data-sonner-toast][data-removed=true]')) return;
      watch.disconnect();
      for (const type of ['keydown', 'keyup'])
        document.body.dispatchEvent(
          new KeyboardEvent(type, { key: 'Z', code: 'KeyZ', ctrlKey: true, shiftKey: true, bubbles: true }),
        );
    });
    watch.observe(document, { subtree: true, attributeFilter: ['data-removed'] });
  });
  await page.keyboard.press('Control+z');
  await told(page, /^Undone: /);
  await told(page, /^Done again: /);
  expect(stored(title)).toHaveLength(before.length - 1);
  await page.keyboard.press('Control+z');
  await soon(() => expect(stored(title)).toEqual(before));
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints).toEqual([]);
});
