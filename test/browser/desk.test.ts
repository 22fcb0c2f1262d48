import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { begin, type Session, saved, soon, startServer } from '../harness';
import { Client } from '../server/client';
import { choose, Hand, openSlice, press, setNumber, sliceCount } from './gestures';

let session: Session;
let page: Page;
let hand: Hand;

beforeAll(async () => {
  session = await begin();
  page = session.page;
  hand = new Hand(session);
});

afterAll(() => session?.end());

describe('sound', () => {
  test('one key stops everything, and the status line says which', async () => {
    await openSlice(session, "Lock-keeper's waltz");
    await page.locator('h1').click();
    await page.keyboard.press('Shift+F9');
    await page.getByTestId('stops').getByText('0 stops all sound').waitFor();
    await page.keyboard.press('0');
    await soon(async () => expect(await page.getByTestId('voices').textContent()).toBe('0 voices'));
  });

  test('the lamp stays lit once the output went over full scale, until it is put out', async () => {
    await hand.open('/kits');
    await hand.pad(1).click();
    await hand.setParameter('Level', '24');
    await saved(page);
    await hand.ready(1);
    await soon(async () => {
      await hand.pad(1).click({ position: { x: 40, y: 4 } });
      expect(await page.getByTestId('over').textContent()).toMatch(/over \+\d/);
    });
    await page.keyboard.press('0');
    await soon(async () => expect(await page.getByTestId('voices').textContent()).toBe('0 voices'));
    expect(await page.getByTestId('over').textContent()).toMatch(/over \+\d/);
    await page.getByTestId('over').click();
    expect(await page.getByTestId('over').textContent()).toBe('over');
    await page.keyboard.press('Control+z');
    await saved(page);
  });
});

