import type { Page } from 'playwright-core';
import { demoRecordings } from '../../src/demo/scenario';
import { begin, type Session, saved, soon } from '../harness';
import { Client } from '../server/client';
import { choose, drag, openSlice, press, setNumber, sliceCount } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

interface Engine {
  setPad: (pad: number, sound: { layers: readonly { start: number; end: number }[] }) => void;
}

describe('a hit on its recording', () => {
  /** A hit as it is stored, with the pad that plays it. */
  const lengthOfHit = (name: string) => {
    const [row] = session.ask<{ id: string; start: number; end: number; rev: number }>(
      'SELECT id, start_frame AS start, end_frame AS "end", rev FROM hit WHERE name = ?',
      name,
    );
    if (!row) throw new Error(`There is no hit ${name}.`);
    const [pad] = session.ask(
      `SELECT p.name, p.position, p.settings FROM pad p JOIN layer l ON l.pad_id = p.id
         WHERE l.hit_id = ?`,
      row.id,
    );
    return { ...row, pad };
  };

  test('is cut again in the loupes: the pad that plays it follows, and keeps its name and settings', async () => {
    await openSlice(session, 'Sluice loop');
    await page.getByLabel('Name of slice 2', { exact: true }).fill('Dry clank');
    await page.getByLabel('Name of slice 2', { exact: true }).press('Enter');
    await page
      .locator('[data-testid=slice-row]')
      .nth(1)
      .click({ position: { x: 20, y: 12 } });
    await page.keyboard.press('Enter');
    await saved(page);
    await page.locator('[data-position]').getByText('Dry clank').first().click();
    await page.getByRole('link', { name: /^Cut Dry clank/ }).click();
    await page.getByRole('note').getByText('Dry clank').waitFor();
    const before = lengthOfHit('Dry clank');
    // What the page hands to the audio thread for a pad: the lengths of its layers.
    await page.evaluate(() => {
      const { engine } = (globalThis as never as { undercroftSound: { engine: Engine } }).undercroftSound;
      const handOn = engine.setPad.bind(engine);
      const told: [number, number[]][] = [];
      (globalThis as never as { told: typeof told }).told = told;
      engine.setPad = (pad, sound) => {
        told.push([pad, sound.layers.map((l) => l.end - l.start)]);
        handOn(pad, sound);
      };
    });
    await page.locator('[role=note]').click();
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+Shift+ArrowUp');
    await page.keyboard.press('Alt+Shift+ArrowLeft');
    await saved(page);
    const after = lengthOfHit('Dry clank');
    expect(after.end).toBe(before.end + 3 * 441);
    expect(after.start).toBe(before.start - 1);
    expect(after.pad).toEqual(before.pad);
    await page.waitForFunction(
      ([pad, length]) =>
        (globalThis as never as { told: [number, number[]][] }).told.some(([p, l]) => p === pad && l[0] === length),
      [(after.pad as { position: number }).position, after.end - after.start],
    );
    for (let i = 0; i < 4; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(lengthOfHit('Dry clank')).toMatchObject({ start: before.start, end: before.end });
    await page.keyboard.press('Escape');
    await page.getByRole('note').waitFor({ state: 'detached' });
  });
});

describe('cutting plans', () => {
  test('a way of splitting and what new pads get are kept under a name, and used on another recording', async () => {
    await openSlice(session, 'Headrace loop');
    await press(page, 'Grid');
    await choose(page, 'Note value of the grid', '1/4');
    await setNumber(page, 'Tempo', '94');
    await saved(page);
    await press(page, 'Plan …');
    await page.getByLabel('Set choke group of new pads').check();
    await page.getByLabel('Set fade of new pads').check();
    await setNumber(page, 'Fade out', '35');
    await page.getByLabel('Name of the new plan').fill('Quarters, choked');
    await page.getByLabel('Name of the new plan').press('Enter');
    await page.getByRole('button', { name: /^Quarters, choked/ }).waitFor();
    await page.keyboard.press('Escape');
    await saved(page);
    await openSlice(session, 'Sluice loop');
    await press(page, 'Plan …');
    await page.getByRole('button', { name: /^Quarters, choked/ }).click();
    await saved(page);
    // Two bars of 4/4; what rings on after them is no step of its own.
    await soon(async () => expect(await sliceCount(page)).toBe(8));
    await page.getByRole('button', { name: 'Fill the pads' }).click();
    await saved(page);
    const made = session.ask(
      "SELECT settings ->> 'chokeGroup' AS choke, settings ->> 'fadeOutMs' AS fade FROM pad ORDER BY rowid DESC LIMIT 8",
    );
    expect(made).toEqual(Array.from({ length: 8 }, () => ({ choke: 1, fade: 35 })));
  });
});

describe('from the song to the pads', () => {
  const SONG = "Lock-keeper's waltz";
  const names = (kit: number) =>
    session.ask<{ name: string; family: string; start: number }>(
      `SELECT h.name, h.family, h.start_frame AS start FROM hit h JOIN layer l ON l.hit_id = h.id
         JOIN pad p ON p.id = l.pad_id JOIN kit k ON k.id = p.kit_id WHERE k.name = ? ORDER BY p.position`,
      `Gestures ${kit}`,
    );
  const PADS = [
    { position: 0, key: 'Shift+KeyZ', family: 'kick' },
    { position: 8, key: 'Shift+KeyA', family: 'snare' },
    { position: 16, key: 'Shift+KeyQ', family: 'closed hat' },
    { position: 18, key: 'Shift+KeyE', family: 'open hat' },
  ];

  /** Each is what was truly struck, where the ear is sure of it; else what the pad is for that a person put it on. */
  function namedRight(hits: readonly { family: string; start: number }[]): void {
    const song = demoRecordings().find((r) => r.title === SONG);
    const near = 0.03 * (song?.audio.sampleRate ?? 0);
    const struck = (start: number) =>
      (song?.truth ?? []).filter((t) => Math.abs(t.frame - start) < near).map((t) => t.family);
    expect(hits).toHaveLength(PADS.length);
    for (const [i, { family, start }] of hits.entries()) expect([...struck(start), PADS[i]?.family]).toContain(family);
    expect(hits.filter(({ family, start }) => struck(start).includes(family)).length).toBeGreaterThanOrEqual(2);
  }

  async function freshKit(n: number): Promise<void> {
    const id = `kit-gestures-${n}`;
    const value = { name: `Gestures ${n}` };
    await new Client(session.server.address).edit('made a kit', [{ op: 'create', doc: 'kit', id, value }]);
    await page.evaluate((kit) => localStorage.setItem('undercroft.kit', kit), id);
    await openSlice(session, SONG);
    await page.getByText('0 of 128 pads').waitFor();
    // What is laid before its slice has been listened to is named by its pad.
    await page.locator('section[aria-label=Slices][aria-busy=false]').waitFor();
  }

  test('four exact, named hits of the song lie on four pads in twelve gestures at most, by pointer and by keyboard', async () => {
    await freshKit(1);
    let gestures = 0;
    await press(page, /^Bare/);
    gestures++;
    await soon(async () => expect(await page.locator('[data-chosen]').count()).toBe(1));
    const keystones = page.locator('[data-keystone]');
    await keystones.nth(3).waitFor();
    for (const [i, { position }] of PADS.entries()) {
      const from = await keystones.nth(i).boundingBox();
      const to = await page.locator(`[data-position="${position}"]`).boundingBox();
      if (!from || !to) throw new Error('There is no keystone or pad.');
      await drag(
        page,
        { x: from.x + from.width / 2, y: from.y + from.height / 2 },
        { x: to.x + to.width / 2, y: to.y + to.height / 2 },
      );
      gestures++;
      await saved(page);
    }
    console.log(`Four hits of the song on four pads by pointer: ${gestures} gestures (12 at most).`);
    expect(gestures).toBeLessThanOrEqual(12);
    const byPointer = names(1);
    namedRight(byPointer);
    const cuts = session
      .ask<{ start: number }>(
        'SELECT s.start_frame AS start FROM slice s JOIN recording r ON r.id = s.recording_id WHERE r.title = ?',
        SONG,
      )
      .map((s) => s.start);
    for (const { start, name } of byPointer) {
      expect(cuts).toContain(start);
      expect(name).toMatch(/^(Kick|Snare|Closed hat|Open hat) Lock-keeper's waltz/);
    }

    await freshKit(2);
    let keys = 0;
    const key = async (name: string) => {
      await page.keyboard.press(name);
      keys++;
    };
    await page.locator('h1').click();
    await key('F8');
    for (const [i, pad] of PADS.entries()) {
      if (i > 0) await key('ArrowRight');
      await key(pad.key);
      await saved(page);
    }
    console.log(`The same by keyboard alone: ${keys} keys.`);
    expect(keys).toBeLessThanOrEqual(12);
    const byKeyboard = names(2);
    namedRight(byKeyboard);
    for (const { start } of byKeyboard) expect(cuts).toContain(start);
  });

  test('the page complained of nothing on the way', () => {
    expect(session.complaints).toEqual([]);
  });
});
