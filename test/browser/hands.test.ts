import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { unzipSync } from 'fflate';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { noteOfPlace } from '../../src/core/kit/layout';
import { begin, forgetTold, type Session, saved, soon, told } from '../harness';
import { Client } from '../server/client';
import { choose, drag, Hand, openSlice, press, setNumber, sliceCount } from './gestures';

let session: Session;
let page: Page;
let hand: Hand;

beforeAll(async () => {
  session = await begin();
  page = session.page;
  hand = new Hand(session);
});

afterAll(() => session?.end());

describe('every page as the first one opened', () => {
  test('a slice laid as the first thing on Slice plays at once', async () => {
    await hand.open('/recordings');
    await hand.freshKit('First');
    await hand.open(`/slice/${hand.recordingId('Headrace loop')}`);
    await page.locator('[data-testid=slice-row]').first().waitFor();
    await page.getByText('0 of 128 pads').waitFor();
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    await saved(page);
    const [made] = hand.padsOf('First');
    await hand.ready(made?.position ?? -1);
    // What laying it sounded is over: the same number again would not be told.
    await page.getByTestId('voices').getByText('0 voices', { exact: true }).waitFor();
    await forgetTold(page);
    await hand.pad(made?.position ?? -1).click();
    await told(page, /^[1-9]\d* voices?$/);
  });

  test('a sound picked as the first thing on Kits plays at once, a whole recording under its own title', async () => {
    await hand.open('/kits');
    await hand.pad(24).click();
    await page.keyboard.press('F6');
    await page.getByLabel('Search the picker').fill('Wax');
    await page.keyboard.press('Enter');
    await page.locator('[data-testid=pick][aria-selected=true]').waitFor();
    await page.keyboard.press('Enter');
    await saved(page);
    await hand.ready(24);
    expect(hand.padsOf('First').find((p) => p.position === 24)?.name).toBe('Wax cylinder');
    // The pad that has a sound keeps it: the next one goes elsewhere, and that is said.
    await hand.pad(24).click();
    await page.getByLabel('Sounds to pick from').focus();
    await page.keyboard.press('Enter');
    await told(page, /Wax cylinder stays on its pad/);
    await saved(page);
    expect(hand.padsOf('First').find((p) => p.position === 24)?.name).toBe('Wax cylinder');
    await page.keyboard.press('Control+z');
    await page.keyboard.press('F6');
  });

  test('rights set as the first thing on Kits stay, and the kit is exported with its files numbered', async () => {
    await hand.open('/kits');
    await press(page, 'Export zip …');
    const held = page.getByTestId('held');
    await held.getByText('Wax cylinder').first().waitFor();
    await choose(held, 'Rights', 'own');
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
    const id = hand.recordingId('Sluice loop');
    const client = new Client(session.server.address);
    const { slices } = await client.cut(id);
    const unnamed = slices.map(
      ({ id: slice, rev }) => ({ op: 'update', doc: 'slice', id: slice, rev, set: { family: null } }) as const,
    );
    await client.edit('took the families away', unnamed);
    await hand.freshKit('Guessed');
    await hand.open(`/slice/${id}`);
    await page.getByText('0 of 128 pads').waitFor();
    await page
      .locator('[data-choice^="Family of slice"]', { hasText: /^(kick|snare), \d+ %$/ })
      .first()
      .waitFor();
    await press(page, 'Fill the pads');
    await saved(page);
    const pads = hand.padsOf('Guessed');
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
    const before = await soon(() => hand.strikes());
    await soon(async () => expect(await hand.strikes()).toBeGreaterThan(before + 4));
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
    const pads = hand.padsOf(file.suggestedFilename().replace('.zip', ''));
    expect(pads.find((p) => p.family === 'kick')?.position).toBe(0);
    expect(pads.find((p) => p.family === 'snare')?.position).toBe(8);
  });
});

test('a field take is laid on eight levelled pads in ten gestures at most', async () => {
  await hand.freshKit('Levelled');
  await openSlice(session, 'Sack-floor takes');
  let gestures = 1;
  const did = async (what: Promise<unknown>) => {
    await what;
    gestures++;
  };
  await did(press(page, 'More settings of the split by attack'));
  await did(setNumber(page, 'At most', '8'));
  await did(page.keyboard.press('Escape'));
  await soon(async () => expect(await sliceCount(page)).toBe(8));
  await did(press(page, 'Plan …'));
  await did(page.getByLabel('Set normalising of new pads').check());
  await did(page.keyboard.press('Escape'));
  await saved(page);
  await did(press(page, 'Fill the pads'));
  await saved(page);
  console.log(`A field take to eight levelled pads: ${gestures} gestures (10 at most).`);
  expect(gestures).toBeLessThanOrEqual(10);
  const levels = session.ask<{ dbfs: number }>(
    "SELECT p.settings ->> 'normaliseDbfs' AS dbfs FROM pad p JOIN kit k ON k.id = p.kit_id WHERE k.name = ?",
    'Levelled',
  );
  expect(levels.map(({ dbfs }) => dbfs)).toEqual(Array.from({ length: 8 }, () => -1));
});

