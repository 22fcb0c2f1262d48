import type { Page } from 'playwright-core';
import { begin, forgetTold, type Session, saved, soon, startServer, told } from '../harness';
import { choose } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

const shelf = (i: number) => page.locator('[data-testid=shelf]').nth(i);
const cards = (i: number) => shelf(i).locator('[data-testid=shelf-slice]');
const footer = () => page.locator('footer');

/** From the list of recordings, by clicks alone. */
async function openShelves(title: string): Promise<void> {
  await page.goto(`${session.server.address}/recordings`);
  await page.getByLabel('Search recordings').fill(title);
  await page.locator('[data-testid=recording]').first().click();
  await page.getByRole('button', { name: 'Slice it' }).click();
  await page.locator('h1').getByText(title).waitFor();
  await page.getByRole('link', { name: 'Shelves' }).click();
  await page.locator('[data-testid=shelves]').waitFor();
  await shelf(0).waitFor();
  // All slices have been listened to.
  await page.getByText('to go …').waitFor({ state: 'detached' });
}

const standing = (n: number) =>
  page.waitForFunction((wanted) => document.querySelectorAll('[data-testid=shelf]').length === wanted, n);
/** How many slices stand on each shelf; of long ones only those in sight are drawn. */
const sizes = () =>
  page
    .locator('[data-testid=shelf]')
    .evaluateAll((all) => all.map((one) => Number(/(\d+) slices?$/.exec(one.getAttribute('aria-label') ?? '')?.[1])));
const sum = (some: readonly number[]) => some.reduce((a, b) => a + b, 0);

/** Waits until the sizes of the shelves are as they ought to be. */
async function sizesOnce(isSo: (all: number[]) => boolean): Promise<number[]> {
  return soon(async () => {
    const all = await sizes();
    if (!isSo(all)) throw new Error(`The shelves hold ${all.join(', ')} slices.`);
    return all;
  });
}
const slicesOf = (title: string) =>
  session.ask<{ id: string; family: string | null; shelf: string | null }>(
    `SELECT s.id, s.family, s.shelf FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = ? ORDER BY s.start_frame`,
    title,
  );

test('field takes are sorted onto shelves, barest first, and every slice stands on one', async () => {
  await openShelves('Sack-floor takes');
  const all = slicesOf('Sack-floor takes').length;
  const shelves = (await sizesOnce((some) => sum(some) === all)).length;
  expect(shelves).toBeGreaterThan(3);
  expect(shelves).toBeLessThan(all);
  const flaws = await cards(0).evaluateAll((all) =>
    all.map((card) => {
      const label = card.getAttribute('aria-label') ?? '';
      const cut = /cut short at −([\d.]+) dB/.exec(label)?.[1];
      return { free: Number(/isolation (\d+)/.exec(label)?.[1]), cutDb: cut ? -Number(cut) : -100 };
    }),
  );
  expect(flaws.length).toBeGreaterThan(1);
  // What is less free and cut off louder stands behind what is freer and cut off less.
  for (const [i, a] of flaws.entries())
    for (const b of flaws.slice(i + 1)) expect(b.free > a.free + 1 && b.cutDb < a.cutDb).toBe(false);
});

test('a slice tells what is heard in it and why it is no barer, and is heard', async () => {
  await cards(0).last().click();
  const report = page.getByLabel('What is heard');
  await report.getByText(/LUFS momentary/).waitFor();
  await report
    .getByText(/: −.* dB/)
    .first()
    .waitFor();
  await soon(async () => expect(Number(await page.getByTestId('isolation').textContent())).toBeLessThan(100));
  await told(page, /1 voice/);
  // Whose tail it is, is told, and one click away.
  const tail = /slice (\d+):/.exec((await report.getByText(/^Tail, likely of the /).textContent()) ?? '')?.[1];
  await report.getByRole('button', { name: 'hear it' }).click();
  await footer()
    .getByText(new RegExp(`^Slice ${tail} ·`))
    .waitFor();
  await cards(0).last().click();
  // Along the shelf and to the next by arrows; one key goes back to what was compared.
  const here = await footer()
    .getByText(/^Slice \d+ ·/)
    .textContent();
  await page.keyboard.press('ArrowDown');
  await page.waitForFunction((was) => !document.querySelector('footer')?.textContent?.includes(was as string), here);
  await page.keyboard.press('Slash');
  await footer()
    .getByText(here as string)
    .waitFor();
});

