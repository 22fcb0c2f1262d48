import { readFileSync } from 'node:fs';
import { unzipSync } from 'fflate';
import { parseMidi } from 'midi-file';
import type { GrooveListEntry, GrooveView, KitListEntry } from '../../src/contract/views';
import { readWav } from '../../src/core/format/wav';
import { frameCount, peakOf } from '../../src/core/signal/audio';
import type { EngineClient } from '../../src/engine/client';
import { begin, type Session, soon } from '../harness';
import { Client } from '../server/client';
import { choose, openMillstone } from './gestures';

let session: Session;
let client: Client;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  await openMillstone(session, [0, 8, 16]);
  // The demo's own groove makes room for the empty place.
  const [made] = await list();
  const { groove: own } = await client.get<GrooveView>(`/api/grooves/${made?.id}`);
  await client.edit('emptied', [{ op: 'remove', doc: 'groove', id: own.id, rev: own.rev }]);
  await session.page.getByRole('link', { name: 'Grooves' }).click();
  await session.page.getByText('No groove yet').waitFor();
});

afterAll(() => session?.end());

const ROW_PX = 28;
const list = () => client.get<GrooveListEntry[]>('/api/grooves');
/** The groove of this name. */
const groove = async (name: string): Promise<GrooveView> => {
  const found = (await list()).find((one) => one.name === name);
  return client.get<GrooveView>(`/api/grooves/${found?.id}`);
};
const button = (name: string | RegExp) => session.page.getByRole('button', { name, exact: typeof name === 'string' });
const grid = () => session.page.getByTestId('groove-grid');
const said = () => grid().getAttribute('aria-label');

/** The middle of a cell: a row by its name, a step of a 16th. */
async function cell(name: string, step: number): Promise<{ x: number; y: number }> {
  const { page } = session;
  const rows = await page.getByTestId('groove-row').allTextContents();
  const box = await page.getByTestId('groove-canvas').boundingBox();
  const [first, second] = await page
    .getByRole('button', { name: /^Bar \d/ })
    .evaluateAll((bars) => bars.slice(0, 2).map((bar) => bar.getBoundingClientRect().left));
  if (!box || first === undefined || second === undefined) throw new Error('There is no grid of two bars.');
  const row = rows.findIndex((text) => text.includes(name));
  expect(row).toBeGreaterThanOrEqual(0);
  return { x: first + ((step + 0.5) * (second - first)) / 16, y: box.y + (row + 0.5) * ROW_PX };
}

async function menu(name: string, item: string | RegExp): Promise<void> {
  await button(name).click();
  await session.page.getByRole('menuitem', { name: item }).click();
}

interface Heard {
  readonly frame: number;
  readonly lapBegan: number | null;
  readonly struck: number;
  readonly sampleRate: number;
}
const engine = () =>
  session.page.evaluate((): Heard => {
    const { engine: e } = (globalThis as never as { undercroftSound: { engine: EngineClient } }).undercroftSound;
    return { frame: e.frame, lapBegan: e.lapBegan, struck: e.struck, sampleRate: e.sampleRate };
  });

