import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { Drummer } from '../../src/core/drummer/drummer';
import { RHYTHMS } from '../../src/core/drummer/rhythms';
import { noteOf } from '../../src/core/kit/layout';
import { perform } from '../../src/core/kit/perform';
import type { TimedMessage } from '../../src/core/midi/file';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { seededRandom } from '../../src/core/signal/random';
import { openWorkspace } from '../../src/server/db/open';
import { kitIdOf, playableKit } from '../../src/server/exporting/playable';
import { begin, demoWorkspace, remove, type Session, saved, scratch, soon, startServer, told } from '../harness';
import { choose, press } from './gestures';
import { DEVICE_RATE, microphone, placeInLoop, samplesOf, takesOf, writeMicrophone } from './microphone';

const SECONDS = 8;
const files = scratch();
/** A drummer in a room, and besides it noise of which no two stretches are the same. */
const played = (() => {
  const drummer = new Drummer(RHYTHMS[2] as (typeof RHYTHMS)[number], DEVICE_RATE, 11, 1.9);
  drummer.speed = 0.7;
  const left = drummer.read(SECONDS * DEVICE_RATE, false);
  const random = seededRandom(4);
  const room = () => (random() - 0.5) * 2e-3;
  return writeMicrophone(files, [left.map((x) => x + room()), left.map(() => 40 * room())]);
})();
const strokes = drummerStrokes();

function drummerStrokes(): number[] {
  const [left] = played.audio.channels;
  return selectOnsets(detectOnsets(left as Float32Array, DEVICE_RATE), SPLIT_INITIAL, DEVICE_RATE).map(
    ({ frame }) => frame,
  );
}

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin(demoWorkspace, microphone(played.path));
  page = session.page;
});

afterAll(async () => {
  await session?.end();
  remove(files);
});

afterEach(() => expect(session.complaints.splice(0)).toEqual([]));

const record = () => page.getByRole('button', { name: 'Record', exact: true });
const stop = () => page.getByRole('button', { name: /^Stop/ });
const input = () => page.getByTestId('input');
const takeRow = (title: string) => page.locator('[data-take]').filter({ hasText: title });
/** How far the running take has come, as the status line tells. */
const runFor = (seconds: number) =>
  page.waitForFunction((wanted) => {
    const [, minutes = '0', rest = '0'] =
      /Recording (\d+):([\d.]+)/.exec(document.querySelector('[data-testid=input]')?.textContent ?? '') ?? [];
    return 60 * Number(minutes) + Number(rest) >= wanted;
  }, seconds);

async function openRecord(title: string): Promise<void> {
  await page.goto(`${session.server.address}/record`);
  await page.evaluate(() => localStorage.removeItem('undercroft.recording'));
  await page.reload();
  await soon(async () => {
    await page.getByLabel('Title of the takes').fill(title);
    await page.getByLabel('Title of the takes').press('Enter');
    expect(await page.evaluate(() => localStorage.getItem('undercroft.take-title'))).toBe(title);
  });
}

async function setTyped(label: string, value: string): Promise<void> {
  const field = page.getByRole('textbox', { name: label, exact: true });
  await field.fill(value);
  await field.press('Enter');
}

async function takeOf(title: string) {
  await takeRow(title).waitFor();
  const take = takesOf(session).find((one) => one.title === title);
  if (!take) throw new Error(`There is no take ${title}.`);
  return take;
}

test('a microphone is recorded frame by frame while the page is worked in, and let go afterwards', async () => {
  await openRecord('Desk');
  await record().click();
  await runFor(3);
  // The interface is kept busy: places, themes, lists.
  for (let n = 0; n < 3; n++)
    for (const place of ['Kits', 'Grooves', 'Hits', 'Recordings', 'Record']) {
      await page.getByRole('link', { name: place, exact: true }).click();
      await page.getByRole('button', { name: /^Change to/ }).click();
    }
  await runFor(10);
  expect(Number(await page.getByTestId('take-wave').getAttribute('data-strokes'))).toBeGreaterThan(10);
  await stop().click();
  await input().waitFor({ state: 'detached' });
  const take = await takeOf('Desk 1');
  expect(take).toMatchObject({ sampleRate: DEVICE_RATE, channelCount: 2, cutOff: 0, warnings: '[]' });
  const [left, right] = samplesOf(session, take) as [Float32Array, Float32Array];
  expect(left.length).toBeGreaterThan(10 * DEVICE_RATE);
  // The right channel's noise tells every frame from every other: no gap and no repeat anywhere.
  const loop = played.audio.channels[1] as Float32Array;
  // The device fades in; what follows is compared sample by sample.
  const from = Math.round(0.5 * DEVICE_RATE);
  const at = placeInLoop(right.subarray(from, from + 2000), loop);
  expect(at).not.toBeNull();
  const offset = (at as number) - from;
  const wrong = right
    .subarray(from)
    .findIndex((x, i) => Math.abs(x - (loop[(offset + from + i) % loop.length] as number)) > 2 ** -16);
  expect(wrong).toBe(-1);
  // The file's strokes are in the take, after the one offset.
  const found = selectOnsets(detectOnsets(left, DEVICE_RATE), SPLIT_INITIAL, DEVICE_RATE).map(({ frame }) => frame);
  const wanted = Array.from({ length: 4 }, (_, lap) => strokes.map((frame) => frame - offset + (lap - 1) * loop.length))
    .flat()
    .filter((frame) => frame > from && frame < left.length - DEVICE_RATE);
  expect(wanted.length).toBeGreaterThan(10);
  for (const frame of wanted)
    expect(Math.min(...found.map((one) => Math.abs(one - frame)))).toBeLessThan(DEVICE_RATE / 1000);
});

