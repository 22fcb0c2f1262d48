import type { Page } from 'playwright-core';
import { Drummer, type DrummerStroke } from '../../src/core/drummer/drummer';
import { RHYTHMS } from '../../src/core/drummer/rhythms';
import { filled } from '../../src/core/parameter/values';
import { VOICE_PARAMETERS } from '../../src/core/voice/parameters';
import { renderVoice } from '../../src/core/voice/render';
import { VOICE_RATE } from '../../src/core/voice/source';
import { begin, demoWorkspace, remove, type Session, saved, scratch, soon, told } from '../harness';
import { choose, Hand, press, setNumber } from './gestures';
import { microphone, takesOf, writeMicrophone } from './microphone';

let session: Session;
let page: Page;
const files = scratch();

beforeAll(async () => {
  const noise = Float32Array.from({ length: 44_100 }, (_, i) => 0.01 * Math.sin(i * i));
  session = await begin(demoWorkspace, microphone(writeMicrophone(files, [noise, noise]).path));
  page = session.page;
});

afterAll(async () => {
  await session?.end();
  remove(files);
});

afterEach(() => expect(session.complaints.splice(0)).toEqual([]));

/** Counts what a hand does. */
class Gestures {
  count = 0;

  async do(...gestures: readonly (() => Promise<unknown>)[]): Promise<void> {
    for (const gesture of gestures) {
      this.count++;
      await gesture();
    }
  }

  /** Opens a list and takes something from it. */
  async choose(label: string, option: string | { label: string }): Promise<void> {
    this.count += 2;
    await choose(page, label, option);
  }
}

test('the drummer at its slowest, by the interface alone: its drums on their rows, bare, two snares apart', async () => {
  await page.goto(`${session.server.address}/recordings`);
  const hand = new Gestures();
  await hand.do(() => page.getByRole('link', { name: 'Record', exact: true }).click());
  await hand.choose('Input', 'drummer');
  await hand.choose('Rhythm', '2');
  const crank = page.getByRole('slider', { name: 'Crank' });
  await hand.do(
    () => crank.focus(),
    () => crank.press('Home'),
  );
  // The seed of what it plays is drawn; here it is known, to know what was played.
  await page.evaluate(() => {
    Math.random = () => 0.25;
  });
  await hand.do(() => page.getByRole('button', { name: /^Record \d+ s at once/ }).click());
  await page.locator('[data-take]').waitFor();
  await hand.do(
    () => page.getByRole('link', { name: 'Slice Take 1' }).click(),
    () => page.getByRole('link', { name: 'Shelves' }).click(),
  );
  await page.locator('[data-testid=shelf]').first().waitFor();
  await page.getByText('to go …').waitFor({ state: 'detached' });
  await hand.do(() => press(page, 'Make a kit of this'));
  await soon(() => expect(session.ask("SELECT id FROM kit WHERE name LIKE 'Take 1%'")).toHaveLength(1));
  await saved(page);
  console.info(`The drummer on pads: ${hand.count} gestures.`);
  expect(hand.count).toBeLessThanOrEqual(15);

  const [take] = takesOf(session);
  if (!take) throw new Error('The take is not there.');
  const strokes = playedBy(0.1, take.sampleRate, take.frames);
  const pads = session.ask<{ family: string; start: number }>(
    `SELECT p.family, h.start_frame AS start FROM pad p JOIN kit k ON k.id = p.kit_id
     JOIN layer l ON l.pad_id = p.id JOIN hit h ON h.id = l.hit_id WHERE k.name LIKE 'Take 1%' AND h.recording_id = ?`,
    take.id,
  );
  const within = (frame: number, ms: number) =>
    strokes.filter((stroke) => Math.abs(stroke.frame - frame) < (ms / 1000) * take.sampleRate);
  const bare = pads.flatMap(({ family, start }) => {
    const [only, ...others] = within(start, 40);
    return only && others.length === 0 ? [{ drum: only.drum, family, is: only.family }] : [];
  });
  for (const drum of ['kick', 'hat', 'open', 'snare', 'high', 'middle'] as const)
    expect([drum, bare.filter((pad) => pad.drum === drum && pad.family === pad.is).length > 0]).toEqual([drum, true]);
  // The two snares lie on pads of their own.
  expect(bare.filter(({ drum }) => drum === 'snare' || drum === 'dry').length).toBeGreaterThan(1);

  // Strokes of two drums say so, on their cards and in the report; those of one hardly ever do.
  const starts = session.ask<{ start: number }>(
    'SELECT start_frame AS start FROM slice WHERE recording_id = ? ORDER BY start_frame',
    take.id,
  );
  const cards = page.locator('[data-testid=shelf-slice]');
  const told = (await cards.evaluateAll((all) => all.map((card) => card.getAttribute('aria-label') ?? ''))).map(
    (label) => {
      const number = Number(/^Slice (\d+)/.exec(label)?.[1]);
      const struck = within(starts[number - 1]?.start ?? 0, 20).map(({ family }) => family as string);
      const others = /, with (.+)$/.exec(label)?.[1]?.split(', ') ?? [];
      return { number, struck: new Set(struck), others };
    },
  );
  const several = told.filter(({ struck }) => struck.size > 1);
  const right = several.filter(({ struck, others }) => others.some((family) => struck.has(family)));
  const wrong = told.filter(({ struck, others }) => struck.size === 1 && others.length > 0);
  console.info(`Strokes of two drums in sight: ${right.length} of ${several.length} say so; wrongly ${wrong.length}.`);
  expect(several.length).toBeGreaterThan(5);
  expect(right.length).toBeGreaterThan((2 * several.length) / 3);
  expect(wrong.length).toBeLessThanOrEqual(told.length / 20);
  // The summary of the kit stands over the shelves.
  await page.keyboard.press('Escape');
  await page.getByRole('button', { name: new RegExp(`^Slice ${right[0]?.number},.*isolation`) }).click();
  const report = page.getByRole('region', { name: 'What is heard' });
  await report.getByText('Also holds').waitFor();
  await report.getByText(`Struck together with ${right[0]?.others.join(', ')}`).waitFor();
});

