import { readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { noteOfPlace } from '../../src/core/kit/layout';
import { begin, forgetTold, type Session, saved, soon, startServer, told } from '../harness';
import { Client } from '../server/client';
import { drag, openSlice, press, setNumber, sliceCount } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

interface StoredPad {
  readonly id: string;
  readonly name: string;
  readonly position: number;
  readonly family: string | null;
  readonly note: number | null;
}

const padsOf = (kit: string) =>
  session.ask<StoredPad>(
    'SELECT p.id, p.name, p.position, p.family, p.note FROM pad p JOIN kit k ON k.id = p.kit_id WHERE k.name = ? ORDER BY p.position',
    kit,
  );
const recordingId = (title: string) =>
  session.ask<{ id: string }>('SELECT id FROM recording WHERE title = ?', title)[0]?.id ?? '';
const pad = (position: number) => page.locator(`[data-position="${position}"]`);
const ready = (position: number) => page.locator(`[data-position="${position}"][data-state=ready]`).waitFor();

/** Makes a kit and has the page show it from its next loading on. */
async function freshKit(name: string): Promise<void> {
  const id = `kit-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}-0001`;
  await new Client(session.server.address).edit('made a kit', [{ op: 'create', doc: 'kit', id, value: { name } }]);
  await page.evaluate((kit) => localStorage.setItem('undercroft.kit', kit), id);
}

async function open(path: string): Promise<void> {
  await page.goto(session.server.address + path);
}

async function middleOf(position: number): Promise<{ x: number; y: number }> {
  const box = await pad(position).boundingBox();
  if (!box) throw new Error(`There is no pad ${position}.`);
  return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
}

/** Types a value into a parameter's row. */
async function setParameter(label: string, value: string): Promise<void> {
  const field = page.getByRole('textbox', { name: label, exact: true });
  await field.fill(value);
  await field.press('Enter');
}

/** What the page has sent to the audio thread since it was opened. */
const strikes = () =>
  page.evaluate(
    () =>
      (globalThis as never as { undercroftSound: { engine: { strikes: { sent: number } } } }).undercroftSound.engine
        .strikes.sent,
  );

describe('every page as the first one opened', () => {
  test('a slice laid as the first thing on Slice plays at once', async () => {
    await open('/recordings');
    await freshKit('First');
    await open(`/slice/${recordingId('Headrace loop')}`);
    await page.locator('[data-testid=slice-row]').first().waitFor();
    await page.getByText('0 of 32 pads').waitFor();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    await saved(page);
    const [made] = padsOf('First');
    await ready(made?.position ?? -1);
    await forgetTold(page);
    await pad(made?.position ?? -1).click();
    await told(page, /^[1-9]\d* voices?$/);
  });

  test('a sound picked as the first thing on Kits plays at once, a whole recording under its own title', async () => {
    await open('/kits');
    await pad(24).click();
    await page.keyboard.press('F6');
    await page.getByLabel('Search the picker').fill('Wax');
    await page.keyboard.press('Enter');
    await page.locator('[data-testid=pick][aria-selected=true]').waitFor();
    await page.keyboard.press('Enter');
    await saved(page);
    await ready(24);
    expect(padsOf('First').find((p) => p.position === 24)?.name).toBe('Wax cylinder');
    // The pad that has a sound keeps it: the next one goes elsewhere, and that is said.
    await pad(24).click();
    await page.getByLabel('Sounds to pick from').focus();
    await page.keyboard.press('Enter');
    await told(page, /Wax cylinder stays on its pad/);
    await saved(page);
    expect(padsOf('First').find((p) => p.position === 24)?.name).toBe('Wax cylinder');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('F6');
  });

  test('rights set as the first thing on Kits stay, and the kit is exported with its files numbered', async () => {
    await open('/kits');
    await press(page, 'Export zip …');
    const held = page.getByTestId('held');
    await held.getByText('Wax cylinder').first().waitFor();
    await held.getByLabel('Rights', { exact: true }).selectOption('own');
    await page.getByText('may be passed on', { exact: false }).first().waitFor();
    await saved(page);
    await page.getByLabel('Number the files').check();
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('button', { name: 'Export zip', exact: true }).click(),
    ]);
    expect(file.suggestedFilename()).toBe('First.zip');
    const at = join(session.folder, 'first.zip');
    await file.saveAs(at);
    const names = Object.keys(unzipSync(new Uint8Array(readFileSync(at)))).filter((n) => n.endsWith('.wav'));
    expect(names.sort()).toEqual([expect.stringMatching(/^samples\/01 /), 'samples/02 Wax cylinder.wav']);
  });
});