test('takes follow one another under a title: heard, dropped and brought back, each with its room', async () => {
  await openRecord('Desk');
  for (const number of [2, 3]) {
    await record().click();
    await runFor(4);
    await page.keyboard.press('F8');
    await takeOf(`Desk ${number}`);
  }
  expect(await takeRow('Desk 3').getByText(/dBFS/).allTextContents()).toEqual([
    expect.stringMatching(/−\d/),
    // Of both channels: the right one's noise has −32.7 dBFS, the left one's next to nothing.
    expect.stringMatching(/−35\.\d dBFS/),
  ]);
  await press(page, 'Hear Desk 3');
  await page.getByRole('button', { name: 'Hear Desk 3' }).getByText('Stop').waitFor();
  await page.keyboard.press('0');
  await press(page, 'Drop Desk 2');
  await takeRow('Desk 2').waitFor({ state: 'detached' });
  await saved(page);
  await page.keyboard.press('Control+z');
  await takeRow('Desk 2').waitFor();
});

test('starts when it gets loud, keeps what was before, and stops by itself after silence', async () => {
  await openRecord('Loud');
  await choose(page, 'Begins', 'loud');
  await page.getByRole('button', { name: 'Loud is over: set' }).click();
  await setTyped('Loud is over', '-24');
  await choose(page, 'Channels', 'left');
  await page.getByRole('button', { name: 'Ends after: set' }).click();
  await setTyped('Ends after', '0.5');
  await record().click();
  // The drummer rests for more than a second at the beginning of the file.
  const take = await takeOf('Loud 1');
  expect(take.channelCount).toBe(1);
  const [left] = samplesOf(session, take) as [Float32Array];
  const loud = left.findIndex((x) => Math.abs(x) > 10 ** (-24 / 20));
  expect(Math.abs(loud - DEVICE_RATE)).toBeLessThan(3);
  await input().waitFor({ state: 'detached' });
});

test('a stroke that has just fallen is laid on a pad while the take runs', async () => {
  await openRecord('Laid');
  await record().click();
  await page.waitForFunction(
    () => Number(document.querySelector('[data-testid=take-wave]')?.getAttribute('data-strokes')) >= 3,
  );
  await page.keyboard.press('F9');
  const [pad] = await soon(() => {
    const rows = session.ask<{ name: string; position: number }>(
      "SELECT name, position FROM pad WHERE name LIKE 'Laid 1 at %'",
    );
    expect(rows).toHaveLength(1);
    return rows;
  });
  await page.locator(`[data-position="${pad?.position}"][data-state=ready]`).waitFor();
  await stop().waitFor();
  await page.keyboard.press('F8');
  const take = await takeOf('Laid 1');
  const [stroke] = session.ask<{ id: string; title: string }>(
    "SELECT id, title FROM recording WHERE title LIKE 'Laid 1 at %'",
  );
  const [left] = samplesOf(session, { id: stroke?.id ?? '', channelCount: 2 }) as [Float32Array];
  const [whole] = samplesOf(session, take) as [Float32Array];
  const seconds = Number(/at ([\d.]+) s/.exec(stroke?.title ?? '')?.[1]);
  const near = Math.round(seconds * take.sampleRate);
  const begins = Array.from({ length: 2000 }, (_, i) => near - 1000 + i).find((at) =>
    left.every((x, i) => x === whole[at + i]),
  );
  expect(begins).toBeDefined();
});