describe('names, search and tables', () => {
  test('a naming pattern belongs to its recording', async () => {
    await openSlice(session, 'Headrace loop');
    await press(page, 'Plan …');
    await page.getByLabel('Name pattern').fill('{number} {family}');
    await page.getByLabel('Name pattern').press('Enter');
    await saved(page);
    await page.keyboard.press('Escape');
    const shown = (n: number) => page.getByLabel(`Name of slice ${n}`, { exact: true }).getAttribute('placeholder');
    await soon(async () => expect(await shown(3)).toMatch(/^03 /));
    await openSlice(session, 'Sluice loop');
    expect(await shown(3)).toMatch(/ Sluice 03$|^Sluice 03$/);
  });

  test('search goes into the list on Enter, keeps what was typed on Escape, and knows a duplicate’s other name', async () => {
    const samples = Float32Array.from({ length: 30_000 }, (_, i) => Math.sin(i * 0.05) * Math.exp(-i / 3000));
    const bytes = writeWav({ sampleRate: 44100, channels: [samples] }, 's16');
    const client = new Client(session.server.address);
    const { recordingId: id } = await client.import('Copper bowl.wav', bytes);
    await client.import('Kitchen find.wav', bytes);
    await hand.open('/recordings');
    const search = page.getByLabel('Search recordings');
    await search.fill('kitchen find');
    await page.locator(`[data-recording="${id}"]`).waitFor();
    await search.press('Escape');
    expect(await search.inputValue()).toBe('kitchen find');
    await search.press('Enter');
    expect(await search.evaluate((field) => field === document.activeElement)).toBe(false);
    // Typed before the box and its list are there, it is kept from the page, and stands in the box.
    let listHits = () => {};
    const asked = new Promise<void>((resolve) => {
      listHits = resolve;
    });
    await page.route('**/api/hits**', async (route) => {
      await asked;
      await route.continue();
    });
    await page.keyboard.press('Control+k');
    await page.keyboard.type('kick sluice 01');
    await soon(async () =>
      expect(await page.getByRole('dialog').getByRole('combobox').inputValue()).toBe('kick sluice 01'),
    );
    listHits();
    await chosenInBox('Kick Sluice 01');
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/hits\?hit=/);
    await page.keyboard.press('Control+Shift+Digit4');
    await page.waitForURL(/\/kits$/);
    await page.keyboard.press('Control+k');
    await page.keyboard.type('go to hits');
    await chosenInBox('Hits');
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/hits$/);
  });

  test('Shift and a click take rows as they are sorted; they get a family and a name at once; padlocks are in reach', async () => {
    await openSlice(session, 'Headrace loop');
    await page.getByRole('button', { name: 'Length' }).click();
    const rows = page.locator('[data-testid=slice-row]');
    const at = { position: { x: 14, y: 12 } };
    await rows.nth(1).click(at);
    await rows.nth(3).click({ ...at, modifiers: ['Shift'] });
    await page.getByText('3 chosen', { exact: true }).waitFor();
    const numbers = await rows.evaluateAll((all) => all.slice(1, 4).map((row) => row.firstElementChild?.textContent));
    await choose(page, 'Family of those chosen', 'rim');
    await page.getByLabel('Name of those chosen').fill('Tick');
    await page.getByLabel('Name of those chosen').press('Enter');
    await saved(page);
    const named = session.ask<{ name: string }>(
      "SELECT name FROM slice WHERE recording_id = ? AND family = 'rim' AND name LIKE 'Tick %' ORDER BY name",
      hand.recordingId('Headrace loop'),
    );
    expect(named.map((s) => s.name)).toEqual(['Tick 01', 'Tick 02', 'Tick 03']);
    expect(numbers).toHaveLength(3);
    const padlock = await page
      .getByLabel(/^Lock slice/)
      .first()
      .boundingBox();
    const table = await page.getByLabel('Slices', { exact: true }).boundingBox();
    expect((padlock?.x ?? 0) + (padlock?.width ?? 0)).toBeLessThanOrEqual((table?.x ?? 0) + (table?.width ?? 0));
    await page.keyboard.press('Control+z');
    await page.keyboard.press('Control+z');
    await saved(page);
  });

  test('every way to split takes a greatest number of slices', async () => {
    await openSlice(session, 'Sluice loop');
    await press(page, 'Grid');
    await setNumber(page, 'Tempo', '94');
    await soon(async () => expect(await sliceCount(page)).toBe(16));
    await press(page, 'More settings of the grid');
    await setNumber(page, 'At most', '5');
    await soon(async () => expect(await sliceCount(page)).toBe(5));
    await page.keyboard.press('Escape');
    await press(page, 'Attack');
    await soon(async () => expect(await sliceCount(page)).toBe(5));
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
    await saved(page);
  });
});

