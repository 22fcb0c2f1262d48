import type { KitView } from '../../src/contract/views';
import { readMidiFile } from '../../src/core/midi/file';
import { begin, type Session, soon } from '../harness';
import { Client } from '../server/client';
import { choose, openMillstone, setNumber } from './gestures';

let session: Session;
let client: Client;
let kitId: string;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  kitId = await openMillstone(session, [0, 8, 16]);
});

afterAll(() => session?.end());

const ready = (position: number) => session.page.locator(`[data-position="${position}"][data-state="ready"]`).waitFor();
const padAt = async (position: number) =>
  (await client.get<KitView>(`/api/kits/${kitId}`)).pads.find(
    (p) => p.position === position,
  ) as KitView['pads'][number];

interface PageSound {
  readonly engine: {
    readonly struck: number;
    peakOf(pad: number): number;
    takeMostVoices(): number;
    readonly sampleRate: number;
  };
}

/** Strokes that the engine has played. */
const struck = () =>
  session.page.evaluate(() => (globalThis as never as { undercroftSound: PageSound }).undercroftSound.engine.struck);
/** How loud a pad is in the engine, linear. */
const levelOf = (pad: number) =>
  session.page.evaluate(
    (p) => (globalThis as never as { undercroftSound: PageSound }).undercroftSound.engine.peakOf(p),
    pad,
  );
const tab = (name: string) => session.page.getByRole('tab', { name, exact: true });
const stone = (note: number) => session.page.getByRole('button', { name: `Note ${note}`, exact: true });

test('a pad is shaped on its wave: stages by figures and by hand, a filter, what moves it; all is undone', async () => {
  const { page } = session;
  await page.locator('[data-position="0"]').click();
  const before = await padAt(0);
  await tab('Level').click();
  await setNumber(page, 'Decay', '200');
  await soon(async () => expect((await padAt(0)).levelDecayMs).toBe(200));
  await setNumber(page, 'Hold', '50');
  await soon(async () => expect((await padAt(0)).levelHoldMs).toBe(50));
  // The handle of the hold stands at its end; it is dragged on.
  const wave = page.locator('canvas[aria-label^="Sound of"]');
  const box = (await wave.boundingBox()) as NonNullable<Awaited<ReturnType<typeof wave.boundingBox>>>;
  const perMs = await page.evaluate(([w, ms]) => (w as number) / (ms as number), [
    box.width,
    1.12 * (await soundMs()),
  ] as const);
  await page.mouse.move(box.x + 50 * perMs, box.y + 8);
  await page.mouse.down();
  await page.mouse.move(box.x + 120 * perMs, box.y + 8, { steps: 4 });
  await page.mouse.up();
  await soon(async () => expect(Math.abs(((await padAt(0)).levelHoldMs ?? 0) - 120)).toBeLessThan(6));
  await choose(page, 'Filter', 'low');
  await soon(async () => expect((await padAt(0)).filter).toBe('low'));
  await choose(page, 'Add what moves it', 'velocity');
  await choose(page, 'Target of velocity', 'cutoff');
  await soon(async () => expect((await padAt(0)).moves).toEqual([{ source: 'velocity', target: 'cutoff', depth: 1 }]));
  await page.getByLabel('moved by velocity').first().waitFor();
  for (let n = 0; n < 5; n++) {
    await page.keyboard.press('Control+z');
    await soon(async () => expect((await padAt(0)).rev).toBe(before.rev + 6 + n));
  }
  const { rev: _rev, ...now } = await padAt(0);
  const { rev: _before, ...then } = before;
  expect(now).toEqual(then);
});

/** Length of the first pad's hit. */
async function soundMs(): Promise<number> {
  const view = await client.get<KitView>(`/api/kits/${kitId}`);
  const pad = view.pads.find((p) => p.position === 0);
  const layer = view.layers.find((l) => l.padId === pad?.id);
  const hit = view.hits.find((h) => h.id === layer?.hitId) as KitView['hits'][number];
  const recording = view.recordings.find((r) => r.id === hit.recordingId) as KitView['recordings'][number];
  return (1000 * (hit.endFrame - hit.startFrame)) / recording.sampleRate;
}

test('keys, the pointer and the simulated controller play the engine, and the pad that sounds says so', async () => {
  const { page } = session;
  await tab('Controller').click();
  const plays = async (pad: number, act: () => Promise<void>) => {
    const count = await struck();
    await act();
    await soon(async () => expect(await struck()).toBe(count + 1));
    await soon(async () => expect(await levelOf(pad)).toBeGreaterThan(0.001));
    await page.locator(`[data-position="${pad}"][data-sounding]`).waitFor();
  };
  await plays(0, () => page.keyboard.press('z'));
  await plays(8, () => page.locator('[data-position="8"]').click());
  await plays(16, () => stone(42).click());
  await soon(async () => expect(await page.getByTestId('last-heard').textContent()).toMatch(/note 42 off, channel 10/));
  // A note that no pad has sounds nothing and is heard none the less.
  const count = await struck();
  await stone(58).click();
  await soon(async () => expect(await page.getByTestId('last-heard').textContent()).toMatch(/note 58/));
  expect(await struck()).toBe(count);
});