describe('by pointer', () => {
  test('a starter groove opens on the rows of the kit, whose pads have its roles or notes', async () => {
    const { page } = session;
    await menu('Begin a groove', /Night watch/);
    await page.getByTestId('groove-canvas').waitFor();
    const { rows, notes, groove: made } = await groove('Night watch');
    expect(made).toMatchObject({ bars: 4, bpm: 94 });
    expect(rows.length).toBe(4);
    expect(notes.length).toBeGreaterThan(50);
    // A row a pad, in their order, each with a name.
    await soon(async () => expect(await page.getByTestId('groove-row').count()).toBe(11));
  });

  test('a press places a stroke and takes it away, a drag up is harder, aside a roll, and back leaves what was', async () => {
    const { page } = session;
    const before = await groove('Night watch');
    const at = await cell('Tom Headrace', 3);
    await page.mouse.click(at.x, at.y);
    const tomOf = (view: GrooveView) => {
      const row = view.rows.find(({ note }) => note === 43);
      return view.notes.filter(({ rowId }) => rowId === row?.id);
    };
    const tom = async () => tomOf(await groove('Night watch'));
    await soon(async () => expect(await tom()).toMatchObject([{ tick: 720, velocity: 100, strokes: 1 }]));
    const drag = async (dx: number, dy: number) => {
      await page.mouse.move(at.x, at.y);
      await page.mouse.down();
      await page.mouse.move(at.x + dx / 2, at.y + dy / 2, { steps: 3 });
      await page.mouse.move(at.x + dx, at.y + dy, { steps: 3 });
      await page.mouse.up();
    };
    await drag(0, 14);
    await soon(async () => expect((await tom())[0]?.velocity).toBeLessThan(90));
    const [soft] = await tom();
    await drag(42, 0);
    await soon(async () => expect((await tom())[0]?.strokes).toBe(4));
    await drag(-42, 0);
    await soon(async () => expect(await tom()).toMatchObject([{ ...soft, rev: expect.any(Number) }]));
    await page.mouse.click(at.x, at.y);
    await soon(async () => expect(await tom()).toEqual([]));
    for (let n = 0; n < 5; n++) await page.keyboard.press('Control+z');
    await soon(async () => expect((await groove('Night watch')).notes).toEqual(before.notes));
  });

  test('while it loops each bar is worked on, the view stays there or goes along, and a bar is played alone', async () => {
    const { page } = session;
    await button('Play').click();
    await soon(async () => expect((await engine()).lapBegan).not.toBeNull());
    const bars = page.getByRole('button', { name: /^Bar \d/ });
    for (const n of [2, 3]) {
      await bars.nth(n - 1).click();
      await soon(async () => expect(await bars.nth(n - 1).getAttribute('aria-pressed')).toBe('true'));
      const at = await cell('Clap Fairground', 16 * (n - 1) + 12);
      await page.mouse.click(at.x, at.y);
    }
    await soon(async () => {
      const { rows, notes } = await groove('Night watch');
      const clap = rows.find(({ note }) => note === 39);
      expect(notes.filter(({ rowId }) => rowId === clap?.id).map(({ tick }) => tick)).toEqual([
        16 * 240 + 2880,
        32 * 240 + 2880,
      ]);
    });
    // It stays on the bar under work however the loop goes on.
    await soon(async () =>
      expect(
        await bars.evaluateAll((all) => all.some((bar) => / is heard/.test(bar.getAttribute('aria-label') ?? ''))),
      ).toBe(true),
    );
    expect(await bars.nth(2).getAttribute('aria-pressed')).toBe('true');
    await choose(page, 'Plays', 'bar');
    // A lap is a bar now: its end is a bar after its beginning.
    await soon(async () => expect(await bars.nth(2).getAttribute('aria-label')).toMatch(/is heard/));
    await button(/^Stays on/).click();
    await choose(page, 'Plays', 'all');
    await soon(async () => expect(await bars.nth(3).getAttribute('aria-pressed')).toBe('true'));
    await button('Goes along').click();
    await button('Stop').click();
    await soon(async () => expect((await engine()).lapBegan).toBeNull());
  });

  test('lengthened, a bar taken out, and undone, nothing is lost', async () => {
    const before = await groove('Night watch');
    await menu('Bars …', /^Repeat all/);
    await soon(async () => expect((await groove('Night watch')).notes).toHaveLength(2 * before.notes.length));
    await menu('Bars …', /^Take bar/);
    await soon(async () => expect((await groove('Night watch')).groove.bars).toBe(7));
    await session.page.keyboard.press('Control+z');
    await session.page.keyboard.press('Control+z');
    await soon(async () => {
      const now = await groove('Night watch');
      expect(now.groove.bars).toBe(4);
      expect(now.notes.map(({ id, tick }) => [id, tick])).toEqual(before.notes.map(({ id, tick }) => [id, tick]));
    });
  });

  test('what is played on the pads while it runs goes into it, where it was heard', async () => {
    const { page } = session;
    await button('Play in').click();
    const before = (await groove('Night watch')).notes.length;
    await button('Play').click();
    await soon(async () => expect((await engine()).lapBegan).not.toBeNull());
    await page.keyboard.press('v');
    await page.waitForTimeout(250);
    await page.keyboard.press('v');
    await soon(async () => expect((await groove('Night watch')).notes).toHaveLength(before + 2));
    const { notes, rows } = await groove('Night watch');
    const row = rows.find(({ note }) => note === 47);
    for (const { tick } of notes.filter(({ rowId }) => rowId === row?.id)) expect(tick % 240).toBe(0);
    await button('Playing in').click();
    await button('Stop').click();
  });
});