/** What the drummer played with the seed of this test. */
function playedBy(speed: number, sampleRate: number, frames: number): readonly DrummerStroke[] {
  const drummer = new Drummer(RHYTHMS[2] as (typeof RHYTHMS)[number], sampleRate, 2 ** 29, 0.8);
  drummer.speed = speed;
  drummer.read(frames);
  return drummer.strokes;
}

test('a take of desk sounds 40 dB apart: recorded, split, the unwanted dropped, levelled, on pads, one held and faded', async () => {
  const desk = new Hand(session);
  await desk.freshKit('Desk');
  await page.goto(`${session.server.address}/recordings`);
  const hand = new Gestures();
  await hand.do(() => page.getByRole('link', { name: 'Record', exact: true }).click());
  await hand.choose('Input', 'simulated');
  await hand.choose('Simulated input plays', { label: 'Sack-floor takes' });
  await hand.do(() => page.getByRole('button', { name: /^Record \d+ s at once/ }).click());
  const [take] = await soon(() => {
    const takes = takesOf(session)
      .filter(({ warnings }) => warnings === '[]')
      .slice(-1);
    expect(takes[0]?.frames).toBeGreaterThan(10 * 44_100);
    return takes;
  });
  await hand.do(() => page.getByRole('link', { name: `Slice ${take?.title}` }).click());
  const rows = page.locator('[data-testid=slice-row]');
  await rows.first().waitFor();
  await hand.do(() => press(page, 'Silence'));
  await saved(page);
  const slices = () =>
    session.ask<{ id: string }>('SELECT id FROM slice WHERE recording_id = ? ORDER BY start_frame', take?.id).length;
  const found = slices();
  expect(found).toBeGreaterThan(8);
  await hand.do(
    () => rows.nth(1).click({ position: { x: 8, y: 8 } }),
    () => rows.nth(3).click({ position: { x: 8, y: 8 }, modifiers: ['Control'] }),
    () => page.keyboard.press('Delete'),
  );
  await soon(() => expect(slices()).toBe(found - 2));
  await saved(page);
  await hand.do(
    () => page.keyboard.press('Control+a'),
    () => press(page, 'Treat …'),
    () => page.getByRole('button', { name: /^Even level/ }).click(),
  );
  await hand.do(() => press(page, 'Done'));
  await saved(page);
  await hand.do(() => press(page, /^(Fill the pads|Lay the \d+)$/));
  await soon(() => expect(desk.padsOf('Desk')).toHaveLength(found - 2));
  const [first] = desk.padsOf('Desk');
  await hand.do(() => page.getByRole('link', { name: 'Kits', exact: true }).click());
  await desk.ready(first?.position ?? 0);
  await hand.do(() => desk.pad(first?.position ?? 0).click());
  await hand.choose('Plays', 'held');
  await hand.do(
    () => page.getByRole('tab', { name: 'Played' }).click(),
    () => setNumber(page, 'Fade out', '60'),
  );
  await saved(page);
  console.info(`Desk sounds to pads: ${hand.count} gestures.`);
  expect(hand.count).toBeLessThanOrEqual(24);
  const [pad] = session.ask<{ settings: string }>('SELECT settings FROM pad WHERE id = ?', first?.id);
  expect(JSON.parse(pad?.settings ?? '{}')).toMatchObject({ mode: 'held', fadeOutMs: 60 });
  const levelled = session.ask<{ processor: string }>(
    "SELECT s.processor FROM step s JOIN hit h ON h.id = s.hit_id WHERE h.recording_id = ? AND s.processor = 'level'",
    take?.id,
  );
  expect(levelled).toHaveLength(found - 2);
});

