import type { Page } from 'playwright-core';
import { begin, type Session, saved, soon } from '../harness';
import { choose, Hand, openSlice, press } from './gestures';

let session: Session;
let page: Page;
let hand: Hand;

beforeAll(async () => {
  session = await begin();
  page = session.page;
  hand = new Hand(session);
});

afterAll(() => session?.end());

const figure = async (name: string) =>
  (await page
    .locator('dl[aria-label="Figures of the hit"] div')
    .filter({ hasText: name })
    .locator('dd')
    .first()
    .textContent()) ?? '';
const steps = (kind = 'step'): Record<string, unknown>[] =>
  session
    .ask<{ processor: string; settings: string }>(`SELECT processor, settings FROM ${kind} ORDER BY position`)
    .map(({ processor, settings }) => ({ processor, ...JSON.parse(settings) }));
const rendered = () => page.locator('[data-testid=treated-wave] canvas').waitFor();

test('a slice of a take to a finished hit on a pad: trimmed, cleaned, filtered, thickened, shortened, tuned, levelled, compared', async () => {
  await hand.open('/recordings');
  await hand.freshKit('Finished');
  await openSlice(session, 'Sack-floor takes');
  let gestures = 0;
  const gesture = async (act: Promise<unknown>) => {
    gestures++;
    await act;
    await saved(page);
  };
  const quick = (label: string) =>
    gesture(
      (async () => {
        const before = steps().length;
        await page.getByRole('button', { name: label, exact: true }).click();
        await soon(() => expect(steps()).toHaveLength(before + 1));
      })(),
    );
  const row = page
    .locator('[data-testid=slice-row]')
    .filter({ hasText: 'A♯2' })
    .or(page.locator('[data-testid=slice-row]'))
    .nth(3);
  await gesture(row.click({ position: { x: 8, y: 8 } }));
  await gesture(page.keyboard.press(';'));
  await gesture(page.keyboard.press('F4'));
  await rendered();
  await soon(async () => expect(await figure('True peak')).toMatch(/dBTP/));
  for (const label of ['Noise down', 'Lows away', 'Thicker', 'Shorter', 'Tune', 'Level']) await quick(label);
  const chain = steps();
  expect(chain.map(({ processor }) => processor)).toEqual([
    'noise',
    'equaliser',
    'saturation',
    'length',
    'tune',
    'level',
  ]);
  expect(String(chain[0]?.room).length).toBeGreaterThan(100);
  await soon(async () => expect(await figure('True peak')).toBe('−1.0 dBTP'));
  await gesture(page.keyboard.press('/'));
  await page.getByRole('button', { name: /^Before matched/ }).waitFor();
  await gesture(page.keyboard.press('/'));
  await gesture(page.keyboard.press('Enter'));
  await soon(() => expect(hand.padsOf('Finished')).toHaveLength(1));
  console.log(`A slice of a take to a finished hit on a pad took ${gestures} gestures.`);
  expect(gestures).toBeLessThanOrEqual(16);
});

test('a root is struck, typed in, and given up; the tone sounds until it is switched off', async () => {
  const rootHz = () =>
    session.ask<{ root_hz: number | null }>('SELECT root_hz FROM hit ORDER BY rowid DESC LIMIT 1')[0]?.root_hz ?? null;
  await page.getByRole('button', { name: 'Pitch', exact: true }).click();
  await page.getByRole('button', { name: 'The root is A', exact: true }).click();
  await saved(page);
  const struck = rootHz() as number;
  expect(Math.abs((Math.log2(struck / 440) * 12) % 12)).toBeLessThan(1e-6);
  expect(await page.getByRole('button', { name: 'Tone' }).getAttribute('aria-pressed')).toBe('true');
  await page.getByRole('button', { name: 'Tone' }).click();
  const field = page.getByLabel('Root of the hit');
  await field.fill('C3 +10');
  await field.press('Enter');
  await saved(page);
  expect(rootHz()).toBeCloseTo(130.8128 * 2 ** (10 / 1200), 3);
  await field.fill('loud');
  await field.press('Enter');
  await page.getByText('“loud” is no pitch').waitFor();
  expect(rootHz()).toBeCloseTo(130.8128 * 2 ** (10 / 1200), 3);
  await press(page, 'as found');
  await saved(page);
  expect(rootHz()).toBeNull();
});

