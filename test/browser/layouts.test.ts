import type { KitView } from '../../src/contract/views';
import { begin, type Session, soon } from '../harness';
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

const view = (id = kitId) => client.get<KitView>(`/api/kits/${id}`);
const place = (position: number) => session.page.locator(`[data-position="${position}"]`);
/** Types a figure into a row of the page. */
const fill = async (name: string, value: string) => {
  const field = session.page.getByRole('textbox', { name, exact: true });
  await field.fill(value);
  await field.press('Enter');
};
const tab = (name: string) => session.page.getByRole('tab', { name, exact: true });

test('the pads are turned by key, by wheel and by hand, a bank or a row, and the keys play what is there', async () => {
  const { page } = session;
  await page.locator('h1, [data-testid=pads]').first().hover();
  await page.keyboard.press('PageUp');
  await place(32).waitFor();
  expect(await place(0).count()).toBe(0);
  await page.keyboard.press('Shift+PageDown');
  await place(24).waitFor();
  await page.keyboard.press('PageDown');
  await place(0).waitFor();
  await page.getByTestId('pads').hover();
  await page.mouse.wheel(0, -100);
  await place(8).waitFor();
  await soon(async () => expect(await place(0).count()).toBe(0));
  // The lowest row of keys plays the second row of pads now.
  const struck = () =>
    page.evaluate(() =>
      (
        globalThis as never as { undercroftSound: { engine: { peakOf(pad: number): number } } }
      ).undercroftSound.engine.peakOf(8),
    );
  await soon(async () => {
    await page.keyboard.press('KeyZ');
    expect(await struck()).toBeGreaterThan(0.01);
  });
  const next = page.getByRole('button', { name: 'Turn to the next bank' });
  while (await next.isEnabled()) await next.click();
  await place(127).waitFor();
  // What is chosen by the arrows comes under the hands.
  await place(127).click();
  for (let n = 0; n < 5; n++) await page.keyboard.press('ArrowDown');
  await place(87).waitFor();
  for (let n = 0; n < 4; n++) await page.keyboard.press('PageDown');
  await place(0).waitFor();
});

test('a kit gets a layout, is kept without its sounds, and its layout is kept and given to another kit', async () => {
  const { page } = session;
  const before = (await view()).pads.length;
  await tab('Whole kit').click();
  await choose(page, 'Give it a layout', 'general midi');
  await soon(async () => expect((await view()).pads.filter(({ role }) => role !== '')).toHaveLength(47));
  const kick = (await view()).pads.find(({ position }) => position === 0);
  expect(kick).toMatchObject({ role: 'Bass drum 1', name: 'Kick Sluice 01' });
  await page.getByRole('button', { name: 'Pad Z: Bass drum 1, Kick Sluice 01' }).waitFor();
  await page.getByRole('button', { name: 'Pad W: Pedal hi-hat, empty' }).waitFor();
  await tab('Pads').click();
  await place(17).click();
  await page.getByText('it takes the role of Pedal hi-hat').waitFor();
  await tab('Whole kit').click();
  // What the whole kit does is kept with it.
  const { kit } = await view();
  await client.edit('slowed', [{ op: 'update', doc: 'kit', id: kit.id, rev: kit.rev, set: { tempoBpm: 94 } }]);
  const tempo = page.getByRole('textbox', { name: 'Tempo', exact: true });
  await soon(async () => expect(await tempo.inputValue()).toBe('94.0'));
  await page.getByRole('button', { name: 'Keep its layout' }).click();
  await soon(async () => expect(await client.get('/api/layouts')).toMatchObject([{ name: 'Millstone' }]));
  await page.getByRole('button', { name: 'Without sounds' }).click();
  await page.getByText('0 of 128 pads').waitFor();
  await page.getByText('47 roles, 0 with a sound').waitFor();
  const kits = await client.get<{ id: string; name: string }[]>('/api/kits');
  const empty = await view(kits.find(({ name }) => name === 'Millstone roles')?.id);
  expect(empty.layers).toEqual([]);
  expect(empty.pads.find(({ position }) => position === 16)).toMatchObject({ role: 'Closed hi-hat', chokeGroup: 1 });
  // A new kit by the kept layout.
  await page.getByRole('button', { name: 'New kit', exact: true }).click();
  await page.getByText('no roles yet').waitFor();
  const layouts = await client.get<{ id: string }[]>('/api/layouts');
  await choose(page, 'Give it a layout', layouts[0]?.id as string);
  await page.getByText(`${empty.pads.length} roles, 0 with a sound`).waitFor();
  await soon(async () => expect(await tempo.inputValue()).toBe('94.0'));
  await choose(page, 'Open a kit', kitId);
  await page.getByText(/^11 of 128 pads/).waitFor();
  for (let n = 0; n < 5; n++) await page.keyboard.press('Control+z');
  await soon(async () => expect((await view()).pads).toHaveLength(before));
});

test('the whole kit is transposed and levelled without touching its pads, one is muted, one is heard alone', async () => {
  const { page } = session;
  await choose(page, 'Open a kit', kitId);
  await place(0).and(page.locator('[data-state="ready"]')).waitFor();
  await tab('Whole kit').click();
  const pads = (await view()).pads;
  await fill('Transpose', '-12');
  await soon(async () => expect((await view()).kit.transpose).toBe(-12));
  expect((await view()).pads).toEqual(pads);
  await tab('Pads').click();
  await place(0).click();
  await page.getByRole('button', { name: 'mute', exact: true }).click();
  await soon(async () => expect((await view()).pads[0]?.muted).toBe(true));
  const levelOf = (pad: number) =>
    page.evaluate(
      (p) =>
        (
          globalThis as never as { undercroftSound: { engine: { peakOf(pad: number): number } } }
        ).undercroftSound.engine.peakOf(p),
      pad,
    );
  await place(0).and(page.locator('[data-state="ready"]')).waitFor();
  // What sounded before dies away; what is struck now is not heard.
  await soon(async () => {
    await page.keyboard.press('KeyZ');
    expect(await levelOf(0)).toBeLessThan(1e-3);
  });
});
