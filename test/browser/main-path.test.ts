import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import type { Page } from 'playwright-core';
import { readWav, writeWav } from '../../src/core/format/wav';
import { begin, type Session, saved, startServer, undercroft } from '../harness';
import { readSfz } from '../sfz-reader';

jest.setTimeout(120_000);

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

const rows = () => page.locator('[data-testid=slice-row]');
const count = async () => Number(/(\d+) slices/.exec((await page.locator('h1 + span').textContent()) ?? '')?.[1]);
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

async function dragTo(from: { x: number; y: number }, to: { x: number; y: number }): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
  // A hand rests for a moment; what lies under the pointer is found with the next frame.
  await page.waitForTimeout(60);
  await page.mouse.up();
}

const SLUICE = { frames: 238421, rate: 44100 };

describe('recordings', () => {
  test('the demo recordings stand with length and format, and the next step is named', async () => {
    await page.goto(session.server.address);
    await page.locator('[data-testid=recording]').first().waitFor();
    expect(await page.locator('[data-testid=recording]').first().textContent()).toMatch(
      /5\.41 s.*WAV 24-bit.*44\.1 kHz stereo.*94/,
    );
    expect(await page.getByText(/^17 · /).count()).toBe(1);
    expect(await page.getByRole('button', { name: 'Slice it' }).isEnabled()).toBe(true);
  });

  test('several files at once: the good come in, the broken one says why, the same audio twice is known', async () => {
    const loop = Float32Array.from({ length: 30000 }, (_, i) =>
      i % 9000 < 3000 ? Math.sin(i * 0.2) * Math.exp(-(i % 9000) / 700) : 0,
    );
    const good = Buffer.from(writeWav({ sampleRate: 48000, channels: [loop] }, 's16'));
    await page.getByTestId('file-input').setInputFiles([
      { name: 'dripping "tap" / 1.wav', mimeType: 'audio/wav', buffer: good },
      { name: 'again.wav', mimeType: 'audio/wav', buffer: good },
      { name: 'letter.wav', mimeType: 'audio/wav', buffer: Buffer.from('Dear all, this is no sound.') },
      { name: 'nothing.wav', mimeType: 'audio/wav', buffer: Buffer.alloc(0) },
    ]);
    const list = page.getByRole('region', { name: 'Imports' });
    await list.getByText('2 could not be read').waitFor();
    const text = (await list.textContent()) ?? '';
    expect(text).toMatch(/The same audio is here already/);
    expect(text).toMatch(/letter\.wav.*This is not a sound file that can be read/);
    expect(text).toMatch(/nothing\.wav.*The file is empty \(0 bytes\)/);
    expect(await page.getByText(/^18 · /).count()).toBe(1);
    await page.getByLabel('Close the list of imports').click();
  });

  test('renaming and rights are kept, and undone', async () => {
    await page.getByLabel('Search recordings').fill('dripping');
    const row = page.locator('[data-testid=recording]');
    await row.first().click();
    expect(await row.count()).toBe(1);
    await row.getByLabel('Title').fill('Dripping tap');
    await row.getByLabel('Title').press('Enter');
    await page.getByLabel('Rights', { exact: true }).selectOption('cc0');
    await saved(page);
    await page.reload();
    await page.getByLabel('Search recordings').fill('dripping');
    await row.first().click();
    expect(await row.getByLabel('Title').inputValue()).toBe('Dripping tap');
    expect(await page.getByLabel('Rights', { exact: true }).inputValue()).toBe('cc0');
    await page.locator('h1').click();
    await undo();
    await page.waitForFunction(
      () => document.querySelector<HTMLSelectElement>('select[aria-label=Rights]')?.value === 'unknown',
    );
    expect(await row.textContent()).toMatch(/unknown/);
  });
});