test('a note that is held when the controller is unplugged is let go', async () => {
  const { page } = session;
  await tab('Pads').click();
  await page.locator('[data-position="8"]').click();
  await choose(page, 'Plays', 'looped');
  await soon(async () => expect((await padAt(8)).mode).toBe('looped'));
  await ready(8);
  await tab('Controller').click();
  const box = await stone(38).boundingBox();
  if (!box) throw new Error('No stone.');
  await page.mouse.move(box.x + 10, box.y + 10);
  await page.mouse.down();
  // It sounds on far longer than its sound is.
  const since = Date.now();
  await soon(async () => {
    expect(Date.now() - since).toBeGreaterThan(1500);
    expect(await levelOf(8)).toBeGreaterThan(0.001);
  });
  await page.keyboard.press('Tab');
  await page.evaluate(() =>
    [...document.querySelectorAll('button')].find(({ textContent }) => textContent === 'Unplug it')?.click(),
  );
  await soon(async () => expect(await levelOf(8)).toBeLessThan(1e-4));
  await page.mouse.up();
  await page.getByRole('button', { name: 'Plug it in' }).click();
});

test('a note is learnt, strokes choose the pad where that is wished, and note 60 reads as it is called', async () => {
  const { page } = session;
  await page.locator('[data-position="0"]').click();
  await page.getByRole('button', { name: 'Learn its note' }).click();
  await stone(50).click();
  await soon(async () => expect((await padAt(0)).note).toBe(50));
  await page.getByRole('button', { name: 'Learn its note' }).click();
  await stone(36).click();
  await soon(async () => expect((await padAt(0)).note).toBeNull());
  await choose(page, 'Strokes choose', 'every');
  await stone(42).click();
  await page.locator('[data-position="16"][aria-pressed="true"]').waitFor();
  await choose(page, 'Strokes choose', 'none');
  await page.locator('[data-position="0"]').click();
  await page.locator('[data-position="16"][aria-pressed="true"]').waitFor();
  await choose(page, 'Note 60 is', '3');
  await page.locator('[data-position="0"]').getByText('36 C1').waitFor();
  await page.getByLabel('Choose by note').fill('C1');
  await page.keyboard.press('Enter');
  await page.locator('[data-position="0"][aria-pressed="true"]').waitFor();
  await choose(page, 'Note 60 is', '4');
  await choose(page, 'Strokes choose', 'pointer');
});

test('what was played is kept as a take, also after a reload, and replayed through the same door', async () => {
  const { page } = session;
  await page.keyboard.press('z');
  await page.keyboard.press('a');
  await soon(async () => expect(await page.getByTestId('just-played').textContent()).toMatch(/strokes/));
  await page.getByRole('button', { name: 'Keep it as a take' }).click();
  const kept = () => client.get<{ name: string; strokes: number; midi: string }[]>('/api/performances');
  await soon(async () => expect(await kept()).toHaveLength(1));
  const [take] = (await kept()) as [Awaited<ReturnType<typeof kept>>[number]];
  const { messages } = readMidiFile(new Uint8Array(Buffer.from(take.midi, 'base64')));
  const strokes = messages.filter(({ message }) => message.kind === 'note-on');
  expect(strokes).toHaveLength(take.strokes);
  expect(strokes.at(-1)?.message).toMatchObject({ note: 38, velocity: 110 });
  await page.reload();
  for (const position of [0, 8, 16]) await ready(position);
  await tab('Controller').click();
  const count = await struck();
  await page.getByRole('button', { name: `Replay ${take.name}` }).click();
  await soon(async () => expect(await struck()).toBeGreaterThanOrEqual(count + take.strokes));
  await page.getByRole('button', { name: `Drop the take ${take.name}` }).click();
  await soon(async () => expect(await kept()).toHaveLength(0));
});

