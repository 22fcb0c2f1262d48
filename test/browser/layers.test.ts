import type { Page } from 'playwright-core';
import { writeWav } from '../../src/core/format/wav';
import { begin, type Session, saved, soon, told } from '../harness';
import { Client } from '../server/client';
import { press } from './gestures';

let session: Session;
let page: Page;
const RATE = 48_000;

beforeAll(async () => {
  session = await begin();
  page = session.page;
});

afterAll(() => session?.end());

/** A kick that starts late in its file. */
function kick(at: number, level: number): Uint8Array {
  const samples = Float32Array.from({ length: RATE / 2 }, (_, i) => {
    const t = (i - at) / RATE;
    return t < 0 ? 0 : level * Math.min(1, t / 0.001) * Math.exp(-t / 0.12) * Math.sin(2 * Math.PI * 52 * t);
  });
  return writeWav({ sampleRate: RATE, channels: [samples] }, 's24');
}

const layers = () =>
  session
    .ask<{ settings: string }>("SELECT settings FROM layer WHERE pad_id = 'pad-layers-01' ORDER BY position")
    .map(({ settings }) => JSON.parse(settings) as { offsetMs?: number; inverted?: boolean });

test('two kicks on a pad that start 9 ms apart and cancel are lined up by one click, undone and done again', async () => {
  const client = new Client(session.server.address);
  const made = [];
  for (const [n, [at, level]] of [
    [240, 0.5],
    [240 + 432, -0.5],
  ].entries()) {
    const { recordingId } = await client.import(`Barrel ${n}.wav`, kick(at as number, level as number));
    made.push({
      op: 'create' as const,
      doc: 'hit' as const,
      id: `hit-layers-0${n}`,
      value: {
        ...{ name: `Barrel ${n}`, family: 'kick', sliceId: null, recordingId },
        startFrame: 0,
        endFrame: RATE / 2,
      },
    });
  }
  const layer = (n: number) => ({
    op: 'create' as const,
    doc: 'layer' as const,
    id: `layer-lined-0${n}`,
    value: { padId: 'pad-layers-01', hitId: `hit-layers-0${n}`, position: n },
  });
  await client.edit('two kicks on a pad', [
    { op: 'create', doc: 'kit', id: 'kit-layers-01', value: { name: 'Layers' } },
    ...made,
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-layers-01',
      value: { kitId: 'kit-layers-01', position: 0, name: 'Barrels', family: 'kick' },
    },
    layer(0),
    layer(1),
  ]);
  await page.goto(`${session.server.address}/kits`);
  await page.evaluate(() => localStorage.setItem('undercroft.kit', 'kit-layers-01'));
  await page.reload();
  await page.locator('[data-position="0"]').click();
  await press(page, 'line up');
  await told(page, /Barrel 1 by −432 samples, Barrel 1 turned/);
  await saved(page);
  const [first, second] = layers();
  expect([first?.offsetMs ?? 0, first?.inverted ?? false]).toEqual([0, false]);
  expect(second?.offsetMs).toBeCloseTo(-9, 3);
  expect(second?.inverted).toBe(true);
  await press(page, 'line up');
  await told(page, /They lie together already/);
  await page.keyboard.press('Control+z');
  await soon(() => expect(layers()).toEqual([{}, {}]));
  await page.keyboard.press('Control+Shift+z');
  await soon(() => expect(layers()[1]?.inverted).toBe(true));
});

test('whether they add is charted; a mend is heard before it is taken, and taken by one click', async () => {
  const client = new Client(session.server.address);
  const [, second] = session.ask<{ id: string; rev: number }>(
    "SELECT id, rev FROM layer WHERE pad_id = 'pad-layers-01' ORDER BY position",
  );
  // Turned back: lined up, but cancelling.
  await client.edit('turned back', [
    { op: 'update', doc: 'layer', id: second?.id ?? '', rev: second?.rev ?? 0, set: { inverted: false } },
  ]);
  await soon(() => expect(layers()[1]?.inverted ?? false).toBe(false));
  await press(page, 'do they add?');
  await page.getByRole('img', { name: 'Sum of the layers against their own powers' }).locator('canvas').waitFor();
  await page.getByText(/\d+ Hz loses/).waitFor();
  const mend = page.getByTestId('mend');
  await soon(async () => expect(await mend.textContent()).toMatch(/Barrel 1 turned gives back/));
  await mend.getByRole('button', { name: 'Hear it' }).click();
  // It stays on offer while it is heard, and can be given back.
  await mend.getByRole('button', { name: 'As it was' }).click();
  await mend.getByRole('button', { name: 'Hear it' }).click();
  await mend.getByRole('button', { name: 'As it was' }).waitFor();
  expect(layers()[1]?.inverted ?? false).toBe(false);
  await mend.getByRole('button', { name: 'Take it' }).click();
  await page.getByText('No band loses more than 3 dB.').waitFor();
  expect(await mend.count()).toBe(0);
  await saved(page);
  expect(layers()[1]?.inverted).toBe(true);
  await press(page, 'Close');
});
