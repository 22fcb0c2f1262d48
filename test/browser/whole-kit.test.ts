import type { KitListEntry, KitView } from '../../src/contract/views';
import { PAD_INITIAL } from '../../src/core/kit/parameters';
import { hzToNote } from '../../src/core/signal/units';
import { begin, type Session, soon, told } from '../harness';
import { Client } from '../server/client';
import { choose, openMillstone } from './gestures';

let session: Session;
let client: Client;
let kitId: string;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  kitId = await openMillstone(session);
});

afterAll(() => session?.end());

const kits = () => client.get<KitListEntry[]>('/api/kits');
const view = (id = kitId) => client.get<KitView>(`/api/kits/${id}`);
const tab = (name: string) => session.page.getByRole('tab', { name, exact: true });

test('roots are told against the key of the kit, and brought to it by the least movement', async () => {
  const { page } = session;
  await tab('Whole kit').click();
  await choose(page, 'Key', '9');
  const roots = page.getByLabel('Key, versions, velocity');
  await roots.getByRole('button', { name: /pads? to the key$/ }).click();
  await roots.getByText('all in the key').waitFor();
  const told = await roots.locator('li .figure').allTextContents();
  expect(told.length).toBeGreaterThan(1);
  // Notes of A minor: none is sharp.
  for (const text of told) expect(text).toMatch(/^[A-G]\d [+−]0$/);
  const { pads } = await view();
  const moved = pads.filter(({ semitones, cents }) => semitones !== 0 || cents !== 0);
  expect(moved.length).toBeGreaterThan(1);
  for (const { semitones } of moved) expect(Math.abs(semitones)).toBeLessThan(3);
  await page.keyboard.press('Control+z');
  await roots.getByRole('button', { name: /pads? to the key$/ }).waitFor();
});

test('a pad is spread over the free ones up the scale of the kit', async () => {
  const { page } = session;
  await tab('Pads').click();
  await page.locator('[data-position="0"]').click();
  await page.getByRole('button', { name: 'Spread …' }).click();
  await page.getByRole('button', { name: 'A minor, 8 pads' }).click();
  await soon(async () => expect((await view()).pads).toHaveLength(18));
  const { pads } = await view();
  const spread = pads.filter(({ family, name }) => family === 'kick' && name.startsWith('Kick Sluice'));
  expect(spread).toHaveLength(8);
  expect(new Set(pads.map(({ name }) => name)).size).toBe(pads.length);
  const root = 55;
  const notes = spread.map(({ semitones, cents }) => hzToNote(root * 2 ** ((semitones + cents / 100) / 12)).note % 12);
  expect(new Set(notes).size).toBeGreaterThan(5);
  await page.keyboard.press('Control+z');
  await soon(async () => expect((await view()).pads).toHaveLength(11));
});

test('a version is kept, heard in the kit’s place, and brought back as it was', async () => {
  const { page } = session;
  const before = await view();
  await tab('Whole kit').click();
  await tab('Versions').click();
  await page.getByRole('button', { name: 'keep this one' }).click();
  const versions = page.getByLabel('Versions', { exact: true });
  await versions.getByText('version 1').waitFor();
  // The kit is emptied of a pad; the version has it still, and is no kit of the list.
  await tab('Pads').click();
  await page.locator('[data-position="0"]').click();
  await page.getByRole('button', { name: 'Empty the pad' }).click();
  await soon(async () => expect((await view()).pads).toHaveLength(10));
  const levelOf = () =>
    page.evaluate(() =>
      (
        globalThis as never as { undercroftSound: { engine: { peakOf(pad: number): number } } }
      ).undercroftSound.engine.peakOf(0),
    );
  await tab('Whole kit').click();
  await tab('Versions').click();
  await soon(async () => expect(await levelOf()).toBeLessThan(1e-4));
  await page.keyboard.press('KeyZ');
  await page.waitForTimeout(100);
  expect(await levelOf()).toBeLessThan(1e-4);
  await versions.getByRole('button', { name: 'hear', exact: true }).click();
  await soon(async () => {
    await page.keyboard.press('KeyZ');
    expect(await levelOf()).toBeGreaterThan(0.05);
  });
  await versions.getByRole('button', { name: 'bring back' }).click();
  const plain = ({ pads }: KitView) => pads.map(({ id: _id, rev: _rev, kitId: _kit, ...pad }) => pad);
  await soon(async () => expect(plain(await view())).toEqual(plain(before)));
  expect((await kits()).filter(({ versionOf }) => versionOf === null)).toHaveLength(1);
});

