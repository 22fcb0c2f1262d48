import type { BundleAnswer, KitView } from '../../src/contract/views';
import { programOfBus } from '../../src/core/play/limits';
import { begin, type Session, soon, told } from '../harness';
import { Client } from '../server/client';
import { choose, openMillstone, press } from './gestures';

let session: Session;
let client: Client;
let kitId: string;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  kitId = await openMillstone(session);
});

afterAll(() => session?.end());

const view = () => client.get<KitView>(`/api/kits/${kitId}`);
const tab = (name: string | RegExp) => session.page.getByRole('tab', { name });
/** The level of one of the engine's buses, from 1 on. */
const busLevel = (bus: number) =>
  session.page.evaluate(
    (place) =>
      (
        globalThis as never as { undercroftSound: { engine: { peakOf(place: number): number } } }
      ).undercroftSound.engine.peakOf(place),
    programOfBus(bus),
  );

test('pads are brought together on a bus, whose level and mute are heard, and go straight out when it is removed', async () => {
  const { page } = session;
  await tab('Buses').click();
  await page.getByText('All pads go straight out').waitFor();
  await press(page, '+ new bus');
  await page.getByLabel('Pads of the bus').getByText('all', { exact: true }).click();
  await soon(async () => {
    const { pads, buses } = await view();
    expect(buses.map(({ kind }) => kind)).toEqual(['bus']);
    expect(pads.every(({ busId }) => busId === buses[0]?.id)).toBe(true);
  });
  const bus = page.getByTestId('bus').first();
  await soon(async () => {
    await page.keyboard.press('KeyZ');
    expect(await busLevel(1)).toBeGreaterThan(0.05);
  });
  await bus.getByRole('button', { name: /^Mute the bus/ }).click();
  await soon(async () => expect((await view()).buses[0]?.muted).toBe(true));
  await soon(async () => expect(await busLevel(1)).toBeLessThan(1e-4));
  await page.keyboard.press('KeyZ');
  await page.waitForTimeout(100);
  expect(await busLevel(1)).toBeLessThan(1e-4);
  await bus.getByRole('button', { name: /^Remove the bus/ }).click();
  await soon(async () => {
    const { pads, buses } = await view();
    expect(buses).toEqual([]);
    expect(pads.every(({ busId }) => busId === null)).toBe(true);
  });
  await page.keyboard.press('Control+z');
  await soon(async () => expect((await view()).pads.every(({ busId }) => busId !== null)).toBe(true));
});

test('a compressor on a bus is heard before and after at one loudness', async () => {
  const { page } = session;
  const steps = page.getByLabel('Steps of the bus');
  await steps.getByRole('button', { name: 'add …' }).click();
  await page.getByRole('menuitem', { name: /^Compressor/ }).click();
  await soon(async () => expect((await view()).busSteps).toHaveLength(1));
  const threshold = steps.getByRole('textbox', { name: 'Threshold' });
  await threshold.fill('-40');
  await threshold.press('Enter');
  await soon(async () => expect((await view()).busSteps[0]).toMatchObject({ thresholdDb: -40 }));
  await steps.getByRole('button', { name: 'hear before it' }).click();
  await steps.getByText(/dB, as loud$/).waitFor();
  await steps.getByRole('button', { name: 'heard before it' }).click();
  await steps.getByRole('button', { name: 'hear before it' }).waitFor();
  await page.keyboard.press('Control+z');
  await page.keyboard.press('Control+z');
  await soon(async () => expect((await view()).busSteps).toEqual([]));
});

test('the first thing a pad sends brings the kit its echo, in time, which is heard on the bus of the echo', async () => {
  const { page } = session;
  await tab('Pads').click();
  await page.locator('[data-position="0"]').click();
  await tab(/^Steps/).click();
  const route = page.getByLabel('Where it goes');
  await choose(route, 'Bus', '');
  await route.getByRole('button', { name: /To the echo/ }).click();
  await soon(async () => {
    const { pads, buses, busSteps } = await view();
    expect(pads.find(({ position }) => position === 0)).toMatchObject({ busId: null, echoSendDb: -12 });
    expect(buses.some(({ kind }) => kind === 'echo')).toBe(true);
    expect(busSteps).toMatchObject([{ processor: 'echo', period: '1/8', mix: 1 }]);
  });
  await page.locator('[data-position="0"][data-state="ready"]').waitFor();
  await soon(async () => {
    await page.keyboard.press('KeyZ');
    await page.waitForTimeout(300);
    expect(await busLevel(32)).toBeGreaterThan(0.005);
  });
});

test('a bundle that is dropped opens as a kit, and one that is none says so; undo takes the kit away', async () => {
  const { page, server } = session;
  const zip = await (await fetch(`${server.address}/api/kits/${kitId}/export?for=self`)).arrayBuffer();
  const dropped = await page.evaluateHandle((base64) => {
    const transfer = new DataTransfer();
    transfer.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], 'Millstone.zip'));
    return transfer;
  }, Buffer.from(zip).toString('base64'));
  await page.dispatchEvent('main', 'drop', { dataTransfer: dropped });
  await told(page, /"Millstone 2" is open: 11 pads/);
  await page.locator('input[value="Millstone 2"]').waitFor();
  await page.locator('[data-position="0"][data-state="ready"]').waitFor();
  const kits = await client.get<BundleAnswer[]>('/api/kits');
  expect(kits.map(({ name }) => name)).toEqual(['Millstone', 'Millstone 2']);
  const odd = { name: 'odd.zip', mimeType: 'application/zip', buffer: Buffer.from('nothing') };
  await page.setInputFiles('[data-testid=file-input]', odd);
  await told(page, /odd\.zip: This is no zip that can be read/);
  await page.locator('[data-testid=pads]').hover();
  await page.keyboard.press('Control+z');
  await soon(async () => expect((await client.get<unknown[]>('/api/kits')).length).toBe(1));
});