test('corrections: a family for a shelf, a slice moved, a shelf of its own, two put together; each is undone in one step', async () => {
  const title = 'Sack-floor takes';
  const before = slicesOf(title);
  const undo = async () => {
    await page.locator('h1').click();
    await page.keyboard.press('Control+z');
    await told(page, /^Undone: /);
    await saved(page);
    expect(slicesOf(title)).toEqual(before);
    // The page has put the slices back as well.
    await standing(whole);
  };
  const whole = await page.locator('[data-testid=shelf]').count();
  const count = await cards(0).count();
  await choose(page, 'Family of shelf 1', 'effect');
  await saved(page);
  expect(slicesOf(title).filter((s) => s.family === 'effect').length).toBe(count);
  await shelf(0).getByText('as you said').waitFor();
  await undo();
  await cards(0).first().click();
  await page.getByRole('button', { name: 'A shelf of its own' }).click();
  await saved(page);
  expect(new Set(slicesOf(title).flatMap((s) => s.shelf ?? [])).size).toBe(2);
  await undo();
  await choose(page, 'Put shelf 1 together with', { index: 1 });
  await saved(page);
  await standing(whole - 1);
  await undo();
});

test('corrections are there after the server was killed', async () => {
  const title = 'Sack-floor takes';
  await cards(0).first().click();
  await choose(page, 'Move to shelf', { index: 0 });
  await saved(page);
  const moved = slicesOf(title);
  expect(moved.filter((s) => s.shelf !== null).length).toBeGreaterThan(1);
  const { workspace } = session.server;
  await session.server.kill();
  session.server = await startServer(workspace);
  await openShelves(title);
  expect(slicesOf(title)).toEqual(moved);
  // They stand on one shelf: the one that was chosen.
  const own = moved.filter((s) => s.shelf !== null).length;
  await sizesOnce((all) => all.includes(own));
});

test('a kit is made of the Sluice loop in one gesture, with a summary, and plays', async () => {
  await openShelves('Sluice loop');
  const stood = await sizesOnce((all) => sum(all) === slicesOf('Sluice loop').length);
  const shelves = stood.length;
  await page.getByRole('button', { name: 'Make a kit of this' }).click();
  await page.getByText('The barest of each shelf lies').waitFor();
  await soon(async () => expect(await page.getByRole('button', { name: 'Show it' }).count()).toBe(shelves));
  const [kit] = session.ask<{ id: string; name: string }>('SELECT id, name FROM kit ORDER BY rowid DESC LIMIT 1');
  expect(kit?.name).toMatch(/^Sluice/);
  const pads = session.ask<{ position: number; family: string }>(
    'SELECT position, family FROM pad WHERE kit_id = ?',
    kit?.id,
  );
  expect(pads.length).toBe(shelves);
  // The other takes of each are kept with its pad, each a hit of its own name.
  const takes = session.ask<{ name: string }>(
    'SELECT h.name FROM variation v JOIN pad p ON p.id = v.pad_id JOIN hit h ON h.id = v.hit_id WHERE p.kit_id = ?',
    kit?.id,
  );
  expect(takes.length).toBe(sum(stood.map((n) => Math.min(7, n - 1))));
  expect(new Set(takes.map((t) => t.name)).size).toBe(takes.length);
  for (const { name } of takes) expect(name).toMatch(/^\p{L}[\p{L} ]* Sluice \d+$/u);
  // Kicks lie in the row of kicks, snares in theirs.
  for (const { position, family } of pads) {
    if (family === 'kick') expect(Math.floor(position / 8)).toBe(0);
    if (family === 'snare') expect(Math.floor(position / 8)).toBe(1);
  }
  await page.getByRole('button', { name: 'Play it' }).click();
  await page.getByText('The barest of each shelf lies').waitFor({ state: 'detached' });
  const kick = pads.find((p) => p.family === 'kick');
  expect(kick).toBeDefined();
  await told(page, /[1-9]\d* voices?/);
  // The rhythm repeats: only when it is stopped can a pad's own sound be told from it.
  await page.locator('h1').click();
  await page.keyboard.press('Digit0');
  await page
    .getByTestId('voices')
    .getByText(/^0 voices/)
    .waitFor();
  await forgetTold(page);
  await page.keyboard.press('KeyZ');
  await told(page, /[1-9]\d* voices?/);
  await page.keyboard.press('Control+z');
  await told(page, /^Undone: made the kit/);
  expect(session.ask('SELECT id FROM kit WHERE id = ?', kit?.id)).toEqual([]);
});

