import type { KitListEntry, KitView, SuppliedAnswer } from '../../src/contract/views';
import type { EngineClient } from '../../src/engine/client';
import { begin, type Session, soon } from '../harness';
import { Client } from '../server/client';
import { openMillstone } from './gestures';

let session: Session;
let client: Client;

/** Kick, snare and closed hat, by the notes of General MIDI, which are on the same pads in all three kits. */
const ROLES = [0, 8, 16] as const;

beforeAll(async () => {
  session = await begin();
  client = new Client(session.server.address);
  const answer = await client.post(`/api/supplied?browser=${client.browser}`, {});
  const { kitId } = answer.body as SuppliedAnswer;
  await openMillstone(session, ROLES);
  // A third one: the supplied kit an octave up.
  const { page } = session;
  await page.getByRole('tab', { name: 'All kits', exact: true }).click();
  await page.getByTestId('kit-row').filter({ hasText: 'Starter kit' }).click();
  // Until it is there the page shows the kit before.
  await soon(async () => expect(await page.getByLabel('Name of the kit').inputValue()).toBe('Starter kit'));
  await page.getByRole('button', { name: 'Save as a new kit' }).click();
  const third = await soon(async () => {
    const found = (await client.get<KitListEntry[]>('/api/kits')).find(
      ({ id, name }) => id !== kitId && /^Starter/.test(name),
    );
    expect(found).toBeDefined();
    return found as KitListEntry;
  });
  // A copy is a person's own.
  expect(third.supplied).toBe(false);
  const { kit } = await client.get<KitView>(`/api/kits/${third.id}`);
  await client.edit('tuned', [{ op: 'update', doc: 'kit', id: third.id, rev: kit.rev, set: { transpose: 12 } }]);
});

afterAll(() => session?.end());

/** A pad that is struck becomes louder than this, linear. */
const LOUD = 0.02;

interface Heard {
  readonly kit: string;
  /** How loud the pad became. */
  readonly peak: number;
}

test('three kits change under one rhythm: every stroke of every role sounds, before, between and after', async () => {
  const { page } = session;
  const open = () => page.locator('[data-testid=kit-row][aria-current]').textContent();
  await page.evaluate(
    ([pads, QUIET, LOUD, LATEST_MS]) => {
      const heard: Heard[] = [];
      const state = { heard, goes: true };
      Object.assign(globalThis, { rhythm: state });
      const { engine } = (globalThis as never as { undercroftSound: { engine: EngineClient } }).undercroftSound;
      engine.resume();
      const rest = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
      void (async () => {
        for (let n = 0; state.goes; n++) {
          const pad = pads[n % pads.length] as number;
          // What sounded before is silent first.
          for (engine.stop(); engine.peakOf(pad) > QUIET; engine.stop()) await rest(20);
          const until = performance.now() + LATEST_MS;
          engine.strike(pad, 100);
          while (engine.peakOf(pad) < LOUD && performance.now() < until) await rest(5);
          const kit = document.querySelector('[data-testid=kit-row][aria-current]')?.textContent ?? '';
          heard.push({ kit, peak: engine.peakOf(pad) });
        }
      })();
    },
    [ROLES, 0.01, LOUD, 1500] as const,
  );
  const heard = () => page.evaluate(() => (globalThis as never as { rhythm: { heard: Heard[] } }).rhythm.heard);
  const more = async () => {
    const { length } = await heard();
    await soon(async () => expect((await heard()).length).toBeGreaterThan(length + 2 * ROLES.length));
  };
  await page.getByLabel('Search kits').click();
  await more();
  for (const [key, name] of [
    ['ArrowUp', 'Starter kit'],
    ['ArrowUp', 'Millstone'],
    ['ArrowDown', 'Starter kit'],
    ['ArrowDown', 'Starter kit 2'],
  ] as const) {
    await page.keyboard.press(key);
    await soon(async () => expect(await open()).toContain(name));
    await more();
  }
  const strokes = await page.evaluate(() => {
    const { rhythm } = globalThis as never as { rhythm: { heard: Heard[]; goes: boolean } };
    rhythm.goes = false;
    return rhythm.heard;
  });
  expect(strokes.filter(({ peak }) => peak < LOUD)).toEqual([]);
  expect(new Set(strokes.map(({ kit }) => kit)).size).toBe(3);
});

test('a role without a sound is shown and offered substitutes; all of them get one at once', async () => {
  const { page } = session;
  await page.getByRole('tab', { name: 'Whole kit', exact: true }).click();
  await page.getByRole('button', { name: 'Without sounds' }).click();
  await page.getByText(/roles, 0 with a sound/).waitFor();
  await page.getByRole('tab', { name: 'Pads', exact: true }).click();
  await page.locator('[data-position="8"]').click();
  const offers = page.getByRole('list', { name: /Substitutes for/ }).getByRole('button');
  await offers.filter({ hasText: 'Dry snare 1' }).click();
  await page.locator('[data-position="8"][data-state="ready"]').waitFor();
  await page.getByRole('tab', { name: 'Whole kit', exact: true }).click();
  await page.getByRole('button', { name: /^Substitutes for \d+/ }).click();
  await page.getByText(/(\d+) roles, \1 with a sound/).waitFor();
  await page.getByRole('button', { name: /^Undo/ }).click();
  await page.getByText(/roles, 1 with a sound/).waitFor();
});

test('the tempo of a kit is tapped, and taken from a recording', async () => {
  const { page } = session;
  const tempo = page.getByRole('textbox', { name: 'Tempo', exact: true });
  const tap = page.getByRole('button', { name: 'Tap', exact: true });
  const shown = async () => Number.parseFloat(await tempo.inputValue());
  const before = await shown();
  for (let n = 0; n < 5; n++) {
    await tap.click();
    await page.waitForTimeout(300);
  }
  // At most 200 BPM, by the pauses; a busy machine taps later.
  await soon(async () => expect(await shown()).not.toBe(before));
  expect(await shown()).toBeLessThan(201);

  await page.getByLabel('Tempo from a recording').click();
  await page.getByRole('option', { name: /Sluice loop/ }).click();
  await soon(async () => expect(await shown()).toBeCloseTo(94, 0));
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints).toEqual([]);
});