test('all pads of a kit are laid into another one, on free notes where theirs are taken, and undone at once', async () => {
  const { page } = session;
  await client.edit('another', [
    { op: 'create', doc: 'kit', id: 'kit-into-1', value: { name: 'Target' } },
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-into-1',
      value: { ...PAD_INITIAL, kitId: 'kit-into-1', position: 0, name: 'Own', family: null },
    },
  ]);
  await page.reload();
  await tab('Whole kit').click();
  await choose(page, 'Lay all pads into another kit', { label: 'Target' });
  await told(page, /11 pads of Millstone lie in Target, 1 on other notes/);
  const laid = await view('kit-into-1');
  expect(laid.pads).toHaveLength(12);
  expect(laid.pads.find(({ position }) => position === 32)?.name).toBe('Kick Sluice 01');
  expect(laid.layers.length).toBe((await view()).layers.length);
  await page.keyboard.press('Control+z');
  await soon(async () => expect((await view('kit-into-1')).pads).toHaveLength(1));
  await client.edit('away', [{ op: 'remove', doc: 'kit', id: 'kit-into-1', rev: 1 }]);
});

test('another hit of the family is tried at random, and thrown back', async () => {
  const { page } = session;
  await page.reload();
  await page.locator('[data-position="8"][data-state="ready"]').waitFor();
  await tab('Pads').click();
  await page.locator('[data-position="8"]').click();
  const hitOf = async () => {
    const { pads, layers } = await view();
    return layers.find(({ padId }) => padId === pads.find(({ position }) => position === 8)?.id)?.hitId;
  };
  const first = await hitOf();
  await page.getByRole('button', { name: 'At random' }).click();
  await soon(async () => expect(await hitOf()).not.toBe(first));
  await page.getByRole('button', { name: 'throw back' }).click();
  await soon(async () => expect(await hitOf()).toBe(first));
});

test('kits are searched by their own words and heard by the arrows; Escape goes back to the first', async () => {
  const { page } = session;
  await client.edit('two more', [
    { op: 'create', doc: 'kit', id: 'kit-list-1', value: { name: 'Attic', author: 'A. Miller', words: ['dry'] } },
    { op: 'create', doc: 'kit', id: 'kit-list-2', value: { name: 'Cellar', about: 'Of stone.', words: ['wet'] } },
  ]);
  await tab('All kits').click();
  const rows = page.getByTestId('kit-row');
  await soon(async () => expect(await rows.count()).toBe(3));
  const open = () => page.locator('[data-testid=kit-row][aria-current]').textContent();
  const search = page.getByLabel('Search kits');
  await search.fill('stone wet');
  await soon(async () => expect(await rows.count()).toBe(1));
  await search.fill('miller');
  await soon(async () => expect(await rows.allTextContents()).toEqual([expect.stringContaining('Attic')]));
  await search.fill('');
  await soon(async () => expect(await open()).toContain('Millstone'));
  await page.keyboard.press('ArrowUp');
  await soon(async () => expect(await open()).toContain('Cellar'));
  await page.keyboard.press('ArrowUp');
  await soon(async () => expect(await open()).toContain('Attic'));
  await page.keyboard.press('Escape');
  await soon(async () => expect(await open()).toContain('Millstone'));
  // It is heard by itself when the arrows come to it.
  await page.keyboard.press('ArrowUp');
  await soon(async () => expect(await open()).toContain('Cellar'));
  const struck = () =>
    page.evaluate(
      () => (globalThis as never as { undercroftSound: { engine: { struck: number } } }).undercroftSound.engine.struck,
    );
  const before = await struck();
  await page.keyboard.press('ArrowDown');
  await soon(async () => expect(await struck()).toBe(before + 4));
});
