import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import type { KitView } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import { VOICES, type VoiceName } from '../../src/demo/voices';
import { begin, type Session, scratch, soon, told } from '../harness';
import { Client } from '../server/client';

const RATE = 44_100;
let session: Session;
let client: Client;
/** Two folders of sixteen one-shots, named as people name them. */
const FOLDERS: Readonly<Record<string, readonly (readonly [VoiceName, string])[]>> = {
  cellar: (
    [
      ['kick', 'Kick'],
      ['snare', 'Snare'],
      ['closed hat', 'Closed hat'],
      ['low tom', 'Tom'],
    ] as const
  ).flatMap(([voice, name]) => [1, 2, 3, 4].map((n) => [voice, `${name} cellar ${n}`] as const)),
  attic: (
    [
      ['open hat', 'Open hat'],
      ['clap', 'Clap'],
      ['crash', 'Crash'],
      ['clank', 'Perc'],
    ] as const
  ).flatMap(([voice, name]) => [1, 2, 3, 4].map((n) => [voice, `${name} attic ${n}`] as const)),
};

beforeAll(async () => {
  session = await begin(async () => join(scratch(), 'workspace.db'));
  client = new Client(session.server.address);
  for (const [folder, files] of Object.entries(FOLDERS)) {
    mkdirSync(join(session.folder, folder));
    for (const [i, [voice, name]] of files.entries()) {
      const samples = VOICES[voice](RATE, 0.8, 40 + i);
      writeFileSync(
        join(session.folder, folder, `${name}.wav`),
        writeWav({ sampleRate: RATE, channels: [samples] }, 's24'),
      );
    }
  }
});

afterAll(() => session?.end());

/** Counts what a hand does: a click, a key, a value typed, a drop. */
class Gestures {
  count = 0;
  async do(gesture: () => Promise<unknown>): Promise<void> {
    this.count++;
    await gesture();
  }
}

test('a kit of 32 pads comes of two folders by role', async () => {
  const { page } = session;
  const hand = new Gestures();
  await page.goto(`${session.server.address}/kits`);
  await hand.do(() => page.getByRole('button', { name: 'Make a kit' }).click());
  await page.getByText('0 of 128 pads').waitFor();
  for (const [n, folder] of Object.keys(FOLDERS).entries()) {
    // As if the folder were dropped anywhere.
    await hand.do(() => page.getByTestId('folder-input').setInputFiles(join(session.folder, folder)));
    await soon(async () => expect((await client.get<unknown[]>('/api/hits')).length).toBe(16 * (n + 1)));
  }
  await hand.do(() => page.getByRole('link', { name: 'Hits', exact: true }).click());
  await soon(async () => expect(await page.getByTestId('hit').count()).toBeGreaterThan(8));
  await page.locator('h1').first().click();
  await hand.do(() => page.keyboard.press('Control+a'));
  await hand.do(() => page.getByRole('button', { name: /^To the pads/ }).click());
  await hand.do(() => page.getByRole('button', { name: 'Lay 32' }).click());
  const [kit] = await client.get<{ id: string }[]>('/api/kits');
  await soon(async () => {
    const { pads, layers } = await client.get<KitView>(`/api/kits/${kit?.id}`);
    expect([pads.length, layers.length]).toEqual([32, 32]);
    expect(pads.find(({ position }) => position === 0)?.family).toBe('kick');
  });
  console.log(`A kit of 32 from two folders by role: ${hand.count} gestures.`);
  expect(hand.count).toBeLessThanOrEqual(12);
});

test('an empty kit becomes eight pads that sound, have names and one level, and choke', async () => {
  const { page } = session;
  const hand = new Gestures();
  await hand.do(() => page.getByRole('link', { name: 'Kits', exact: true }).click());
  await hand.do(() => page.getByRole('button', { name: 'New kit', exact: true }).click());
  await page.getByText('0 of 128 pads').waitFor();
  await hand.do(() => page.getByRole('link', { name: 'Hits', exact: true }).click());
  // The first of each kind.
  await hand.do(() => page.getByLabel('Search hits').fill('1'));
  await soon(async () => expect(await page.getByTestId('hit').count()).toBe(8));
  await page.locator('h1').first().click();
  await hand.do(() => page.keyboard.press('Control+a'));
  await hand.do(() => page.keyboard.press('Enter'));
  await hand.do(() => page.getByRole('button', { name: 'Lay 8' }).click());
  await hand.do(() => page.getByRole('link', { name: 'Kits', exact: true }).click());
  await hand.do(() => page.getByRole('tab', { name: 'Whole kit' }).click());
  await hand.do(() => page.locator('[data-choice="Give it a layout"]').click());
  await hand.do(() => page.locator('[role=option][data-value="general midi"]').click());
  await told(page, /has the roles of General MIDI percussion/);
  await hand.do(() => page.getByRole('tab', { name: 'Table' }).click());
  await hand.do(() => page.getByRole('tab', { name: 'Sound', exact: true }).click());
  const rows = page.getByTestId('pad-row');
  await rows.first().waitFor();
  await hand.do(() => rows.first().locator('span').first().click());
  await hand.do(() => page.keyboard.press('Control+a'));
  const level = page.locator('[data-cell="normaliseDbfs"]').first();
  await hand.do(async () => {
    await level.fill('-1');
    await level.press('Enter');
  });
  const kit = (await client.get<{ id: string; padCount: number }[]>('/api/kits')).find(
    ({ padCount }) => padCount === 8,
  );
  await soon(async () => {
    const { pads, layers } = await client.get<KitView>(`/api/kits/${kit?.id}`);
    const sounding = pads.filter(({ id }) => layers.some(({ padId }) => padId === id));
    expect(sounding).toHaveLength(8);
    expect(new Set(sounding.map(({ role }) => role)).size).toBe(8);
    expect(sounding.every(({ normaliseDbfs }) => normaliseDbfs === -1)).toBe(true);
    const hats = sounding.filter(({ family }) => family === 'closed hat' || family === 'open hat');
    expect(hats.map(({ chokeGroup }) => chokeGroup)).toEqual([hats[0]?.chokeGroup, hats[0]?.chokeGroup]);
    expect(hats[0]?.chokeGroup).toBeGreaterThan(0);
  });
  console.log(`An empty kit to eight sounding, named, levelled, choked pads: ${hand.count} gestures.`);
  expect(hand.count).toBeLessThanOrEqual(20);
});