describe('what goes wrong is told, with what to do', () => {
  const open = async (script?: () => void) => {
    const fresh = await session.context.newPage();
    if (script) await fresh.addInitScript(script);
    await fresh.goto(`${session.server.address}/record`);
    return fresh;
  };
  const record = (of: Page) => of.getByRole('button', { name: 'Record', exact: true }).click();

  test.each([
    ['NotAllowedError', /may not use the microphone. Allow it for this page/],
    ['NotFoundError', /No input was found. Plug a microphone in/],
    ['NotReadableError', /in use by another program/],
  ])('the browser gives no input: %s', async (name, message) => {
    const fresh = await open();
    await fresh.evaluate((error) => {
      navigator.mediaDevices.getUserMedia = () => Promise.reject(new DOMException('', error));
    }, name);
    await soon(async () => {
      await record(fresh);
      expect(await fresh.getByRole('alert').first().textContent()).toMatch(message);
    });
    // Another attempt is possible at once, and an instrument needs no device.
    const before = takesOf(session).length;
    await choose(fresh, 'Input', 'drummer');
    await record(fresh);
    await fresh
      .getByTestId('input')
      .getByText(/Recording 0:0[1-9]/)
      .waitFor();
    await fresh.getByRole('button', { name: 'Stop' }).click();
    await soon(() => expect(takesOf(session)).toHaveLength(before + 1));
    await fresh.close();
  });

  test('a page that is not isolated', async () => {
    const fresh = await open(() => Object.defineProperty(globalThis, 'crossOriginIsolated', { value: false }));
    await soon(async () => {
      await record(fresh);
      expect(await fresh.getByRole('alert').first().textContent()).toMatch(/not isolated.*address that was printed/);
    });
    await fresh.close();
  });

  test('an input unplugged in the middle: what came is kept, and the next take can begin', async () => {
    const fresh = await open();
    await fresh.evaluate(() => {
      const ask = navigator.mediaDevices.getUserMedia.bind(navigator.mediaDevices);
      navigator.mediaDevices.getUserMedia = async (wanted) => {
        const stream = await ask(wanted);
        Object.assign(globalThis, { plugged: stream });
        return stream;
      };
    });
    const before = takesOf(session).length;
    await soon(async () => {
      await record(fresh);
      await fresh
        .getByTestId('input')
        .getByText(/Recording 0:0[1-9]/)
        .waitFor({ timeout: 5000 });
    });
    await fresh.evaluate(() => {
      const [track] = (globalThis as never as { plugged: MediaStream }).plugged.getAudioTracks();
      track?.stop();
      track?.dispatchEvent(new Event('ended'));
    });
    await fresh
      .getByRole('alert')
      .getByText(/is gone: it was unplugged/)
      .first()
      .waitFor();
    await soon(() => expect(takesOf(session)).toHaveLength(before + 1));
    expect(takesOf(session).at(-1)?.frames).toBeGreaterThan(40_000);
    await fresh.close();
  });

  test('two tabs that record at once: each has its take, and is told of the other', async () => {
    const [one, other] = [await open(), await open()];
    const before = takesOf(session).length;
    for (const fresh of [one, other]) {
      await fresh.bringToFront();
      await soon(async () => {
        await record(fresh);
        await fresh
          .getByTestId('input')
          .getByText(/Recording/)
          .waitFor({ timeout: 5000 });
      });
    }
    await other.getByText(/Another tab is recording too. Both takes are kept/).waitFor();
    for (const fresh of [one, other]) {
      await fresh.bringToFront();
      await fresh
        .getByTestId('input')
        .getByText(/Recording 0:0[2-9]/)
        .waitFor();
      await fresh.getByRole('button', { name: 'Stop' }).click();
      await fresh.getByTestId('input').waitFor({ state: 'detached' });
    }
    await soon(() => expect(takesOf(session)).toHaveLength(before + 2));
    for (const { frames } of takesOf(session).slice(-2)) expect(frames).toBeGreaterThan(2 * 44_000);
    for (const fresh of [one, other]) await fresh.close();
  });
});