describe('from a loop to a kit', () => {
  test('guesses name the pads of an unnamed loop and lay them on the notes of their roles', async () => {
    const id = recordingId('Sluice loop');
    const client = new Client(session.server.address);
    const { slices } = await client.cut(id);
    const unnamed = slices.map(
      ({ id: slice, rev }) => ({ op: 'update', doc: 'slice', id: slice, rev, set: { family: null } }) as const,
    );
    await client.edit('took the families away', unnamed);
    await freshKit('Guessed');
    await open(`/slice/${id}`);
    await page.getByText('0 of 32 pads').waitFor();
    await page
      .locator('select option', { hasText: /^(kick|snare), \d+ %$/ })
      .first()
      .waitFor({ state: 'attached' });
    await press(page, 'Fill the pads');
    await saved(page);
    const pads = padsOf('Guessed');
    expect(pads.length).toBe(slices.length);
    const roles: Record<string, readonly number[]> = {
      kick: [35, 36],
      snare: [38, 40],
      'closed hat': [42, 44],
      'open hat': [46],
      tom: [41, 43, 45, 47, 48, 50],
    };
    for (const [family, notes] of Object.entries(roles)) {
      const some = pads.filter((p) => p.family === family);
      // As many as the role has notes lie on them; further ones on none of another role.
      expect(some.filter((p) => notes.includes(noteOfPlace(p.position)))).toHaveLength(
        Math.min(notes.length, some.length),
      );
    }
    expect(pads.some((p) => p.family === 'kick')).toBe(true);
    for (const p of pads) expect(p.name).toMatch(p.family === null ? /^Sluice \d\d$/ : /^[A-Z].* Sluice \d\d$/);
  });

  test('a kit of a loop is made, played by the loop’s rhythm and exported in fifteen gestures at most', async () => {
    await openSlice(session, 'Sluice loop');
    let gestures = 1;
    const did = async (what: Promise<unknown>) => {
      await what;
      gestures++;
    };
    await did(page.getByRole('link', { name: 'Shelves' }).click());
    await page.getByText('to go …').waitFor({ state: 'detached' });
    await page.locator('[data-testid=shelf]').first().waitFor();
    await soon(async () =>
      expect(await page.getByRole('button', { name: 'Make a kit of this' }).isEnabled()).toBe(true),
    );
    await did(press(page, 'Make a kit of this'));
    await page.getByText('The barest of each shelf lies').waitFor();
    await did(press(page, 'Play it'));
    await page.getByRole('button', { name: 'Kit', exact: true, pressed: true }).waitFor();
    const before = await soon(strikes);
    await soon(async () => expect(await strikes()).toBeGreaterThan(before + 4));
    await did(page.keyboard.press('0'));
    await soon(async () => expect(await page.getByRole('button', { name: 'Play by its own rhythm' }).count()).toBe(1));
    await did(page.getByRole('link', { name: 'Open on Kits' }).click());
    await did(press(page, 'Export zip …'));
    const [file] = await Promise.all([
      page.waitForEvent('download'),
      did(page.getByRole('button', { name: 'Export zip', exact: true }).click()),
    ]);
    expect(file.suggestedFilename()).toMatch(/^Sluice/);
    console.log(`A loop to a kit on its roles' notes, played and exported: ${gestures} gestures (15 at most).`);
    expect(gestures).toBeLessThanOrEqual(15);
    const pads = padsOf(file.suggestedFilename().replace('.zip', ''));
    expect(pads.find((p) => p.family === 'kick')?.position).toBe(0);
    expect(pads.find((p) => p.family === 'snare')?.position).toBe(8);
  });
});