test('by keyboard alone: strokes are placed, moved to, made harder, rolled and taken away, and the grid says so', async () => {
  const { page } = session;
  await menu('Grooves', 'An empty groove');
  await page.getByRole('textbox', { name: 'Name of the groove' }).waitFor();
  await soon(async () => expect(await said()).toMatch(/1\.1\.1: empty/));
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('ArrowDown');
  await soon(async () => expect(await said()).toMatch(/^Closed hat Sluice 01, 1\.1\.1: empty/));
  await page.keyboard.press('Enter');
  await soon(async () => expect(await said()).toMatch(/1\.1\.1: velocity \d+/));
  for (let n = 0; n < 4; n++) await page.keyboard.press('ArrowRight');
  await page.keyboard.press('Enter');
  await soon(async () => expect(await said()).toMatch(/1\.2\.1: velocity \d+/));
  await page.keyboard.press('Shift+ArrowDown');
  await page.keyboard.press('Alt+ArrowRight');
  await page.keyboard.press('Alt+ArrowRight');
  await soon(async () => expect(await said()).toMatch(/1\.2\.1: velocity \d+, 3 strokes/));
  await page.keyboard.press(']');
  await soon(async () => expect(await said()).toMatch(/2\.1\.1: empty/));
  await page.keyboard.press('Enter');
  await page.keyboard.press('Space');
  await soon(async () => expect((await engine()).lapBegan).not.toBeNull());
  await page.keyboard.press('Space');
  await soon(async () => expect((await engine()).lapBegan).toBeNull());
  await soon(async () =>
    expect((await groove('Groove')).notes).toMatchObject([{ tick: 0 }, { tick: 960, strokes: 3 }, { tick: 3840 }]),
  );
  await page.keyboard.press('Delete');
  await soon(async () => expect((await groove('Groove')).notes).toHaveLength(2));
});

test('it keeps time by the engine alone while another page is in front and this one does nothing', async () => {
  const { page } = session;
  await menu('Grooves', /^Night watch 4 ·/);
  await button('Play').click();
  await soon(async () => expect((await engine()).lapBegan).not.toBeNull());
  const { length } = (await groove('Night watch')).notes;
  const from = await engine();
  const other = await page.context().newPage();
  await other.goto(`${session.server.address}/kits`);
  await other.bringToFront();
  // The page's own thread stands still for most of it.
  await page.evaluate(() => {
    const until = performance.now() + 30_000;
    while (performance.now() < until);
  });
  const to = await engine();
  await other.close();
  const lap = Math.round((4 * 4 * 60 * from.sampleRate) / 94);
  const laps = (to.frame - from.frame) / lap;
  expect(laps).toBeGreaterThan(1.5);
  // So many strokes as lie in so many laps, rolls and rows without a pad aside: within what a lap's fraction can hold.
  expect(Math.abs(to.struck - from.struck - laps * length)).toBeLessThan(length * 0.35 + 4);
  // Laps lie end to end, to the frame.
  const apart = (to.lapBegan as number) - (from.lapBegan as number);
  expect(Math.abs(apart - Math.round(apart / lap) * lap)).toBeLessThan(Math.max(2, laps));
  await button('Stop').click();
});