describe('pads', () => {
  test('one is dragged to another place, changes places with one that is there, and is copied with Ctrl', async () => {
    await hand.open('/recordings');
    await hand.showKit('Millstone');
    await hand.open('/kits');
    await hand.pad(0).getByText('Kick Sluice 01').waitFor();
    await drag(page, await hand.middleOf(0), await hand.middleOf(4));
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 4)?.name).toBe('Kick Sluice 01');
    await drag(page, await hand.middleOf(4), await hand.middleOf(8));
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 8)?.name).toBe('Kick Sluice 01');
    expect(hand.padsOf('Millstone').find((p) => p.position === 4)?.name).toBe('Snare Sluice 01');
    await page.keyboard.down('Control');
    await drag(page, await hand.middleOf(8), await hand.middleOf(30));
    await page.keyboard.up('Control');
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 30)?.name).toBe('Kick Sluice 02');
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 0)?.name).toBe('Kick Sluice 01');
    expect(hand.padsOf('Millstone')).toHaveLength(11);
  });

  test('a pad gets a note of its own, plays one voice, and is renamed from any page', async () => {
    await hand.open('/kits');
    await hand.pad(16).click();
    await hand.setParameter('MIDI note', '60');
    await page.getByRole('button', { name: 'Voices: set' }).click();
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 16)?.note).toBe(60);
    await hand.open('/recordings');
    await hand.pad(16).click();
    await page.keyboard.press('Shift+F2');
    await page.getByLabel('New name of the pad').fill('Tight hat');
    await page.keyboard.press('Enter');
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 16)?.name).toBe('Tight hat');
    for (let i = 0; i < 3; i++) await page.keyboard.press('Control+z');
    await saved(page);
    expect(hand.padsOf('Millstone').find((p) => p.position === 16)).toMatchObject({
      name: 'Closed hat Sluice 01',
      note: null,
    });
  });

  test('several hits go to pads together, from a pad on by rising notes, seen beforehand and taken back in one step', async () => {
    await hand.open('/recordings');
    await hand.freshKit('Together');
    await hand.open('/hits');
    const rows = page.locator('[data-testid=hit]');
    await rows.nth(0).click();
    await rows.nth(3).click({ modifiers: ['Shift'] });
    await press(page, 'To the pads …');
    await choose(page, 'From the pad', '9');
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
      hand
        .padsOf('Together')
        .map((p) => noteOfPlace(p.position))
        .sort(),
    ).toEqual([40, 41, 42, 43]);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(hand.padsOf('Together')).toHaveLength(0);
  });

  test('forty files dropped on a pad fill the free pads from there on, into the next bank, in one step', async () => {
    const sounds = Array.from({ length: 40 }, (_, i) => {
      const samples = Float32Array.from(
        { length: 2000 },
        (_, n) => 0.5 * Math.sin(n * (0.02 + i / 500)) * Math.exp(-n / 400),
      );
      return Buffer.from(writeWav({ sampleRate: 44100, channels: [samples] }, 's16')).toString('base64');
    });
    await hand.open('/kits');
    await page.getByText('0 of 128 pads').waitFor();
    await page.evaluate((files) => {
      const transfer = new DataTransfer();
      for (const [i, file] of files.entries()) {
        const bytes = Uint8Array.from(atob(file), (c) => c.charCodeAt(0));
        transfer.items.add(new File([bytes], `Tin ${i + 1}.wav`, { type: 'audio/wav' }));
      }
      const pad = document.querySelector('[data-position="3"]') as HTMLElement;
      pad.dispatchEvent(new DragEvent('drop', { dataTransfer: transfer, bubbles: true, cancelable: true }));
    }, sounds);
    await soon(() => expect(hand.padsOf('Together')).toHaveLength(40));
    await saved(page);
    console.log('Forty one-shots to pads: 1 gesture.');
    const layers = session.ask(
      'SELECT l.id FROM layer l JOIN pad p ON p.id = l.pad_id JOIN kit k ON k.id = p.kit_id WHERE k.name = ?',
      'Together',
    );
    expect(layers).toHaveLength(40);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(hand.padsOf('Together')).toHaveLength(0);
    await page.getByLabel('Close the list of imports').click();
  });

  test('a hit that another kit plays says so, and this kit gets a copy of its own', async () => {
    await hand.showKit('Millstone');
    await hand.open('/kits');
    await hand.pad(0).getByText('Kick Sluice 01').waitFor();
    await press(page, 'Save as a new kit');
    await told(page, /Both kits play the same hits/);
    await hand.pad(0).click();
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

test('the page complained of nothing on the way', () => {
  expect(session.complaints).toEqual([]);
});