test('the server killed in the middle of a take: all but the last second is there, and the page goes on', async () => {
  await openRecord('Killed');
  await record().click();
  await runFor(3);
  const { workspace, address } = session.server;
  await session.server.kill();
  await told(page, /The server is away: what is recorded is kept in this page/);
  await runFor(4);
  session.server = await startServer(workspace, Number(new URL(address).port));
  await runFor(6);
  await stop().click();
  const cut = await takeOf('Killed 1');
  const rest = await takeOf('Killed 1, gone on');
  expect(cut.cutOff).toBe(1);
  expect(cut.frames).toBeGreaterThan(2 * DEVICE_RATE);
  expect(rest).toMatchObject({ cutOff: 0, warnings: '[]' });
  await takeRow('Killed 1').getByText('cut off').waitFor();
  // Nothing is lost between the two: what follows begins in the noise where the first one ended, or a piece before.
  const loop = played.audio.channels[1] as Float32Array;
  const [, first] = samplesOf(session, cut) as [Float32Array, Float32Array];
  const [, second] = samplesOf(session, rest) as [Float32Array, Float32Array];
  const endsAt = placeInLoop(first.subarray(first.length - 3000), loop);
  const beginsAt = placeInLoop(second.subarray(0, 3000), loop);
  expect([endsAt === null, beginsAt === null]).toEqual([false, false]);
  const overlap = ((endsAt as number) + 3000 - (beginsAt as number) + loop.length) % loop.length;
  expect(overlap).toBeLessThan(1.1 * DEVICE_RATE);
  expect((await page.context().pages()).length).toBe(1);
  session.complaints.splice(0);
});

test('our own output is recorded to the bit: equal to the print of the same strokes, with the rights of what is heard', async () => {
  await openRecord('Output');
  await page.locator('[data-position="0"][data-state="ready"]').waitFor();
  await choose(page, 'Input', 'output');
  await record().click();
  await runFor(0);
  const struck = await page.evaluate(() => {
    const { engine } = (
      globalThis as never as {
        undercroftSound: {
          engine: {
            frame: number;
            sampleRate: number;
            strike: (pad: number, velocity: number, frame: number) => number;
          };
        };
      }
    ).undercroftSound;
    const first = Math.round(engine.frame + engine.sampleRate);
    const list = [
      { pad: 0, velocity: 100, at: 0 },
      { pad: 8, velocity: 64, at: 9001 },
      { pad: 0, velocity: 127, at: 20_011 },
      { pad: 1, velocity: 90, at: 20_011 },
      { pad: 8, velocity: 120, at: 33_333 },
    ];
    for (const { pad, velocity, at } of list) engine.strike(pad, velocity, first + at);
    return { list, sampleRate: engine.sampleRate };
  });
  await runFor(4);
  await stop().click();
  const take = await takeOf('Output 1');
  expect(take.sampleRate).toBe(struck.sampleRate);
  const live = samplesOf(session, take);
  const db = openWorkspace(join(session.folder, 'workspace.db'), { migrate: false });
  const kit = playableKit(db, kitIdOf(db, 'Millstone'), struck.sampleRate);
  db.close();
  const noteAt = (position: number) => {
    const found = kit.pads.find(({ pad }) => pad.position === position);
    if (!found) throw new Error(`There is no pad ${position}.`);
    return noteOf(found.pad);
  };
  const messages: TimedMessage[] = struck.list.map(({ pad, velocity, at }) => ({
    ...{ seconds: at / struck.sampleRate, tick: 0, track: 0 },
    message: { kind: 'note-on', channel: 9, note: noteAt(pad), velocity },
  }));
  const printed: [number[], number[]] = [[], []];
  for (const [left, right] of perform(kit, messages)) {
    printed[0].push(...left);
    printed[1].push(...right);
  }
  const first = (list: ArrayLike<number>) => Array.from(list).findIndex((x) => x !== 0);
  const offset = first(live[0] as Float32Array) - first(printed[0]);
  const length = Math.min(printed[0].length, take.frames - offset);
  expect(length).toBeGreaterThan(struck.sampleRate);
  for (const c of [0, 1] as const) {
    const different = Array.from({ length }, (_, i) => i).find(
      (i) => Math.fround(printed[c][i] as number) !== (live[c] as Float32Array)[offset + i],
    );
    expect([c, different]).toEqual([c, undefined]);
  }
  const [told] = session.ask<{ notes: string; kind: string }>(
    'SELECT notes, rights_kind AS kind FROM recording WHERE id = ?',
    take.id,
  );
  expect(told).toMatchObject({ kind: 'own', notes: expect.stringMatching(/Heard in it: /) });

  // What is played on the pads meanwhile is kept with the take, for the simulated controller to replay.
  await record().click();
  await runFor(1);
  for (const key of ['z', 'a', 'z']) await page.keyboard.press(key);
  await runFor(2);
  await stop().click();
  await takeOf('Output 2');
  await soon(() =>
    expect(session.ask('SELECT name, strokes FROM performance')).toEqual([{ name: 'Output 2', strokes: 3 }]),
  );
});
