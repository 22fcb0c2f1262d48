import { join } from 'node:path';
import { writeWav } from '../../src/core/format/wav';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import type { EngineClient } from '../../src/engine/client';
import { begin, type Session, scratch, soon } from '../harness';
import { Client } from '../server/client';
import { noise } from '../server/sounds';

const PADS = 128;
const RATE = 44_100;
/** All that the pads hold between them would take some 1.3 GB. */
const LENGTH = 60 * RATE;

let session: Session;

beforeAll(async () => {
  session = await begin(async () => join(scratch(), 'workspace.db'));
  const client = new Client(session.server.address);
  const { recordingId } = await client.import('yard.wav', writeWav(noise(LENGTH + PADS * 50, 1, 7, RATE), 's16'));
  const id = (kind: string, n: number) => `${kind}-${String(n).padStart(4, '0')}`;
  const numbers = Array.from({ length: PADS }, (_, n) => n);
  await client.edit('a kit', [
    { op: 'create', doc: 'kit', id: 'kit-0001', value: { name: 'Long' } },
    ...numbers.flatMap((n) => [
      {
        op: 'create' as const,
        doc: 'hit' as const,
        id: id('hit', n),
        // Each begins elsewhere, so that none is another's sound.
        value: {
          name: `Minute ${n}`,
          family: null,
          recordingId,
          startFrame: n * 50,
          endFrame: n * 50 + LENGTH,
          sliceId: null,
        },
      },
      {
        op: 'create' as const,
        doc: 'pad' as const,
        id: id('pad', n),
        value: { ...PAD_INITIAL, kitId: 'kit-0001', position: n, name: `Minute ${n}`, family: null },
      },
      {
        op: 'create' as const,
        doc: 'layer' as const,
        id: id('layer', n),
        value: { ...LAYER_INITIAL, padId: id('pad', n), hitId: id('hit', n), position: 0 },
      },
    ]),
  ]);
});

afterAll(() => session?.end());

/** Positions of the pads in sight by the state of their sound, once none is loading. */
async function settled(): Promise<{ readonly ready: number[]; readonly faulty: number[] }> {
  const pads = await session.page
    .getByTestId('pads')
    .locator('[data-state]')
    .evaluateAll((all) => all.map(({ dataset }) => [Number(dataset.position), dataset.state] as const));
  const of = (state: string) => pads.filter(([, s]) => s === state).map(([position]) => position);
  expect(of('loading')).toEqual([]);
  expect(of('ready').length).toBeGreaterThan(0);
  return { ready: of('ready').sort((a, b) => a - b), faulty: of('error') };
}

test('of a kit of 128 pads of a minute each the first are ready, the others say why not, and what is ready plays without a gap', async () => {
  const { page, server } = session;
  await page.goto(`${server.address}/kits`);
  await page.getByTestId('pads').locator('[data-state]').first().waitFor();
  const { ready, faulty } = await soon(settled);
  expect(ready).toEqual(ready.map((_, n) => n));
  expect(ready.length + faulty.length).toBe(32);
  const title = await page.getByTestId('pads').locator('[data-state=error]').first().getAttribute('title');
  expect(title).toMatch(/no room in sample memory for this sound; shorten the longest pads/);
  const played = await page.evaluate(async (pads) => {
    const { engine } = (globalThis as never as { undercroftSound: { engine: EngineClient } }).undercroftSound;
    engine.resume();
    for (const pad of [...pads, 127]) engine.strike(pad, 100);
    const before = engine.ranDry;
    await new Promise((resolve) => setTimeout(resolve, 1500));
    return { peak: engine.peak, voices: engine.takeMostVoices(), dry: engine.ranDry - before };
  }, ready);
  expect(played.peak).toBeGreaterThan(0.05);
  expect(played.voices).toBe(ready.length);
});

test('a pad waits for room and is ready by itself when another one is removed', async () => {
  const { page } = session;
  const { ready } = await settled();
  const next = page.getByTestId('pads').locator(`[data-position="${ready.length}"]`);
  expect(await next.getAttribute('data-state')).toBe('error');
  const client = new Client(session.server.address);
  await client.edit('removed', [{ op: 'remove', doc: 'pad', id: 'pad-0000', rev: 1 }]);
  await soon(async () => expect(await next.getAttribute('data-state')).toBe('ready'));
});