describe('files in', () => {
  test('one file is shown at once, says what became of it, and covers neither pads nor messages', async () => {
    const samples = Float32Array.from(
      { length: 400_000 },
      (_, i) => Math.sin(i * 0.03) * Math.exp(-(i % 40_000) / 3000),
    );
    writeFileSync(join(session.folder, 'Yard gate.wav'), writeWav({ sampleRate: 44100, channels: [samples] }, 's16'));
    await hand.open('/recordings');
    await page.locator('[data-testid=recording]').first().waitFor();
    await page.getByLabel('Search recordings').fill('Sluice');
    await page.getByTestId('file-input').setInputFiles(join(session.folder, 'Yard gate.wav'));
    const chosen = page.locator('[data-testid=recording][data-chosen]').getByLabel('Title');
    await soon(async () => expect(await chosen.inputValue()).toBe('Yard gate'));
    const panel = page.getByLabel('Imports', { exact: true });
    await panel.getByText(/a recording, \d+ slices|the hit/).waitFor();
    await panel.getByText(/rights are unknown/).waitFor();
    const [box, top] = [await panel.boundingBox(), await hand.pad(31).boundingBox()];
    expect((box?.y ?? 0) + (box?.height ?? 0)).toBeLessThan(top?.y ?? 0);
    await panel.getByRole('link', { name: 'Yard gate.wav' }).click();
    await page.waitForURL(/\/slice\//);
    await page.locator('h1').getByText('Yard gate').waitFor();
    await page.getByLabel('Close the list of imports').click();
  });
});

describe('windows', () => {
  test.each([
    [1024, 700],
    [1280, 800],
    [1920, 1080],
  ])('at %d by %d nothing runs off or over another', async (width, height) => {
    await page.setViewportSize({ width, height });
    const inside = async (what: string, box: { x: number; y: number; width: number; height: number } | null) => {
      expect([what, box !== null]).toEqual([what, true]);
      if (!box) return;
      expect([what, box.x >= -1 && box.x + box.width <= width + 1]).toEqual([what, true]);
      expect([what, box.y >= -1 && box.y + box.height <= height + 1]).toEqual([what, true]);
    };
    await hand.open(`/slice/${hand.recordingId('Sluice loop')}`);
    await page.getByTestId('stage').waitFor();
    for (const way of ['Attack', 'Silence', 'Grid']) {
      await page.getByRole('button', { name: way, exact: true }).click();
      await inside(`Fill the pads by ${way}`, await page.getByRole('button', { name: 'Fill the pads' }).boundingBox());
    }
    await page.getByRole('button', { name: 'Attack', exact: true }).click();
    await saved(page);
    for (const position of [0, 7, 24, 31]) await inside(`pad ${position}`, await hand.pad(position).boundingBox());
    await inside('lamp', await page.getByTestId('over').boundingBox());
    const [kitLine, firstPad] = [await page.getByText(/of 128 pads/).boundingBox(), await hand.pad(24).boundingBox()];
    expect((kitLine?.y ?? 0) + (kitLine?.height ?? 0)).toBeLessThanOrEqual(firstPad?.y ?? 0);
    await hand.open('/kits');
    await hand.pad(1).click();
    await inside('export', await page.getByRole('button', { name: 'Export zip …' }).boundingBox());
    for (const position of [0, 7, 24, 31])
      await inside(`large pad ${position}`, await hand.pad(position).boundingBox());
    expect(await page.evaluate(() => document.documentElement.scrollWidth > innerWidth + 1)).toBe(false);
  });

  test('a narrower window shows the same stretch of the wave', async () => {
    await page.setViewportSize({ width: 1280, height: 800 });
    await openSlice(session, 'Sluice loop');
    const last = page.locator('[data-keystone]').last();
    await last.waitFor();
    await page.setViewportSize({ width: 1024, height: 700 });
    await soon(async () => {
      const box = await last.boundingBox();
      expect(box && box.x + box.width).toBeLessThan(1024);
      expect(box?.x).toBeGreaterThan(850);
    });
    await page.setViewportSize({ width: 1280, height: 800 });
  });
});

describe('the server away', () => {
  test('edits wait, the page stays and says so, and they are sent when it is back', async () => {
    await hand.open('/kits');
    await hand.pad(9).click();
    const port = Number(new URL(session.server.address).port);
    await session.server.kill();
    const name = page.getByLabel('Name of the pad', { exact: true });
    await name.fill('Kept while away');
    await name.press('Enter');
    await page
      .getByTestId('saved')
      .getByText(/Not saved yet/)
      .waitFor();
    await hand.setParameter('Level', '-5');
    await hand.pad(9).getByText('Kept while away').waitFor();
    session.server = await startServer(session.server.workspace, port);
    await saved(page);
    const [stored] = session.ask<{ name: string; level: number }>(
      "SELECT name, settings ->> 'levelDb' AS level FROM pad WHERE name = 'Kept while away'",
    );
    expect(stored).toEqual({ name: 'Kept while away', level: -5 });
  });
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints.filter((text) => !/ERR_CONNECTION|Failed to fetch|net::/.test(text))).toEqual([]);
});

/** Waits until Enter would take what goes by this name. */
async function chosenInBox(name: string): Promise<void> {
  const chosen = page.getByRole('dialog').locator('[role=option][data-focus]');
  await chosen.filter({ hasText: name }).waitFor();
}