describe('slice', () => {
  test('marks are there, and the sensitivity moves them while it is dragged; letting go is one edit', async () => {
    await openSlice('Sluice loop');
    const before = await count();
    expect(before).toBeGreaterThan(14);
    const slider = page.getByLabel('Sensitivity');
    const box = await slider.boundingBox();
    if (!box) throw new Error('no slider');
    await page.mouse.move(box.x + box.width / 2, box.y + box.height / 2);
    await page.mouse.down();
    await page.mouse.move(box.x + 4, box.y + box.height / 2, { steps: 5 });
    const during = await count();
    expect(during).toBeLessThan(before);
    await page.mouse.up();
    await saved(page);
    expect(await count()).toBe(during);
    await page.locator('h1').click();
    await undo();
    await page.waitForFunction(
      (n) => document.querySelector('h1 + span')?.textContent?.includes(`${n} slices`),
      before,
    );
    expect(await page.getByLabel('Sensitivity').inputValue()).toBe('50');
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
    expect(await rows().nth(1).getAttribute('data-chosen')).toBe('true');
  });

  test('a mark is added by double click, moved by dragging, its end dragged, and deleted; each undone and done again', async () => {
    const before = await count();
    const rest = await at(1.45 * SLUICE.rate, SLUICE.frames);
    await page.mouse.dblclick(rest.x, rest.y);
    await saved(page);
    expect(await count()).toBe(before + 1);
    const chosen = () => page.locator('[data-chosen]').textContent();
    const made = await chosen();
    expect(made).toMatch(/1\.4[45]\d\d s/);
    await dragTo(rest, { x: rest.x - 20, y: rest.y });
    await saved(page);
    const moved = await chosen();
    expect(moved).toMatch(/1\.3[567]\d\d s/);
    await page.keyboard.press('Shift+ArrowDown');
    await saved(page);
    expect(await chosen()).not.toBe(moved);
    await page.locator('h1').click();
    await page.keyboard.press('Delete');
    await saved(page);
    expect(await count()).toBe(before);
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
      const db = new Database(session.server.workspace, { readonly: true });
      const row = db
        .prepare(
          "SELECT s.start_frame AS f FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = 'Sluice loop' ORDER BY s.start_frame LIMIT 1 OFFSET 2",
        )
        .get() as { f: number };
      db.close();
      return row.f;
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
    expect(await page.locator('[data-chosen]').textContent()).toMatch(/0\.6[56]\d\d s/);
    await page.keyboard.press(']');
    await page.waitForTimeout(100);
  });
});

describe('pads', () => {
  test('a keystone dragged onto an empty pad lays a named sound there, which lights and sounds on its key', async () => {
    await rows().nth(2).getByLabel('Family of slice 3').selectOption('snare');
    await saved(page);
    const stone = await page.locator('[data-keystone="3"]').boundingBox();
    const target = await pad(10).boundingBox();
    if (!stone || !target) throw new Error('nothing to drag');
    await dragTo({ x: stone.x + 12, y: stone.y + 12 }, { x: target.x + 30, y: target.y + 20 });
    await saved(page);
    expect(await pad(10).textContent()).toMatch(/Snare Sluice 3/);
    await page.waitForSelector('[data-position="10"][data-state=ready]');
    const before = await strikes();
    await page.keyboard.down('d');
    expect(await pad(10).getAttribute('data-lit')).toBe('true');
    await strikesOver(before);
    await page.keyboard.up('d');
    await page.waitForFunction(() => document.querySelector('[data-position="10"]')?.getAttribute('data-lit') === null);
    await page.mouse.move(target.x + 20, target.y + 5);
    await page.mouse.down();
    expect(await pad(10).getAttribute('data-lit')).toBe('true');
    await strikesOver(before + 1);
    await page.mouse.up();
  });

  test('dropping on a pad that has a sound asks; beside it makes a layer', async () => {
    const stone = await page.locator('[data-keystone="1"]').boundingBox();
    const target = await pad(10).boundingBox();
    if (!stone || !target) throw new Error('nothing to drag');
    await dragTo({ x: stone.x + 12, y: stone.y + 12 }, { x: target.x + 30, y: target.y + 20 });
    await page.getByRole('menuitem', { name: /Beside it/ }).click();
    await saved(page);
    const db = new Database(session.server.workspace, { readonly: true });
    const { n } = db
      .prepare('SELECT count(*) AS n FROM layer l JOIN pad p ON p.id = l.pad_id WHERE p.position = 10')
      .get() as { n: number };
    db.close();
    expect(n).toBe(2);
  });

  test('a stretch marked on the wave is dragged to a pad as it stands', async () => {
    const from = await at(2.95 * SLUICE.rate, SLUICE.frames);
    const to = await at(3.15 * SLUICE.rate, SLUICE.frames);
    await dragTo(from, to);
    const handle = await page.getByTestId('stretch-handle').boundingBox();
    const target = await pad(26).boundingBox();
    if (!handle || !target) throw new Error('nothing to drag');
    await dragTo({ x: handle.x + 40, y: handle.y + 14 }, { x: target.x + 30, y: target.y + 20 });
    await saved(page);
    // The pad's note is one of percussion's, and the stretch had no family of its own.
    await pad(26).getByText('Percussion Sluice 1').waitFor();
  });

  test('filling lays every slice in order on the free pads, as one edit', async () => {
    const filled = () => page.locator('[data-testid=pads] button[data-state]').count();
    const before = await filled();
    await page.getByRole('button', { name: 'Fill the pads' }).click();
    await saved(page);
    expect(await filled()).toBe(Math.min(32, before + (await count())));
    await page.locator('h1').click();
    await undo();
    await page.waitForFunction(
      (n) => document.querySelectorAll('[data-testid=pads] button[data-state]').length === n,
      before,
    );
  });
});