test('the barest of each goes to the free pads of the kit at hand', async () => {
  const before = session.ask<{ n: number }>('SELECT count(*) AS n FROM pad')[0]?.n ?? 0;
  const shelves = await page.locator('[data-testid=shelf]').count();
  await page.getByRole('button', { name: 'Barest of each to the pads' }).click();
  await saved(page);
  expect(session.ask<{ n: number }>('SELECT count(*) AS n FROM pad')[0]?.n).toBe(before + shelves);
  await page.keyboard.press('Control+z');
  await told(page, /^Undone: laid the barest/);
});

test('the loop is played by its own rhythm, a shelf muted, one slice standing in, the source beside it; and it is rebuilt bit for bit', async () => {
  await openShelves('Sluice loop');
  const output = page.getByLabel('Rebuild').locator('output');
  await output.getByText(/identical/).waitFor();
  // What is to be struck is taken down where it leaves the page for the audio thread; that it is, the thread counts itself.
  await cards(0).first().click();
  interface Score {
    readonly strokes: readonly { readonly at: number; readonly from: number; readonly to: number }[];
    readonly length: number;
  }
  const scores = await page.evaluateHandle(() => {
    const { engine } = (globalThis as unknown as { undercroftSound: { engine: Record<string, unknown> } })
      .undercroftSound;
    const told: Score[] = [];
    const setScore = engine.setScore as (strokes: Score['strokes'], length: number) => void;
    engine.setScore = (strokes: Score['strokes'], length: number) => {
      told.push({ strokes, length });
      setScore.call(engine, strokes, length);
    };
    return told;
  });
  const score = async () => {
    const last = (await scores.jsonValue()).at(-1);
    if (!last) throw new Error('No score has been told.');
    return last;
  };
  const struck = () =>
    page.evaluate(
      () =>
        (globalThis as unknown as { undercroftSound: { engine: { struck: number } } }).undercroftSound.engine.struck,
    );
  const silent = await struck();
  await page.getByRole('button', { name: 'Play by its own rhythm' }).click();
  await soon(async () => expect(await struck()).toBeGreaterThan(silent + 6));
  const first = await score();
  const starts = session
    .ask<{ start: number }>(
      `SELECT s.start_frame AS start FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = 'Sluice loop' ORDER BY start`,
    )
    .map((row) => row.start);
  expect(first.strokes.map((s) => s.from)).toEqual(starts);
  // Apart by as many engine frames as in the recording, which is the loop's length.
  const rate = await page.evaluate(
    () =>
      (globalThis as unknown as { undercroftSound: { engine: { sampleRate: number } } }).undercroftSound.engine
        .sampleRate,
  );
  const [source] = session.ask<{ rate: number; frames: number }>(
    "SELECT sample_rate AS rate, frames FROM recording WHERE title = 'Sluice loop'",
  );
  const ratio = (source?.rate ?? 1) / rate;
  const [a, b] = [first.strokes[0], first.strokes[5]];
  expect((b?.at ?? 0) - (a?.at ?? 0)).toBeCloseTo(((b?.from ?? 0) - (a?.from ?? 0)) / ratio, 6);
  expect(first.length).toBeCloseTo((source?.frames ?? 0) / ratio, 6);
  // One slice for every stroke of its shelf, without a stop.
  await page.getByLabel('Plays for its shelf').check();
  const stand = Number(/Slice (\d+)/.exec((await cards(0).first().getAttribute('aria-label')) ?? '')?.[1]);
  const shelfSize = await cards(0).count();
  const inItsPlace = async () => (await score()).strokes.filter((s) => s.from === starts[stand - 1]).length;
  await soon(async () => expect(await inItsPlace()).toBe(shelfSize));
  // Without that shelf.
  await page.getByLabel('Mute shelf 1', { exact: true }).click();
  await soon(async () => expect(await inItsPlace()).toBe(0));
  const muted = await struck();
  await soon(async () => expect(await struck()).toBeGreaterThan(muted + 3));
  await page.getByRole('button', { name: 'Source' }).click();
  await page.getByRole('button', { name: 'Stop' }).click();
  await page.getByRole('button', { name: 'Play by its own rhythm' }).waitFor();
  // What is muted are its slices, wherever they stand.
  const whole = await page.locator('[data-testid=shelf]').count();
  await cards(0).first().click();
  await page.getByRole('button', { name: 'A shelf of its own' }).click();
  await saved(page);
  await standing(whole + 1);
  await soon(async () => expect(await page.locator('[aria-label^="Mute shelf"][aria-pressed=true]').count()).toBe(2));
  await page.locator('h1').click();
  await page.keyboard.press('Control+z');
  await standing(whole);
  await soon(async () => expect(await page.locator('[aria-label^="Mute shelf"][aria-pressed=true]').count()).toBe(1));
});

