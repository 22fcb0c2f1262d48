import Database from 'better-sqlite3';
import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { attackOf } from '../../src/core/layering/line-up';
import { truePeakOf } from '../../src/core/resampling/oversampling';
import { toDb } from '../../src/core/signal/units';
import { readAudio } from '../../src/server/importing/pcm';
import { begin, type Session, saved, soon, told } from '../harness';
import { Client } from '../server/client';
import { drag, press } from './gestures';

let session: Session;
let page: Page;
const RATE = 48_000;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

/** A kick that starts late in its file, with a click of its own pitch; struck again where told. */
function kick(at: number, level: number, clickHz: number, again?: number): Uint8Array {
  const strike = (i: number, from: number) => {
    const t = (i - from) / RATE;
    if (t < 0) return 0;
    const low = level * Math.min(1, t / 0.001) * Math.exp(-t / 0.12) * Math.sin(2 * Math.PI * 111 * t);
    return low + 0.2 * Math.exp(-t / 0.006) * Math.sin(2 * Math.PI * clickHz * t);
  };
  const samples = Float32Array.from(
    { length: RATE },
    (_, i) => strike(i, at) + (again === undefined ? 0 : 0.6 * strike(i, again)),
  );
  return writeWav({ sampleRate: RATE, channels: [samples] }, 's24');
}

const row = (name: string) => page.locator('[data-testid=hit]').filter({ has: page.locator(`input[value="${name}"]`) });
interface StoredMember {
  readonly id: string;
  readonly bands_db: string;
  readonly settings: string;
}
const members = () => {
  const id = /hits\/([^/]+)\/layers/.exec(page.url())?.[1];
  return session
    .ask<StoredMember>('SELECT id, bands_db, settings FROM member WHERE layered_id = ? ORDER BY position', id)
    .map(({ settings, bands_db: bands }) => ({
      bands: JSON.parse(bands) as number[],
      ...(JSON.parse(settings) as { offsetFrames?: number; inverted?: boolean; levelDb?: number; muted?: boolean }),
    }));
};
const lane = (name: string) => page.getByTestId('lane').filter({ hasText: name });

test('two kicks 9 ms apart whose lows cancel become one hit on a pad, in 13 gestures; undone and done again', async () => {
  const client = new Client(session.server.address);
  for (const [n, [at, level, clickHz, again]] of (
    [
      [240, 0.5, 2800, undefined],
      [240 + 432, -0.5, 900, 24_000],
    ] as const
  ).entries()) {
    const { recordingId } = await client.import(`Barrel ${n}.wav`, kick(at, level, clickHz, again));
    const place = { recordingId, startFrame: 0, endFrame: RATE, sliceId: null };
    await client.edit('a kick', [
      { op: 'create', doc: 'hit', id: `hit-barrel-00${n}`, value: { name: `Barrel ${n}`, family: 'kick', ...place } },
    ]);
  }
  await page.goto(`${session.server.address}/hits`);
  await row('Barrel 0').waitFor();
  let gestures = 0;
  const gesture = async (act: Promise<unknown>) => {
    gestures++;
    await act;
  };
  await gesture(row('Barrel 0').click({ position: { x: 790, y: 12 } }));
  await gesture(row('Barrel 1').click({ position: { x: 790, y: 12 }, modifiers: ['Control'] }));
  await gesture(press(page, 'Layer them'));
  await lane('Barrel 1').waitFor();
  await page.getByText(/\d+ Hz loses/).waitFor();
  await gesture(press(page, 'Line up'));
  await told(page, /Barrel 1 by −432 samples, Barrel 1 turned.* Under 200 Hz they lost .*; now nothing/);
  await saved(page);
  expect(members()[1]).toMatchObject({ offsetFrames: -432, inverted: true });
  await page.getByText('No band loses more than 3 dB.').waitFor();
  await gesture(press(page, 'Share the spectrum'));
  await soon(() => expect(members().map(({ bands }) => bands.length)).toEqual([2, 2]));
  await gesture(press(page, 'Levels'));
  await page.getByRole('cell', { name: /dBTP/ }).first().waitFor();
  await gesture(press(page, 'Set for me'));
  await told(page, /the sum peaks at −7\.5 dBTP/);
  await soon(async () => expect(await page.getByTestId('sum').textContent()).toMatch(/−7\.[456] dBTP/));
  await gesture(press(page, 'Bind'));
  await gesture(page.getByText('Hold together').click());
  await gesture(press(page, 'Take it'));
  await soon(async () => expect(await page.getByTestId('sum').textContent()).toContain('after 1 step'));
  await saved(page);
  await gesture(press(page, 'Print …'));
  await gesture(press(page, 'Print it'));
  await told(page, /Printed: the hit “Barrel 0 layered print”\. A second strike at \d+ ms was cut off/);
  await gesture(press(page, 'To a pad').catch(() => page.locator('[data-sonner-toast] button').click()));
  await saved(page);
  expect(gestures).toBe(13);

  const [printed] = session.ask<{ id: string; recording_id: string; end_frame: number; notes: string }>(
    `SELECT h.id, h.recording_id, h.end_frame, r.notes FROM hit h JOIN recording r ON r.id = h.recording_id
     WHERE h.name = 'Barrel 0 layered print'`,
  );
  expect(printed?.notes).toBe(
    'Printed from the layered hit Barrel 0 layered: Barrel 0 (Barrel 0), Barrel 1 (Barrel 1).',
  );
  const db = new Database(session.server.workspace, { readonly: true });
  const audio = readAudio(db, printed?.recording_id ?? '', 0, printed?.end_frame ?? 0);
  db.close();
  const [mono] = audio.channels as [Float32Array];
  expect(attackOf(mono, RATE)).toBeLessThan(RATE / 1000);
  expect(toDb(truePeakOf(audio.channels))).toBeCloseTo(-1, 1);
  // Without the second strike, 490 ms after the attack.
  expect(mono.length).toBeLessThan(0.5 * RATE);
  const onPads = () => session.ask('SELECT l.id FROM layer l WHERE l.hit_id = ?', printed?.id).length;
  expect(onPads()).toBe(1);
  await page.keyboard.press('Control+z');
  await soon(() => expect(onPads()).toBe(0));
  await page.keyboard.press('Control+Shift+z');
  await soon(() => expect(onPads()).toBe(1));
});