describe('kits', () => {
  test('a pad is renamed, levelled, normalised, tuned, panned, and set to play while held', async () => {
    await page.getByRole('link', { name: 'Kits', exact: true }).click();
    await pad(8).click();
    const name = page.getByLabel('Name of the pad');
    await name.fill('Snare main');
    await name.press('Enter');
    const type = async (label: string, value: string) => {
      const field = page.getByRole('textbox', { name: label, exact: true });
      await field.fill(value);
      await field.press('Enter');
      await saved(page);
    };
    await type('Level', '-4.5');
    await page.getByRole('button', { name: 'Normalise to −1 dBFS' }).click();
    await saved(page);
    await type('Tune', '-3');
    await type('Pan', '25');
    await page.getByRole('radio', { name: 'while held' }).click();
    await page.getByLabel('Choke group').selectOption('2');
    await saved(page);
    const db = new Database(session.server.workspace, { readonly: true });
    const row = db
      .prepare(
        "SELECT name, level_db, normalise_dbfs, semitones, pan, mode, choke_group FROM pad WHERE name = 'Snare main'",
      )
      .get();
    db.close();
    expect(row).toEqual({
      name: 'Snare main',
      level_db: -4.5,
      normalise_dbfs: -1,
      semitones: -3,
      pan: 0.25,
      mode: 'held',
      choke_group: 2,
    });
  });

  test('saving as a new kit takes the next free name; a taken name is offered with the next number', async () => {
    await page.getByRole('button', { name: 'Save as a new kit' }).click();
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'Millstone 2',
    );
    const name = page.getByLabel('Name of the kit');
    await name.fill('millstone');
    await name.press('Enter');
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'millstone 2',
    );
    await saved(page);
    await page.getByLabel('Open a kit').selectOption({ label: 'Millstone (13)' });
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'Millstone',
    );
  });

  test('a kit is deleted at once, and undo brings it back with all that was on it', async () => {
    const names = async () => (await page.getByLabel('Open a kit').locator('option').allTextContents()).sort();
    const before = await names();
    await page.getByRole('button', { name: 'Delete kit' }).click();
    await saved(page);
    await page.waitForFunction(
      (n) => document.querySelectorAll('select[aria-label="Open a kit"] option').length === n - 1,
      before.length,
    );
    await page.locator('[data-testid=pads]').click({ position: { x: 4, y: 4 } });
    await undo();
    await page.waitForFunction(
      (n) => document.querySelectorAll('select[aria-label="Open a kit"] option').length === n,
      before.length,
    );
    expect(await names()).toEqual(before);
    await page.getByLabel('Open a kit').selectOption({ label: 'Millstone (13)' });
    await pad(8).getByText('Snare main').waitFor();
  });

  test('the zip holds trimmed WAVs that outside readers open, an SFZ that maps them, and the credits', async () => {
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('link', { name: 'Export zip' }).click(),
    ]);
    const zip = join(session.folder, 'kit.zip');
    await download.saveAs(zip);
    expect(download.suggestedFilename()).toBe('Millstone.zip');
    const out = join(session.folder, 'kit');
    mkdirSync(out);
    execFileSync('unzip', ['-q', zip, '-d', out]);
    const wavs = readdirSync(join(out, 'samples'));
    expect(wavs).toHaveLength(13);
    for (const wav of wavs) {
      const path = join(out, 'samples', wav);
      const [rate, bits, samples] = ['-r', '-b', '-s'].map((flag) =>
        execFileSync('soxi', [flag, path], { encoding: 'utf8' }).trim(),
      );
      expect(['44100', '48000', '32000']).toContain(rate);
      expect(bits).toBe('24');
      expect(readWav(readFileSync(path)).report.frames).toBe(Number(samples));
      expect(execFileSync('sndfile-info', [path], { encoding: 'utf8' })).toMatch(/Bit Width {5}: 24/);
    }
    const { regions, faults } = readSfz(readFileSync(join(out, 'Millstone.sfz'), 'utf8'), out);
    expect(faults).toEqual([]);
    expect(regions).toHaveLength(13);
    expect(new Set(regions.map((r) => r.key)).size).toBe(13);
    expect(regions.find((r) => r.sample.includes('Snare main'))).toMatchObject({
      key: 38,
      volume: -4.5,
      pan: 25,
      loop_mode: 'no_loop',
      group: 2,
      off_by: 2,
    });
    expect(readFileSync(join(out, 'credits.txt'), 'utf8')).toMatch(
      /Sluice loop\r\n {2}whose: {10}Millrace Radio Theatre\r\n {2}licence: {8}own work/,
    );
  });
});