test('the time of the rhythm is told, corrected by one click each, and undone', async () => {
  const time = page.getByLabel('Time', { exact: true });
  const cutOf = () =>
    session.ask<{ bpm: number | null; downbeat: number | null }>(
      "SELECT c.settings ->> 'tempoBpm' AS bpm, c.settings ->> 'downbeatFrame' AS downbeat FROM cut c JOIN recording r ON r.id = c.id WHERE r.title = 'Sluice loop'",
    )[0];
  await time.getByText(/^9[345]\.\d BPM · \d+ %$/).waitFor();
  await time.getByRole('button', { name: 'half' }).click();
  await time.getByText(/^4[67]\.\d BPM · said$/).waitFor();
  await saved(page);
  expect(cutOf()?.bpm).toBeCloseTo(47, 0);
  await cards(0).first().click();
  await time.getByRole('button', { name: 'from the chosen slice' }).click();
  await time.getByText(/from .* · said$/).waitFor();
  await saved(page);
  const starts = session.ask<{ start: number }>(
    "SELECT s.start_frame AS start FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = 'Sluice loop'",
  );
  expect(starts.map((s) => s.start)).toContain(cutOf()?.downbeat);
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await time.getByText(/^9[345]\.\d BPM · \d+ %$/).waitFor();
});

test('of a long shelf what is in sight is drawn, and the arrow keys go on to its end', async () => {
  await openShelves('Headrace loop');
  const [longest] = await sizesOnce((all) => sum(all) === slicesOf('Headrace loop').length);
  const count = longest as number;
  await cards(0).first().click();
  for (let i = 1; i < count; i++) await page.keyboard.press('ArrowRight');
  const last = shelf(0).locator(`[aria-posinset="${count}"] [aria-pressed=true]`);
  await last.waitFor();
  const [card, strip] = [await last.boundingBox(), await shelf(0).locator('ol').boundingBox()];
  if (!card || !strip) throw new Error('The last card is not there.');
  expect(card.x).toBeGreaterThanOrEqual(strip.x);
  expect(card.x + card.width).toBeLessThanOrEqual(strip.x + strip.width);
  await soon(async () => expect(await cards(0).count()).toBeLessThan(Math.max(count, 16)));
});

test('takes of a session stand on shelves together, each slice told by its recording', async () => {
  await openShelves('Sluice loop');
  const own = slicesOf('Sluice loop').length;
  await page.getByRole('button', { name: 'Together with …' }).click();
  // The address changes by it and the box with the address.
  await page.getByLabel(/^Headrace loop/).click();
  await sizesOnce((all) => sum(all) > own);
  await page.getByText('to go …').waitFor({ state: 'detached' });
  await page.getByRole('button', { name: 'Together with 1 more' }).waitFor();
  await page.keyboard.press('Escape');
  const shelves = await page
    .locator('[data-testid=shelf]')
    .evaluateAll((all) =>
      all.map((one) =>
        [...one.querySelectorAll('[data-testid=shelf-slice]')].map(
          (card) => / of (.*?), iso/.exec(card.getAttribute('aria-label') ?? '')?.[1],
        ),
      ),
    );
  expect(shelves.flat()).toContain('Sluice loop');
  expect(shelves.flat()).toContain('Headrace loop');
  // A shelf given to slices of both keeps them together.
  await page.reload();
  await page.getByRole('button', { name: 'Together with 1 more' }).waitFor();
  await shelf(1).waitFor();
  await choose(page, 'Put shelf 1 together with', { index: 0 });
  await saved(page);
  await page.keyboard.press('Control+z');
  await told(page, /^Undone: put two shelves/);
});

test('nothing was complained of', () => {
  expect(session.complaints).toEqual([]);
});
