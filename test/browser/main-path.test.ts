import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { begin, type Session, saved, soon } from '../harness';
import { choose, drag, shown, sliceCount } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

const rows = () => page.locator('[data-testid=slice-row]');
const undo = () => page.keyboard.press('Control+z');
const pad = (position: number) => page.locator(`[data-position="${position}"]`);
/** Strikes that the audio thread has taken so far. */
const strikes = () =>
  page.evaluate(
    () =>
      (globalThis as never as { undercroftSound: { engine: { strikes: { received: number } } } }).undercroftSound
        ?.engine.strikes.received ?? 0,
  );
const strikesOver = (n: number) =>
  page.waitForFunction(
    (least) =>
      ((globalThis as never as { undercroftSound: { engine: { strikes: { received: number } } } }).undercroftSound
        ?.engine.strikes.received ?? 0) > least,
    n,
  );

async function openSlice(title: string): Promise<void> {
  await page.goto(`${session.server.address}/recordings`);
  await page
    .locator('[data-testid=recording]')
    .filter({ has: page.locator(`input[value="${title}"]`) })
    .dblclick({ position: { x: 700, y: 30 } });
  await rows().first().waitFor();
}

/** Where a frame of the recording is on the stage while all of it is shown. */
async function at(frame: number, frames: number): Promise<{ x: number; y: number }> {
  const box = await page.locator('[data-testid=stage]').boundingBox();
  if (!box) throw new Error('no stage');
  return { x: box.x + (frame / frames) * box.width, y: box.y + 200 };
}

const SLUICE = { frames: 238421, rate: 44100 };

describe('recordings', () => {
  test('the demo recordings stand with length and format, and the next step is named', async () => {
    await page.goto(session.server.address);
    await page.locator('[data-testid=recording]').first().waitFor();
    await soon(async () =>
      expect(await page.locator('[data-testid=recording]').first().textContent()).toMatch(
        /5\.41 s.*WAV 24-bit.*44\.1 kHz stereo.*94/,
      ),
    );
    await soon(async () => expect(await page.getByText(/^17 · /).count()).toBe(1));
    await soon(async () => expect(await page.getByRole('button', { name: 'Slice it' }).isEnabled()).toBe(true));
  });

  test('several files at once: the good come in, the broken one says why, the same audio twice is known', async () => {
    const loop = Float32Array.from({ length: 30000 }, (_, i) =>
      i % 9000 < 3000 ? Math.sin(i * 0.2) * Math.exp(-(i % 9000) / 700) : 0,
    );
    const good = Buffer.from(writeWav({ sampleRate: 48000, channels: [loop] }, 's16'));
    await page.getByTestId('file-input').setInputFiles([
      { name: 'dripping "tap" / 1.wav', mimeType: 'audio/wav', buffer: good },
      { name: 'letter.wav', mimeType: 'audio/wav', buffer: Buffer.from('Dear all, this is no sound.') },
      { name: 'nothing.wav', mimeType: 'audio/wav', buffer: Buffer.alloc(0) },
    ]);
    const list = page.getByRole('region', { name: 'Imports' });
    await list.getByText('2 could not be read').waitFor();
    await page.getByTestId('file-input').setInputFiles([{ name: 'again.wav', mimeType: 'audio/wav', buffer: good }]);
    await list.getByText(/The same audio is here already/).waitFor();
    const text = (await list.textContent()) ?? '';
    expect(text).toMatch(/letter\.wav.*This is not a sound file that can be read/);
    expect(text).toMatch(/nothing\.wav.*The file is empty \(0 bytes\)/);
    await soon(async () => expect(await page.getByText(/^18 · /).count()).toBe(1));
    await page.getByLabel('Close the list of imports').click();
  });

  test('renaming and rights are kept, and undone', async () => {
    await page.getByLabel('Search recordings').fill('dripping');
    const row = page.locator('[data-testid=recording]');
    await row.first().click();
    await soon(async () => expect(await row.count()).toBe(1));
    await row.getByLabel('Title').fill('Dripping tap');
    await row.getByLabel('Title').press('Enter');
    await choose(page, 'Rights', 'cc0');
    await saved(page);
    await page.reload();
    await page.getByLabel('Search recordings').fill('dripping');
    await row.first().click();
    await soon(async () => expect(await row.getByLabel('Title').inputValue()).toBe('Dripping tap'));
    await soon(async () => expect(await shown(page, 'Rights')).toBe('CC0 1.0'));
    await page.locator('h1').click();
    await undo();
    await soon(async () => expect(await shown(page, 'Rights')).toBe('unknown'));
    await soon(async () => expect(await row.textContent()).toMatch(/unknown/));
  });
});