test('the end is trimmed under the loupe: the sound follows, one edit', async () => {
  const edits = () => session.ask<{ n: number }>('SELECT count(*) AS n FROM edit')[0]?.n ?? 0;
  const ends = () =>
    session.ask<{ e: number }>('SELECT end_frame AS e FROM hit ORDER BY rowid DESC LIMIT 1')[0]?.e ?? 0;
  await page.keyboard.press('Shift+F4');
  const [before, end] = [edits(), ends()];
  await page.getByTestId('loupe-end').getByRole('button', { name: '−10 ms' }).click();
  await saved(page);
  expect(edits()).toBe(before + 1);
  expect(ends()).toBeLessThan(end);
  await page.keyboard.press('Shift+F4');
  await page.getByRole('button', { name: 'Spectrum' }).or(page.getByTestId('equaliser')).first().waitFor();
});

test('the handle of a fade is dragged on the wave: a draft until it is let go, then one edit', async () => {
  await page.getByRole('button', { name: 'add …' }).click();
  await page.getByRole('menuitem', { name: /^Fades/ }).click();
  await soon(() => expect(steps().at(-2)).toMatchObject({ processor: 'fades' }));
  await saved(page);
  const box = await page.getByTestId('treated-wave').boundingBox();
  if (!box) throw new Error('There is no wave.');
  await soon(async () => expect(await figure('Length')).toMatch(/ms|s/));
  const start = { x: box.x + 3, y: box.y + 18 + 16 };
  const edits = () => session.ask<{ n: number }>('SELECT count(*) AS n FROM edit')[0]?.n ?? 0;
  const before = edits();
  // The fade out's handle may lie anywhere: the fade in of 2 ms is the one near the left edge.
  await page.mouse.move(start.x, start.y);
  await page.mouse.down();
  await page.mouse.move(start.x + 200, start.y, { steps: 5 });
  expect(edits()).toBe(before);
  await page.mouse.up();
  await saved(page);
  expect(edits()).toBe(before + 1);
  expect(Number(steps().find(({ processor }) => processor === 'fades')?.inMs)).toBeGreaterThan(10);
});

test('steps are kept as a recipe, and added to slices that become hits, in one edit', async () => {
  await press(page, 'Recipe …');
  await page.getByLabel('Name of a recipe of these steps').fill('Sack finish');
  await page.getByLabel('What the recipe does').fill('as the sacks like it');
  await page.getByRole('button', { name: 'Keep', exact: true }).click();
  await saved(page);
  expect(session.ask<{ name: string; about: string }>('SELECT name, about FROM recipe')).toEqual([
    { name: 'Sack finish', about: 'as the sacks like it' },
  ]);
  const kept = steps().length;
  await openSlice(session, 'Sack-floor takes');
  const rows = page.locator('[data-testid=slice-row]');
  await rows.nth(5).click({ position: { x: 8, y: 8 } });
  await rows.nth(7).click({ position: { x: 8, y: 8 }, modifiers: ['Shift'] });
  const hits = () => session.ask<{ n: number }>('SELECT count(*) AS n FROM hit')[0]?.n ?? 0;
  const before = hits();
  await press(page, 'Treat …');
  await page.getByRole('button', { name: /^Sack finish/ }).click();
  await page.getByTestId('outcome').nth(2).waitFor();
  await page.getByText('3 hits; one undo takes all of it back.').waitFor();
  await press(page, 'Done');
  await saved(page);
  expect(hits()).toBeGreaterThan(before);
  expect(steps()).toHaveLength(4 * kept);
  await page.keyboard.press('Control+z');
  await soon(() => expect([hits(), steps().length]).toEqual([before, kept]));
});