test('a struck voice is made, heard on a pad, turned while it plays, and printed in strokes', async () => {
  await page.goto(`${session.server.address}/hits`);
  await page.locator('[data-testid=hit]').first().waitFor();
  await press(page, 'New voice …');
  await page.waitForFunction(() => document.activeElement?.textContent?.includes('Deep kick'));
  await page.keyboard.press('ArrowRight');
  const hand = new Hand(session);
  await soon(async () => expect(await hand.strikes()).toBe(1));
  await page.keyboard.press('Enter');
  await page.waitForURL(/hits\/[0-9a-z-]{8,}/);
  const [pad] = await soon(() => {
    const rows = session.ask<{ position: number }>("SELECT position FROM pad WHERE name = 'Tight kick'");
    expect(rows).toHaveLength(1);
    return rows;
  });
  const place = page.locator(`[data-position="${pad?.position}"][data-state=ready]`);
  await place.waitFor();
  const before = await hand.strikes();
  await place.click();
  await soon(async () => expect(await hand.strikes()).toBe(before + 1));
  // What the page renders is what Node does, to the bit.
  const inPage = await page.evaluate(() => {
    interface Entry {
      readonly key: string;
      readonly left: number;
      readonly start: number;
      readonly end: number;
    }
    const { samples, engine } = (
      globalThis as never as {
        undercroftSound: {
          samples: { pool: { entries: Map<string, Entry> } };
          engine: { shared: { memory: SharedArrayBuffer } };
        };
      }
    ).undercroftSound;
    return [...samples.pool.entries.values()]
      .filter(({ key }) => key.includes('voice 1 '))
      .map(({ key, left, start, end }) => ({
        key,
        samples: Array.from(new Float32Array(engine.shared.memory, 4 * left, end - start)),
      }));
  });
  expect(inPage.length).toBeGreaterThanOrEqual(12);
  for (const { key, samples } of inPage) {
    const [, settings = '[]', seed, velocity] = /voice 1 (\[.*\]) (\d+) (\d+)/.exec(key) ?? [];
    const voice = filled(VOICE_PARAMETERS, Object.fromEntries(JSON.parse(settings) as [string, unknown][]));
    const [stroke] = renderVoice(voice, Number(velocity), Number(seed), VOICE_RATE).channels;
    expect(Float32Array.from(samples)).toEqual(stroke);
  }
  const decay = page.getByRole('textbox', { name: 'Tone decay', exact: true });
  await decay.fill('900');
  await decay.press('Enter');
  await saved(page);
  await place.waitFor();
  const [hit] = session.ask<{ voice: string }>("SELECT voice FROM hit WHERE name = 'Tight kick'");
  expect(JSON.parse(hit?.voice ?? '{}')).toMatchObject({ settings: { toneDecayMs: 900 } });
  await page.getByRole('button', { name: 'Strokes …' }).click();
  await press(page, 'And lay them on a pad');
  await told(page, /12 strokes of Tight kick are hits now, and takes of a pad/);
  await saved(page);
  const layers = session.ask<{ low: number; high: number }>(
    `SELECT ifnull(l.settings ->> 'lowVelocity', 1) AS low, ifnull(l.settings ->> 'highVelocity', 127) AS high FROM layer l
     JOIN hit h ON h.id = l.hit_id WHERE h.name LIKE 'Tight kick at %' ORDER BY low`,
  );
  expect(layers).toHaveLength(12);
  expect(new Set(layers.map(({ low, high }) => `${low} ${high}`))).toEqual(new Set(['1 42', '43 85', '86 127']));
});