describe('slice', () => {
  test('marks are there, and the sensitivity moves them while it is dragged; letting go is one edit', async () => {
    await openSlice('Sluice loop');
    const before = await sliceCount(page);
    expect(before).toBeGreaterThan(14);
    const slider = page.getByLabel('Sensitivity');
    const box = await slider.boundingBox();
    if (!box) throw new Error('no slider');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + 4, box.y + box.height / 2, { steps: 5 });
    const during = await sliceCount(page);
    expect(during).toBeLessThan(before);
    await page.mouse.up();
    await saved(page);
    await soon(async () => expect(await sliceCount(page)).toBe(during));
    await page.locator('h1').click();
    await undo();
    await page.waitForFunction(
      (n) => document.querySelector('h1 + span')?.textContent?.includes(`${n} slices`),
      before,
    );
    await soon(async () => expect(await page.getByLabel('Sensitivity').inputValue()).toBe('50'));
  });

  test('the arrow keys step from slice to slice, and each sounds', async () => {
    const before = await strikes();
    await page.keyboard.press('ArrowRight');
    await strikesOver(before);
    await page.keyboard.press('ArrowRight');
    await strikesOver(before + 1);
    await page
      .locator('footer')
      .getByText(/^Slice 2 of/)
      .waitFor();
    await soon(async () => expect(await rows().nth(1).getAttribute('data-chosen')).toBe('true'));
  });

  test('a mark is added by double click, moved by dragging, its end dragged, and deleted; each undone and done again', async () => {
    const before = await sliceCount(page);
    const rest = await at(1.45 * SLUICE.rate, SLUICE.frames);
    await page.mouse.dblclick(rest.x, rest.y);
    await saved(page);
    await soon(async () => expect(await sliceCount(page)).toBe(before + 1));
    const chosen = () => page.locator('[data-chosen]').textContent();
    const made = await chosen();
    expect(made).toMatch(/1\.4[45]\d\d s/);
    await drag(page, rest, { x: rest.x - 20, y: rest.y });
    await saved(page);
    // "Saved" may still tell of what was before the drag.
    await soon(async () => expect(await chosen()).toMatch(/1\.3[567]\d\d s/));
    const moved = await chosen();
    await page.keyboard.press('Shift+ArrowDown');
    await saved(page);
    await soon(async () => expect(await chosen()).not.toBe(moved));
    await page.locator('h1').click();
    await page.keyboard.press('Delete');
    await saved(page);
    await soon(async () => expect(await sliceCount(page)).toBe(before));
    for (let i = 0; i < 4; i++) await undo();
    await page.waitForFunction(
      (n) => document.querySelector('h1 + span')?.textContent?.includes(`${n} slices`),
      before,
    );
    await page.keyboard.press('Control+Shift+z');
    await page.waitForFunction(
      (n) => document.querySelector('h1 + span')?.textContent?.includes(`${n} slices`),
      before + 1,
    );
    await undo();
    await page.waitForFunction(
      (n) => document.querySelector('h1 + span')?.textContent?.includes(`${n} slices`),
      before,
    );
  });

  test('the loupe moves an edge by one sample', async () => {
    await rows()
      .nth(2)
      .click({ position: { x: 20, y: 10 } });
    const read = () => {
      const [row] = session.ask<{ f: number }>(
        "SELECT s.start_frame AS f FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = 'Sluice loop' ORDER BY s.start_frame LIMIT 1 OFFSET 2",
      );
      return row?.f ?? -1;
    };
    const before = read();
    await page.getByTestId('loupe-start').getByRole('button', { name: '+1 sample' }).click();
    await saved(page);
    expect(read()).toBe(before + 1);
  });

  test('zoom keeps the sound under the pointer where it is, and fit shows everything again', async () => {
    const spot = await at(0.65 * SLUICE.rate, SLUICE.frames);
    await page.mouse.move(spot.x, spot.y);
    await page.mouse.wheel(0, -600);
    await page.waitForTimeout(150);
    await page.mouse.click(spot.x + 5, spot.y);
    await soon(async () => expect(await page.locator('[data-chosen]').textContent()).toMatch(/0\.6[56]\d\d s/));
    await page.keyboard.press(']');
    await page.waitForTimeout(100);
  });
});