test('a lane is nudged by keys, dragged, muted and heard; a reload in the middle keeps it', async () => {
  await lane('Barrel 1')
    .getByRole('button', { name: /Barrel 1/ })
    .first()
    .click();
  const offset = () => members()[1]?.offsetFrames ?? 0;
  const before = offset();
  await page.keyboard.press('ArrowRight');
  await soon(() => expect(offset()).toBe(before + 1));
  await page.keyboard.press('Shift+ArrowRight');
  await soon(() => expect(offset()).toBe(before + 49));
  await page.keyboard.press('Control+ArrowLeft');
  await soon(() => expect(offset()).toBe(before + 44));
  const box = await page.getByTestId('lanes').boundingBox();
  const head = await lane('Barrel 1').boundingBox();
  if (!box || !head) throw new Error('no lanes');
  const y = head.y + head.height / 2;
  await drag(page, { x: box.x + 400, y }, { x: box.x + 460, y });
  await saved(page);
  // 45 ms are seen over the width of the lanes.
  const moved = offset() - before - 44;
  expect(Math.abs(moved - (60 * 0.045 * RATE) / box.width)).toBeLessThan(3);
  await press(page, 'Mute Barrel 1');
  await soon(() => expect(members()[1]?.muted).toBe(true));
  await page.reload();
  await lane('Barrel 1').waitFor();
  await press(page, 'Unmute Barrel 1');
  await soon(() => expect(members()[1]?.muted ?? false).toBe(false));
  await page.locator('h1').click();
  await page.keyboard.press('Space');
  await told(page, /[1-9]\d* voices?/);
  await press(page, /^Repeat/);
  await told(page, /[1-9]\d* voices?/);
  await page.keyboard.press('Slash');
  await press(page, /^Stop/);
});

test('a mend is heard before it is taken', async () => {
  await choosePolarity('as it is');
  await soon(() => expect(members()[1]?.inverted ?? false).toBe(false));
  await page.getByRole('tab', { name: 'Shares' }).click();
  await press(page, 'do not share');
  await soon(() => expect(members().map(({ bands }) => bands)).toEqual([[], []]));
  await press(page, 'Line up');
  await told(page, /Barrel 1 turned/);
  await saved(page);
  await choosePolarity('as it is');
  await page.getByRole('tab', { name: 'Do they add?' }).click();
  const mend = page.getByTestId('mend').filter({ hasText: 'turned' }).first();
  await mend.getByRole('button', { name: 'Hear it' }).click();
  await mend.getByRole('button', { name: 'As it was' }).waitFor();
  expect(members()[1]?.inverted ?? false).toBe(false);
  await mend.getByRole('button', { name: 'Take it' }).click();
  await soon(() => expect(members()[1]?.inverted).toBe(true));
  await page.getByText('No band loses more than 3 dB.').waitFor();
});

/** Sets the chosen layer's polarity. */
async function choosePolarity(state: string): Promise<void> {
  await lane('Barrel 1')
    .getByRole('button', { name: /Barrel 1/ })
    .first()
    .click();
  await page.getByRole('radio', { name: state }).click();
  await saved(page);
}