describe('pads', () => {
  test('one is dragged to another place, changes places with one that is there, and is copied with Ctrl', async () => {
    await open('/recordings');
    await page.evaluate(() => localStorage.removeItem('undercroft.kit'));
    const millstone = session.ask<{ id: string }>("SELECT id FROM kit WHERE name = 'Millstone'")[0]?.id ?? '';
    await page.evaluate((kit) => localStorage.setItem('undercroft.kit', kit), millstone);
    await open('/kits');
    await pad(0).getByText('Kick Sluice 01').waitFor();
    await drag(page, await middleOf(0), await middleOf(4));
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 4)?.name).toBe('Kick Sluice 01');
    await drag(page, await middleOf(4), await middleOf(8));
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 8)?.name).toBe('Kick Sluice 01');
    expect(padsOf('Millstone').find((p) => p.position === 4)?.name).toBe('Snare Sluice 01');
    await page.keyboard.down('Control');
    await drag(page, await middleOf(8), await middleOf(30));
    await page.keyboard.up('Control');
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 30)?.name).toBe('Kick Sluice 02');
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 0)?.name).toBe('Kick Sluice 01');
    expect(padsOf('Millstone')).toHaveLength(11);
  });

  test('a pad gets a note of its own, plays one voice, and is renamed from any page', async () => {
    await open('/kits');
    await pad(16).click();
    await setParameter('MIDI note', '60');
    await page.getByLabel('Voices').selectOption('one');
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 16)?.note).toBe(60);
    await open('/recordings');
    await pad(16).click();
    await page.keyboard.press('Shift+F2');
    await page.getByLabel('New name of the pad').fill('Tight hat');
    await page.keyboard.press('Enter');
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 16)?.name).toBe('Tight hat');
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(padsOf('Millstone').find((p) => p.position === 16)).toMatchObject({
      name: 'Closed hat Sluice 01',
      note: null,
    });
  });

  test('several hits go to pads together, from a pad on by rising notes, seen beforehand and taken back in one step', async () => {
    await open('/recordings');
    await freshKit('Together');
    await open('/hits');
    const rows = page.locator('[data-testid=hit]');
    await rows.nth(0).click();
    await rows.nth(3).click({ modifiers: ['Shift'] });
    await press(page, 'To the pads …');
    await page.getByLabel('From the pad', { exact: true }).and(page.locator('select')).selectOption('9');
    const planned = page.getByLabel('Where each goes').locator('li');
    expect(await planned.count()).toBe(4);
    expect((await planned.allTextContents()).map((t) => /(40 E2|41 F2|42 F#2|43 G2)/.exec(t)?.[1])).toEqual([
      '40 E2',
      '41 F2',
      '42 F#2',
      '43 G2',
    ]);
    await press(page, 'Lay 4');
    await saved(page);
    expect(
      padsOf('Together')
        .map((p) => noteOfPlace(p.position))
        .sort(),
    ).toEqual([40, 41, 42, 43]);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(padsOf('Together')).toHaveLength(0);
  });

  test('forty files dropped on a pad fill the free pads in one step; what does not fit is told', async () => {
    const sounds = Array.from({ length: 40 }, (_, i) => {
      const samples = Float32Array.from(
        { length: 2000 },
        (_, n) => 0.5 * Math.sin(n * (0.02 + i / 500)) * Math.exp(-n / 400),
      );
      return Buffer.from(writeWav({ sampleRate: 44100, channels: [samples] }, 's16')).toString('base64');
    });
    await open('/kits');
    await page.getByText('0 of 32 pads').waitFor();
    await forgetTold(page);
    await page.evaluate((files) => {
      const transfer = new DataTransfer();
      for (const [i, file] of files.entries()) {
        const bytes = Uint8Array.from(atob(file), (c) => c.charCodeAt(0));
        transfer.items.add(new File([bytes], `Tin ${i + 1}.wav`, { type: 'audio/wav' }));
      }
      const pad = document.querySelector('[data-position="3"]') as HTMLElement;
      pad.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
    }, sounds);
    await told(page, /32 laid; 8 more did not fit/);
    await saved(page);
    console.log('Forty one-shots to pads: 1 gesture.');
    expect(padsOf('Together')).toHaveLength(32);
    const layers = session.ask(
      'SELECT l.id FROM layer l JOIN pad p ON p.id = l.pad_id JOIN kit k ON k.id = p.kit_id WHERE k.name = ?',
      'Together',
    );
    expect(layers).toHaveLength(32);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(padsOf('Together')).toHaveLength(0);
    await page.getByLabel('Close the list of imports').click();
  });

  test('a hit that another kit plays says so, and this kit gets a copy of its own', async () => {
    const millstone = session.ask<{ id: string }>("SELECT id FROM kit WHERE name = 'Millstone'")[0]?.id ?? '';
    await page.evaluate((kit) => localStorage.setItem('undercroft.kit', kit), millstone);
    await open('/kits');
    await pad(0).getByText('Kick Sluice 01').waitFor();
    await press(page, 'Save as a new kit');
    await told(page, /Both kits play the same hits/);
    await pad(0).click();
    const note = page.getByRole('note').filter({ hasText: 'Also played by Millstone' });
    await note.waitFor();
    await press(page, 'A copy for this kit');
    await saved(page);
    await note.waitFor({ state: 'detached' });
    const hits = session.ask<{ kit: string; hit: string }>(
      `SELECT k.name AS kit, l.hit_id AS hit FROM layer l JOIN pad p ON p.id = l.pad_id JOIN kit k ON k.id = p.kit_id
       WHERE p.position = 0 AND k.name IN ('Millstone', 'Millstone 2') ORDER BY k.name`,
    );
    expect(hits).toHaveLength(2);
    expect(hits[0]?.hit).not.toBe(hits[1]?.hit);
  });
});

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
    await open('/kits');
    await pad(1).click();
    await setParameter('Level', '24');
    await saved(page);
    await ready(1);
    await soon(async () => {
      await pad(1).click({ position: { x: 40, y: 4 } });
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
    await open('/recordings');
    const search = page.getByLabel('Search recordings');
    await search.fill('kitchen find');
    await page.locator(`[data-recording="${id}"]`).waitFor();
    await search.press('Escape');
    expect(await search.inputValue()).toBe('kitchen find');
    await search.press('Enter');
    expect(await search.evaluate((field) => field === document.activeElement)).toBe(false);
    await page.keyboard.press('Control+k');
    await page.keyboard.type('kick sluice 01');
    await page.keyboard.press('Enter');
    await page.waitForURL(/\/hits\?hit=/);
    await page.keyboard.press('Control+Shift+Digit4');
    await page.waitForURL(/\/kits$/);
    await page.keyboard.press('Control+k');
    await page.keyboard.type('go to hits');
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
    await page.getByLabel('Family of those chosen').selectOption('rim');
    await page.getByLabel('Name of those chosen').fill('Tick');
    await page.getByLabel('Name of those chosen').press('Enter');
    await saved(page);
    const named = session.ask<{ name: string }>(
      "SELECT name FROM slice WHERE recording_id = ? AND family = 'rim' AND name LIKE 'Tick %' ORDER BY name",
      recordingId('Headrace loop'),
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
    await open('/recordings');
    await page.locator('[data-testid=recording]').first().waitFor();
    await page.getByLabel('Search recordings').fill('Sluice');
    await page.getByTestId('file-input').setInputFiles(join(session.folder, 'Yard gate.wav'));
    const chosen = page.locator('[data-testid=recording][data-chosen]').getByLabel('Title');
    await soon(async () => expect(await chosen.inputValue()).toBe('Yard gate'));
    const panel = page.getByLabel('Imports', { exact: true });
    await panel.getByText(/a recording, \d+ slices|the hit/).waitFor();
    await panel.getByText(/rights are unknown/).waitFor();
    const [box, top] = [await panel.boundingBox(), await pad(31).boundingBox()];
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
    await open(`/slice/${recordingId('Sluice loop')}`);
    await page.getByTestId('stage').waitFor();
    for (const way of ['Attack', 'Silence', 'Grid']) {
      await page.getByRole('button', { name: way, exact: true }).click();
      await inside(`Fill the pads by ${way}`, await page.getByRole('button', { name: 'Fill the pads' }).boundingBox());
    }
    await page.getByRole('button', { name: 'Attack', exact: true }).click();
    await saved(page);
    for (const position of [0, 7, 24, 31]) await inside(`pad ${position}`, await pad(position).boundingBox());
    await inside('lamp', await page.getByTestId('over').boundingBox());
    const [kitLine, firstPad] = [await page.getByText(/of 32 pads/).boundingBox(), await pad(24).boundingBox()];
    expect((kitLine?.y ?? 0) + (kitLine?.height ?? 0)).toBeLessThanOrEqual(firstPad?.y ?? 0);
    await open('/kits');
    await pad(1).click();
    await inside('export', await page.getByRole('button', { name: 'Export zip …' }).boundingBox());
    for (const position of [0, 7, 24, 31]) await inside(`large pad ${position}`, await pad(position).boundingBox());
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
    await open('/kits');
    await pad(9).click();
    const port = Number(new URL(session.server.address).port);
    await session.server.kill();
    const name = page.getByLabel('Name of the pad', { exact: true });
    await name.fill('Kept while away');
    await name.press('Enter');
    await page
      .getByTestId('saved')
      .getByText(/Not saved yet/)
      .waitFor();
    await setParameter('Level', '-5');
    await pad(9).getByText('Kept while away').waitFor();
    session.server = await startServer(session.server.workspace, port);
    await saved(page);
    const [stored] = session.ask<{ name: string; level: number }>(
      "SELECT name, level_db AS level FROM pad WHERE name = 'Kept while away'",
    );
    expect(stored).toEqual({ name: 'Kept while away', level: -5 });
  });
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints.filter((text) => !/ERR_CONNECTION|Failed to fetch|net::/.test(text))).toEqual([]);
});