test('kits change under it, and the groove goes on while another place is open', async () => {
  const { page } = session;
  const answer = await client.post(`/api/supplied?browser=${client.browser}`, {});
  const { kitId } = answer.body as { kitId: string };
  await button('Play').click();
  await soon(async () => expect((await engine()).lapBegan).not.toBeNull());
  await page.getByRole('link', { name: 'Kits', exact: true }).click();
  await page.getByRole('tab', { name: 'All kits', exact: true }).click();
  await page.getByTestId('kit-row').filter({ hasText: 'Starter kit' }).click();
  await soon(async () =>
    expect((await client.get<KitListEntry[]>('/api/kits')).some(({ id }) => id === kitId)).toBe(true),
  );
  await page.locator('[data-position="0"][data-state="ready"]').waitFor();
  const before = await engine();
  await soon(async () => expect((await engine()).struck).toBeGreaterThan(before.struck + 4));
  await page.getByRole('link', { name: 'Grooves' }).click();
  await button('Stop').click();
  await soon(async () => expect(await page.getByTestId('groove-row').count()).toBe(32));
});

describe('out and in', () => {
  test('the MIDI file that leaves is read by another reader, and comes in again as the same strokes', async () => {
    const { page } = session;
    const [saved] = await Promise.all([
      page.waitForEvent('download'),
      menu('Take it out …', 'MIDI file, a track a row'),
    ]);
    const path = await saved.path();
    const midi = parseMidi(readFileSync(path));
    expect(midi.header).toMatchObject({ format: 1, ticksPerBeat: 960 });
    const { notes } = await groove('Night watch');
    const ons = midi.tracks.flatMap((track) => track.filter(({ type }) => type === 'noteOn'));
    expect(ons.length).toBeGreaterThanOrEqual(notes.length);
    await page.getByLabel('MIDI file', { exact: true }).setInputFiles({
      name: 'Again.mid',
      mimeType: 'audio/midi',
      buffer: readFileSync(path),
    });
    await soon(async () =>
      expect(await list()).toContainEqual(
        expect.objectContaining({ name: 'Night watch 2', bars: 4, noteCount: ons.length }),
      ),
    );
    const name = page.getByRole('textbox', { name: 'Name of the groove' });
    await soon(async () => expect(await name.inputValue()).toBe('Night watch 2'));
  });

  test('a file that is none is refused in words', async () => {
    const { page } = session;
    await page.getByLabel('MIDI file', { exact: true }).setInputFiles({
      name: 'Letter.mid',
      mimeType: 'audio/midi',
      buffer: Buffer.from('Dear miller, the river is high.'),
    });
    await page.getByText(/Letter\.mid: This is no Standard MIDI File/).waitFor();
  });

  test('the rhythm of a recording becomes a groove of roles', async () => {
    await menu('Grooves', /Sluice loop/);
    await soon(async () =>
      expect((await list()).find(({ name }) => name === 'Sluice loop')?.noteCount).toBeGreaterThan(12),
    );
    const { rows } = await groove('Sluice loop');
    const families = new Set(rows.map(({ family }) => family));
    for (const family of ['kick', 'snare', 'closed hat'] as const) expect(families).toContain(family);
  });

  test('played by the kit it is a zip of the whole and a stem a pad, with the credits', async () => {
    const { page } = session;
    await menu('Grooves', /^Night watch 4 ·/);
    const [saved] = await Promise.all([page.waitForEvent('download'), menu('Take it out …', 'WAV and a stem a pad')]);
    const files = unzipSync(readFileSync(await saved.path()));
    const names = Object.keys(files);
    expect(names).toContain('credits.txt');
    expect(names.filter((name) => name.startsWith('stems/')).length).toBeGreaterThanOrEqual(4);
    const lengths = names
      .filter((name) => name.endsWith('.wav'))
      .map((name) => {
        const { audio } = readWav(files[name] as Uint8Array);
        expect(peakOf(audio.channels)).toBeGreaterThan(0.01);
        return frameCount(audio);
      });
    // All as long as one another, and no shorter than four bars at 94 BPM.
    expect(new Set(lengths).size).toBe(1);
    expect(lengths[0]).toBeGreaterThanOrEqual(Math.round((16 * 60 * 48_000) / 94));
  });
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints).toEqual([]);
});