test('bands are set and edges moved; the layers lie so after it', async () => {
  await page.getByRole('tab', { name: 'Shares' }).click();
  await page.getByTestId('sharing').getByRole('button', { name: 'share', exact: true }).click();
  await soon(() => expect(members()[0]?.bands.length).toBe(2));
  await press(page, 'one edge more');
  await soon(() => expect(members()[0]?.bands.length).toBe(3));
  const cell = page.getByRole('button', { name: /^Barrel 1 .*: full$/ }).first();
  await cell.click();
  await soon(() => expect(members()[1]?.bands).toContain(-9));
  await page.keyboard.press('Control+z');
  await soon(() => expect(members()[1]?.bands).not.toContain(-9));
});

test('variants are rendered in one go, heard by arrow keys, and kept as takes of the pad that plays the hit', async () => {
  await press(page, 'To a pad');
  await saved(page);
  await press(page, 'Variants …');
  const cells = page.getByRole('button', { name: /^Hear / });
  await soon(async () => expect(await cells.count()).toBeGreaterThan(3));
  await soon(async () => expect(await page.getByText('rendering …').count()).toBe(0));
  const lies = JSON.stringify(members());
  await page.keyboard.press('ArrowRight');
  await told(page, /[1-9]\d* voices?/);
  // The keys are the grid's: the layers under it stay where they are.
  await saved(page);
  expect(JSON.stringify(members())).toBe(lies);
  const boxes = page.getByRole('checkbox', { name: /^Keep / });
  await press(page, 'Make it so long');
  await told(page, /The hit “Barrel 0 layered short” has the same layers/);
  await boxes.nth(0).check();
  await boxes.nth(2).check();
  await press(page, /^Keep 2 as takes of/);
  await saved(page);
  const takes = session.ask<{ name: string }>(
    "SELECT h.name FROM variation v JOIN hit h ON h.id = v.hit_id WHERE h.name LIKE 'Barrel 0 layered%'",
  );
  expect(takes).toHaveLength(2);
  const [short] = session.ask<{ n: number; ms: number }>(
    `SELECT (SELECT count(*) FROM member m WHERE m.layered_id = h.id) AS n, s.settings ->> 'timeMs' AS ms
     FROM hit h JOIN step s ON s.hit_id = h.id AND s.processor = 'length' WHERE h.name = 'Barrel 0 layered short'`,
  );
  expect(short?.n).toBe(2);
  expect(Math.abs((short?.ms ?? 0) - 500)).toBeLessThan(30);
});

test('on a pad its layers are laid apart and made one again', async () => {
  const client = new Client(session.server.address);
  await client.edit('plain layers', [
    ...['hit-plain-0001'].map((id) => ({
      op: 'create' as const,
      doc: 'hit' as const,
      id,
      value: {
        ...{ name: 'Plain layers', family: 'kick', sliceId: null, startFrame: 0, endFrame: RATE },
        recordingId: session.ask<{ id: string }>("SELECT id FROM recording WHERE title = 'Barrel 0'")[0]?.id,
      },
    })),
    ...[0, 1].map((n) => ({
      op: 'create' as const,
      doc: 'member' as const,
      id: `member-plain-0${n}`,
      value: { layeredId: 'hit-plain-0001', hitId: `hit-barrel-00${n}`, position: n, offsetFrames: -432 * n },
    })),
  ]);
  await page.goto(`${session.server.address}/hits`);
  await page.getByLabel('Search hits').fill('Plain layers');
  await row('Plain layers').click({ position: { x: 790, y: 12 } });
  await page.keyboard.press('Enter');
  await saved(page);
  await page.goto(`${session.server.address}/kits`);
  await page.locator('[data-position]').filter({ hasText: 'Plain layers' }).click();
  const onPad = () =>
    session.ask<{ name: string; offset: number | null }>(
      `SELECT h.name, l.settings ->> 'offsetMs' AS offset FROM layer l JOIN hit h ON h.id = l.hit_id JOIN pad p ON p.id = l.pad_id
       WHERE p.name = 'Plain layers' ORDER BY l.position`,
    );
  await press(page, 'more …');
  await page.getByRole('menuitem', { name: 'Lay the layers of Plain layers apart' }).click();
  await soon(() => expect(onPad().map(({ name }) => name)).toEqual(['Barrel 0', 'Barrel 1']));
  expect(onPad()[1]?.offset).toBeCloseTo(-9, 3);
  await press(page, 'more …');
  await page.getByRole('menuitem', { name: 'One layered hit of them' }).click();
  await soon(() => expect(onPad().map(({ name }) => name)).toEqual(['Plain layers 2']));
});

test('nothing was complained of', () => {
  expect(session.complaints).toEqual([]);
});