describe('keeping', () => {
  test('after the server is killed and started again all is as it was, undo included', async () => {
    await saved(page);
    await session.server.kill();
    session.server = await startServer(session.server.workspace);
    expect(undercroft('check', '--workspace', session.server.workspace)).toMatch(/all sound/);
    // The port is another one, the browser the same.
    await page.goto(`${session.server.address}/kits`);
    await page.getByLabel('Open a kit').selectOption({ label: 'Millstone (13)' });
    await pad(8).waitFor();
    expect(await pad(8).textContent()).toMatch(/Snare main/);
    await page.getByRole('button', { name: /^Undo: / }).waitFor();
    await page.getByRole('button', { name: /^Undo: (renamed|saved) the kit/ }).click();
    await saved(page);
    await page.getByRole('button', { name: /^Redo/ }).waitFor();
  });

  test('the page complained of nothing on the way', () => {
    expect(session.complaints).toEqual([]);
  });
});

test('files written by the kit command rebuild the demo loops bit for bit', () => {
  const loop = join(session.folder, 'loop.wav');
  const db = new Database(session.server.workspace, { readonly: true });
  const blocks = db
    .prepare(
      "SELECT data FROM pcm_block b JOIN recording r ON r.id = b.recording_id WHERE r.title = 'Sluice loop' ORDER BY ordinal",
    )
    .all() as { data: Buffer }[];
  db.close();
  const bytes = Buffer.concat(blocks.map((b) => b.data));
  const raw = join(session.folder, 'loop.raw');
  writeFileSync(raw, bytes);
  execFileSync('sox', ['-t', 'raw', '-r', '44100', '-b', '24', '-e', 'signed', '-c', '2', raw, loop]);
  const told = JSON.parse(
    undercroft('kit', loop, '--out', join(session.folder, 'out'), '--formats', 'wav,sfz,bundle', '--json'),
  ) as { identical: boolean; residualDb: null; pads: number };
  expect(told).toMatchObject({ identical: true, residualDb: null });
  // Outside check: sox joins the slices end to end, and the result is the source's very bytes.
  const samples = join(session.folder, 'out', 'loop', 'samples');
  const joined = join(session.folder, 'joined.raw');
  execFileSync('sox', [
    ...readdirSync(samples)
      .sort()
      .map((f) => join(samples, f)),
    '-t',
    'raw',
    joined,
  ]);
  expect(readFileSync(joined).equals(bytes)).toBe(true);
});