test('takes that a pad keeps are laid over velocity, each in turn, a range is dragged, and one is taken alone', async () => {
  const { page } = session;
  await tab('Pads').click();
  const view = await client.get<KitView>(`/api/kits/${kitId}`);
  const pad = view.pads.find(({ position }) => position === 9) as KitView['pads'][number];
  const own = view.layers.find(({ padId }) => padId === pad.id) as KitView['layers'][number];
  const hits = await client.get<{ id: string; family: string | null }[]>('/api/hits');
  const others = hits.filter(({ family, id }) => family === 'snare' && id !== own.hitId).slice(0, 3);
  expect(others.length).toBeGreaterThan(1);
  await client.edit(
    'takes of the snare',
    others.map(({ id }, i) => ({
      op: 'create',
      doc: 'variation',
      id: `variation-take-${i}`,
      value: { padId: pad.id, hitId: id, position: i },
    })),
  );
  await page.locator('[data-position="9"]').click();
  await page.getByRole('button', { name: `lay ${others.length} more` }).click();
  await page.getByRole('menuitem', { name: 'Over velocity, levelled' }).click();
  const takes = async () => {
    const { layers } = await client.get<KitView>(`/api/kits/${kitId}`);
    return layers.filter(({ padId }) => padId === pad.id);
  };
  await soon(async () => expect(await takes()).toHaveLength(1 + others.length));
  const laid = await takes();
  expect(laid.every(({ isTake }) => isTake)).toBe(true);
  expect(Math.min(...laid.map(({ lowVelocity }) => lowVelocity))).toBe(1);
  expect(Math.max(...laid.map(({ highVelocity }) => highVelocity))).toBe(127);
  // The softest's range ends further down.
  const softest = Math.min(...laid.map(({ highVelocity }) => highVelocity));
  const map = page.getByRole('region', { name: 'Takes over velocity' }).locator('canvas');
  const box = (await map.boundingBox()) as { x: number; y: number; width: number };
  const at = (velocity: number) => box.x + 1 + (velocity / 127) * (box.width - 2);
  if (softest < 127) {
    await page.mouse.move(at(softest), box.y + 40);
    await page.mouse.down();
    await page.mouse.move(at(softest - 10), box.y + 40, { steps: 4 });
    await page.mouse.up();
    await soon(async () =>
      expect(
        Math.abs(Math.min(...(await takes()).map(({ highVelocity }) => highVelocity)) - (softest - 10)),
      ).toBeLessThan(2),
    );
  }
  await page.getByRole('button', { name: 'lay anew' }).click();
  await page.getByRole('menuitem', { name: 'One take only' }).click();
  await soon(async () => expect(await takes()).toHaveLength(1));
});

test('a shaped pad becomes a hit of how it sounds, and a copy beside it at another tune', async () => {
  const { page } = session;
  await page.locator('[data-position="0"]').click();
  await setNumber(page, 'Decay', '60');
  await soon(async () => expect((await padAt(0)).levelDecayMs).toBe(60));
  const { name } = await padAt(0);
  await page.getByRole('button', { name: 'To a new hit' }).click();
  type Made = { name: string; recordingId: string; startFrame: number; endFrame: number };
  const printed = async () => (await client.get<Made[]>('/api/hits')).find((hit) => hit.name === `${name} print`);
  await soon(async () => expect(await printed()).toBeDefined());
  const made = (await printed()) as Made;
  // It has died away when its envelope has.
  const { sampleRate } = (await client.recordings()).find(({ id }) => id === made.recordingId) as {
    sampleRate: number;
  };
  expect(Math.abs((made.endFrame - made.startFrame) / sampleRate - 0.06)).toBeLessThan(0.002);
  const before = (await client.get<KitView>(`/api/kits/${kitId}`)).pads.length;
  await choose(page, 'Beside it at another tune', '-5');
  await soon(async () => {
    const { pads } = await client.get<KitView>(`/api/kits/${kitId}`);
    expect(pads).toHaveLength(before + 1);
    expect(pads.filter(({ semitones }) => semitones === -5)).toHaveLength(1);
  });
});

test('without Web MIDI the page says so and why, and the rest plays on', async () => {
  const { page } = session;
  await tab('Controller').click();
  await page.getByRole('button', { name: 'Connect MIDI controllers' }).click();
  await page.getByRole('status').filter({ hasText: /MIDI/ }).waitFor();
  const count = await struck();
  await stone(36).click();
  await soon(async () => expect(await struck()).toBe(count + 1));
});

test('a flood of messages and notes at the ends of the range leave the engine playing', async () => {
  const { page } = session;
  const count = await struck();
  await page.evaluate(() => {
    const names = [...document.querySelectorAll<HTMLElement>('[aria-label="Wheel"], label')];
    const wheel = names
      .map((n) => n.querySelector('input'))
      .find((input) => input?.type === 'range') as HTMLInputElement;
    const set = Object.getOwnPropertyDescriptor(HTMLInputElement.prototype, 'value')?.set;
    for (let i = 0; i < 5000; i++) {
      set?.call(wheel, String(i % 128));
      wheel.dispatchEvent(new Event('input', { bubbles: true }));
    }
  });
  await page.keyboard.press('z');
  await soon(async () => expect(await struck()).toBeGreaterThan(count));
});