test('a recording is treated: its hit inherits it, says so, and leaves it', async () => {
  await hand.open(`/recordings/${hand.recordingId('Sack-floor takes')}`);
  await rendered();
  await page.getByRole('button', { name: 'Highs away' }).click();
  await soon(() => expect(steps('recordingStep')).toMatchObject([{ processor: 'equaliser' }]));
  expect(await page.getByRole('button', { name: 'Shorter' }).count()).toBe(0);
  const [hit] = session.ask<{ id: string }>('SELECT hit_id AS id FROM step LIMIT 1');
  await hand.open(`/hits/${hit?.id}`);
  await page.getByText('as its recording: equaliser').waitFor();
  await page.getByLabel('Inherits what is done to its recording').uncheck();
  await saved(page);
  expect(session.ask<{ i: number }>(`SELECT inherits AS i FROM hit WHERE id = '${hit?.id}'`)).toEqual([{ i: 0 }]);
  await page.keyboard.press('Control+z');
  await soon(async () =>
    expect(await page.getByLabel('Inherits what is done to its recording').isChecked()).toBe(true),
  );
  // The step itself is undone too: what follows is as recorded.
  await page.keyboard.press('Control+z');
  await soon(() => expect(steps('recordingStep')).toEqual([]));
});

test('an octave lies beside a hit by one click, and can be opened from there', async () => {
  await page.locator('[data-testid=step]').filter({ hasText: 'Tune' }).click();
  await press(page, 'an octave down');
  await page.getByRole('button', { name: 'Open it' }).click();
  await page
    .locator('h1')
    .getByText(/an octave down$/)
    .waitFor();
  await saved(page);
  const tuned = steps().filter(({ processor }) => processor === 'tune');
  expect(tuned.some(({ semitones }) => semitones === -12)).toBe(true);
});

test('a slice is made quieter by key: the table shows the level it will have', async () => {
  await openSlice(session, 'Sack-floor takes');
  const row = page.locator('[data-testid=slice-row]').nth(9);
  const peak = async () => Number(/(−?[\d.]+) dB/.exec((await row.textContent()) ?? '')?.[1]?.replace('−', '-'));
  await soon(async () => expect(await peak()).toBeLessThan(0));
  const before = await peak();
  await row.click({ position: { x: 8, y: 8 } });
  for (let n = 0; n < 3; n++) await page.keyboard.press('Control+ArrowDown');
  await soon(async () => expect(Math.abs((await peak()) - (before - 3))).toBeLessThan(0.15));
  await saved(page);
});

test('a recording’s print carries its marks over', async () => {
  await openSlice(session, 'Sack-floor takes');
  await page.keyboard.press('Control+k');
  await page.keyboard.type('print the rec');
  await page.getByRole('option', { name: 'Print the recording as it sounds' }).waitFor();
  await page.keyboard.press('Enter');
  await press(page, 'Open it');
  await page.locator('h1').getByText('Sack-floor takes printed').waitFor();
  await soon(async () => expect(await page.locator('[data-testid=slice-row]').count()).toBeGreaterThan(4));
});

test('one key treats what is chosen in the picker, and chosen hits go to a zip', async () => {
  await hand.open('/kits');
  await page.keyboard.press('F6');
  await page.getByLabel('Search the picker').fill('Wax');
  await page.keyboard.press('Enter');
  await page.locator('[data-testid=pick][aria-selected=true]').waitFor();
  await page.keyboard.press('F4');
  await page.locator('h1').getByText('Wax cylinder').waitFor();
  await rendered();
  await hand.open('/hits');
  await page.locator('[data-testid=hit]').first().click();
  await page.keyboard.press('Control+a');
  await press(page, 'Zip …');
  await choose(page, 'Bits of the files', 's16');
  const [file] = await Promise.all([
    page.waitForEvent('download'),
    page.getByRole('button', { name: /^Zip \d+ hits$/ }).click(),
  ]);
  expect(file.suggestedFilename()).toMatch(/^\d+ hits.*\.zip$/);
});
