import { execFileSync } from 'node:child_process';
import { mkdirSync, readdirSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { readWav } from '../../src/core/format/wav';
import { begin, type Session, saved, soon, startServer, undercroft } from '../harness';
import { readSfz } from '../sfz-reader';
import { choose, offered } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
  await page.goto(session.server.address);
});

afterAll(() => session?.end());

const undo = () => page.keyboard.press('Control+z');
const pad = (position: number) => page.locator(`[data-position="${position}"]`);

describe('kits', () => {
  test('a pad is renamed, levelled, normalised, tuned, panned, and set to play while held', async () => {
    await page.getByRole('link', { name: 'Kits', exact: true }).click();
    await pad(8).click();
    const name = page.getByLabel('Name of the pad');
    await name.fill('Snare main');
    await name.press('Enter');
    const type = async (label: string, value: string) => {
      const field = page.getByRole('textbox', { name: label, exact: true });
      await field.fill(value);
      await field.press('Enter');
      await saved(page);
    };
    await type('Level', '-4.5');
    await page.getByRole('button', { name: 'Normalise to: set' }).click();
    await saved(page);
    await type('Tune', '-3');
    await type('Pan', '25');
    await choose(page, 'Plays', 'held');
    await choose(page, 'Choke group', '2');
    await saved(page);
    const [row] = session.ask<{ settings: string }>("SELECT settings FROM pad WHERE name = 'Snare main'");
    expect(JSON.parse(row?.settings ?? '')).toEqual({
      levelDb: -4.5,
      normaliseDbfs: -1,
      semitones: -3,
      pan: 0.25,
      mode: 'held',
      chokeGroup: 2,
    });
  });

  test('what is turned is heard and seen while it is dragged, and stored once it is let go', async () => {
    const level = () =>
      JSON.parse(
        session.ask<{ settings: string }>("SELECT settings FROM pad WHERE name = 'Snare main'")[0]?.settings ?? '',
      );
    const edits = () => session.ask<{ n: number }>('SELECT count(*) AS n FROM edit')[0]?.n;
    const gains = await page.evaluateHandle(() => {
      const { engine } = (globalThis as unknown as { undercroftSound: { engine: Record<string, unknown> } })
        .undercroftSound;
      const told: number[] = [];
      const setPad = engine.setPad as (pad: number, sound: { gainLeft: number }) => void;
      engine.setPad = (position: number, sound: { gainLeft: number }) => {
        if (position === 8) told.push(sound.gainLeft);
        setPad.call(engine, position, sound);
      };
      return told;
    });
    const before = edits();
    const bar = await page.getByRole('slider', { name: 'Level', exact: true }).boundingBox();
    if (!bar) throw new Error('There is no bar.');
    await page.mouse.move(bar.x + bar.width * 0.5, bar.y + 12);
    await page.mouse.down();
    for (const share of [0.55, 0.6, 0.65]) {
      const known = (await gains.jsonValue()).length;
      await page.mouse.move(bar.x + bar.width * share, bar.y + 12);
      await soon(async () => expect((await gains.jsonValue()).length).toBeGreaterThan(known));
    }
    const heard = await gains.jsonValue();
    expect([...heard].sort((a, b) => a - b)).toEqual(heard);
    const shown = await page.getByRole('slider', { name: 'Level', exact: true }).getAttribute('aria-valuenow');
    expect([edits(), level().levelDb]).toEqual([before, -4.5]);
    await page.mouse.up();
    await saved(page);
    expect([edits(), level().levelDb]).toEqual([(before ?? 0) + 1, Number(shown)]);
    // The bar has the focus: undo is the page's own there too, not the browser's of some field that was typed in.
    await undo();
    await soon(() => expect(level().levelDb).toBe(-4.5));
    expect(level().pan).toBe(0.25);
  });

  test('saving as a new kit takes the next free name; a taken name is offered with the next number', async () => {
    await page.getByRole('button', { name: 'Save as a new kit' }).click();
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'Millstone 2',
    );
    const name = page.getByLabel('Name of the kit');
    await name.fill('millstone');
    await name.press('Enter');
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'millstone 2',
    );
    await saved(page);
    await choose(page, 'Open a kit', { label: 'Millstone (11)' });
    await page.waitForFunction(
      () =>
        (document.querySelector('input[aria-label="Name of the kit"]') as HTMLInputElement | null)?.value ===
        'Millstone',
    );
  });

  test('a kit is deleted at once, and undo brings it back with all that was on it', async () => {
    const names = async () => (await offered(page, 'Open a kit')).sort();
    const before = await names();
    await page.getByRole('button', { name: 'Delete kit' }).click();
    await saved(page);
    await soon(async () => expect(await names()).toHaveLength(before.length - 1));
    await page.locator('[data-testid=pads]').click({ position: { x: 4, y: 4 } });
    await undo();
    await soon(async () => expect(await names()).toEqual(before));
    await choose(page, 'Open a kit', { label: 'Millstone (11)' });
    await pad(8).getByText('Snare main').waitFor();
  });

  test('the zip holds trimmed WAVs that outside readers open, an SFZ that maps them, and the credits', async () => {
    await page.getByRole('button', { name: 'Export zip …' }).click();
    const [download] = await Promise.all([
      page.waitForEvent('download'),
      page.getByRole('dialog').getByRole('button', { name: 'Export zip', exact: true }).click(),
    ]);
    const zip = join(session.folder, 'kit.zip');
    await download.saveAs(zip);
    expect(download.suggestedFilename()).toBe('Millstone.zip');
    const out = join(session.folder, 'kit');
    mkdirSync(out);
    execFileSync('unzip', ['-q', zip, '-d', out]);
    const wavs = readdirSync(join(out, 'samples'));
    expect(wavs).toHaveLength(11);
    for (const wav of wavs) {
      const path = join(out, 'samples', wav);
      const [rate, bits, samples] = ['-r', '-b', '-s'].map((flag) =>
        execFileSync('soxi', [flag, path], { encoding: 'utf8' }).trim(),
      );
      expect(['44100', '48000', '32000']).toContain(rate);
      expect(bits).toBe('24');
      expect(readWav(readFileSync(path)).report.frames).toBe(Number(samples));
      expect(execFileSync('sndfile-info', [path], { encoding: 'utf8' })).toMatch(/Bit Width {5}: 24/);
    }
    const { regions, faults } = readSfz(readFileSync(join(out, 'Millstone.sfz'), 'utf8'), out);
    expect(faults).toEqual([]);
    expect(regions).toHaveLength(11);
    expect(new Set(regions.map((r) => r.key)).size).toBe(11);
    expect(regions.find((r) => r.sample.includes('Snare main'))).toMatchObject({
      key: 38,
      volume: -4.5,
      pan: 25,
      loop_mode: 'no_loop',
      group: 2,
      off_by: 2,
    });
    expect(readFileSync(join(out, 'credits.txt'), 'utf8')).toMatch(
      /Sluice loop\r\n {2}whose: {10}Millrace Radio Theatre\r\n {2}licence: {8}own work/,
    );
  });
});

describe('keeping', () => {
  test('after the server is killed and started again all is as it was, undo included', async () => {
    await saved(page);
    await session.server.kill();
    session.server = await startServer(session.server.workspace);
    expect(undercroft('check', '--workspace', session.server.workspace)).toMatch(/all sound/);
    // The port is another one, the browser the same.
    await page.goto(`${session.server.address}/kits`);
    await choose(page, 'Open a kit', { label: 'Millstone (11)' });
    await pad(8).waitFor();
    await soon(async () => expect(await pad(8).textContent()).toMatch(/Snare main/));
    await page.getByRole('button', { name: /^Undo: / }).waitFor();
    await page.getByRole('button', { name: /^Undo: (renamed|saved) the kit/ }).click();
    await saved(page);
    await page.getByRole('button', { name: /^Redo/ }).waitFor();
  });

  test('the page complained of nothing on the way', () => {
    expect(session.complaints).toEqual([]);
  });
});