test('strokes go through steps of the pad: chosen, turned, switched, undone, heard, and there after a reload', async () => {
  const { page } = session;
  await page.goto(`${session.server.address}/kits`);
  await ready(8);
  await page.locator('[data-position="8"]').click();
  await tab('Steps').click();
  const steps = page.getByLabel('Steps of the pad');
  const add = async (name: string) => {
    await steps.getByRole('button', { name: 'add …' }).click();
    await page.getByRole('menuitem', { name: new RegExp(`^${name}`) }).click();
  };
  const stored = async () => {
    const view = await client.get<KitView>(`/api/kits/${kitId}`);
    const pad = view.pads.find((p) => p.position === 8);
    return view.steps.filter((step) => step.padId === pad?.id);
  };
  const levelAfter = async (ms: number) => {
    await page.keyboard.press('KeyA');
    await page.waitForTimeout(ms);
    return levelOf(8);
  };
  await soon(async () => expect(await levelAfter(20)).toBeGreaterThan(0));
  await soon(async () => expect(await levelOf(8)).toBeLessThan(1e-4));
  await add('Room');
  const rows = page.getByTestId('live-step');
  for (const [name, value] of [
    ['Decay', '4'],
    ['Mix', '100'],
  ] as const) {
    await rows.getByRole('textbox', { name }).fill(value);
    await rows.getByRole('textbox', { name }).press('Enter');
  }
  await soon(async () => expect(await stored()).toMatchObject([{ processor: 'room', decayS: 4, mix: 1 }]));
  await ready(8);
  // Long after the stroke has ended the room still sounds; the key that stops all stops it.
  await soon(async () => expect(await levelAfter(1500)).toBeGreaterThan(1e-3));
  await page.keyboard.press('Digit0');
  await soon(async () => expect(await levelOf(8)).toBeLessThan(1e-4));
  await add('Equaliser');
  await add('Compressor');
  await soon(async () => expect((await stored()).map(({ processor }) => processor)).toHaveLength(3));
  await steps.getByRole('checkbox', { name: 'Room on' }).uncheck();
  await soon(async () => expect((await stored())[0]?.active).toBe(false));
  await soon(async () => expect(await levelAfter(1500)).toBeLessThan(1e-3));
  await page.reload();
  await ready(8);
  await page.locator('[data-position="8"]').click();
  await page.getByRole('tab', { name: 'Steps 3' }).click();
  expect(await steps.getByTestId('step').count()).toBe(3);
  for (let n = 0; n < 6; n++) await page.keyboard.press('Control+z');
  await soon(async () => expect(await stored()).toEqual([]));
});

test('a loop on a pad follows the tempo by the slices of its recording, and stops where its pad is struck again', async () => {
  const { page } = session;
  const recording = (await client.recordings()).find(({ title }) => title === 'Sluice loop');
  const value = { name: 'Sluice whole', family: null, recordingId: recording?.id, sliceId: null };
  await client.edit('a loop on a pad', [
    { op: 'create', doc: 'hit', id: 'hit-loop-1', value: { ...value, startFrame: 0, endFrame: recording?.frames } },
    {
      op: 'create',
      doc: 'pad',
      id: 'pad-loop-1',
      value: { kitId, position: 6, name: 'Sluice whole', family: null, mode: 'switched' },
    },
    {
      op: 'create',
      doc: 'layer',
      id: 'layer-loop-1',
      value: { padId: 'pad-loop-1', hitId: 'hit-loop-1', position: 0 },
    },
  ]);
  await page.goto(`${session.server.address}/kits`);
  await ready(6);
  await page.locator('[data-position="6"]').click();
  await choose(page, 'In tempo', 'slices');
  await soon(async () => expect(await padAt(6)).toMatchObject({ fit: 'slices', loopBpm: 94 }));
  expect((await padAt(6)).cuts.length).toBeGreaterThan(8);
  await ready(6);
  await page.keyboard.press('Digit0');
  await page.keyboard.press('KeyM');
  // It goes on past its own length, and its slices are heard apart.
  const levels: number[] = [];
  const until = Date.now() + 6000;
  while (Date.now() < until) levels.push(await levelOf(6));
  expect(Math.max(...levels.slice(-Math.floor(levels.length / 4)))).toBeGreaterThan(0.05);
  await page.keyboard.press('KeyM');
  await soon(async () => expect(await levelOf(6)).toBeLessThan(1e-4));
  await choose(page, 'In tempo', 'stretched');
  await soon(async () => expect((await padAt(6)).fit).toBe('stretched'));
  await ready(6);
  await page.keyboard.press('KeyM');
  await soon(async () => expect(await levelOf(6)).toBeGreaterThan(0.05));
  await page.keyboard.press('Digit0');
  await soon(async () => expect(await levelOf(6)).toBeLessThan(1e-4));
});