describe('pads', () => {
  test('a keystone dragged onto an empty pad lays a named sound there, which lights and sounds on its key', async () => {
    await choose(rows().nth(2), 'Family of slice 3', 'snare');
    await saved(page);
    const stone = await page.locator('[data-keystone="3"]').boundingBox();
    const target = await pad(10).boundingBox();
    if (!stone || !target) throw new Error('nothing to drag');
    await drag(page, { x: stone.x + 12, y: stone.y + 12 }, { x: target.x + 30, y: target.y + 20 });
    await saved(page);
    await soon(async () => expect(await pad(10).textContent()).toMatch(/Snare Sluice 03/));
    await page.waitForSelector('[data-position="10"][data-state=ready]');
    const before = await strikes();
    await page.keyboard.down('d');
    await soon(async () => expect(await pad(10).getAttribute('data-lit')).toBe('true'));
    await strikesOver(before);
    await page.keyboard.up('d');
    await page.waitForFunction(() => document.querySelector('[data-position="10"]')?.getAttribute('data-lit') === null);
    await page.mouse.move(target.x + 20, target.y + 5);
    await page.mouse.down();
    await soon(async () => expect(await pad(10).getAttribute('data-lit')).toBe('true'));
    await strikesOver(before + 1);
    await page.mouse.up();
  });

  test('a sound dropped on a pad that has one lies beside it, and is another take by one click', async () => {
    const stone = await page.locator('[data-keystone="1"]').boundingBox();
    const target = await pad(10).boundingBox();
    if (!stone || !target) throw new Error('nothing to drag');
    await drag(page, { x: stone.x + 12, y: stone.y + 12 }, { x: target.x + 30, y: target.y + 20 });
    await saved(page);
    const onPad = (table: string) =>
      session.ask(`SELECT u.id FROM ${table} u JOIN pad p ON p.id = u.pad_id WHERE p.position = 10`).length;
    await soon(() => expect(onPad('layer')).toBe(2));
    // The page goes on under the offer: the pad is struck and the offer stays.
    await page.getByRole('toolbar', { name: 'How it lies on the pad' }).waitFor();
    await page.keyboard.press('KeyD');
    await page.getByRole('button', { name: 'As another take' }).click();
    await saved(page);
    expect([onPad('layer'), onPad('variation')]).toEqual([1, 1]);
    await page.keyboard.press('Control+z');
    await soon(() => expect([onPad('layer'), onPad('variation')]).toEqual([2, 0]));
  });

  test('a stretch marked on the wave is dragged to a pad as it stands', async () => {
    const from = await at(2.95 * SLUICE.rate, SLUICE.frames);
    const to = await at(3.15 * SLUICE.rate, SLUICE.frames);
    await drag(page, from, to);
    const handle = await page.getByTestId('stretch-handle').boundingBox();
    const target = await pad(26).boundingBox();
    if (!handle || !target) throw new Error('nothing to drag');
    await drag(page, { x: handle.x + 40, y: handle.y + 14 }, { x: target.x + 30, y: target.y + 20 });
    await saved(page);
    // The pad's note is one of percussion's, and the stretch had no family of its own.
    await pad(26).getByText('Percussion Sluice 01').waitFor();
  });

  test('filling lays every slice in order on the free pads, as one edit', async () => {
    const filled = () => page.locator('[data-testid=pads] button[data-state]').count();
    const before = await filled();
    await page.getByRole('button', { name: 'Fill the pads' }).click();
    await saved(page);
    await soon(async () => expect(await filled()).toBe(Math.min(32, before + (await sliceCount(page)))));
    await page.locator('h1').click();
    await undo();
    await page.waitForFunction(
      (n) => document.querySelectorAll('[data-testid=pads] button[data-state]').length === n,
      before,
    );
  });
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints).toEqual([]);
});
