import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { AxeBuilder } from '@axe-core/playwright';
import type { Page } from 'playwright-core';
import { wavHeader, writeWav } from '../../src/core/format/wav';
import { rowOf } from '../../src/core/kit/layout';
import { begin, type Session, saved, soon } from '../harness';
import { choose, shown } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin((folder) => join(folder, 'workspace.db'));
  page = session.page;
});

afterAll(() => session?.end());

const recordings = () => page.locator('[data-testid=recording]');
const rows = () => page.locator('[data-testid=slice-row]');

/** Four bursts, half a second apart. */
function loop(seed: number): Buffer {
  const samples = Float32Array.from(
    { length: 88_200 },
    (_, i) => Math.sin(i * (0.3 + seed / 50)) * Math.exp(-(i % 22_050) / 1500) * 0.8,
  );
  return Buffer.from(writeWav({ sampleRate: 44100, channels: [samples] }, 's16'));
}

/** Drops files on the window, as from the desktop. */
async function drop(files: readonly { name: string; bytes: Buffer }[]): Promise<void> {
  const given = files.map(({ name, bytes }) => ({ name, base64: bytes.toString('base64') }));
  const transfer = await page.evaluateHandle((list) => {
    const data = new DataTransfer();
    for (const { name, base64 } of list)
      data.items.add(new File([Uint8Array.from(atob(base64), (c) => c.charCodeAt(0))], name));
    return data;
  }, given);
  for (const type of ['dragover', 'drop']) await page.locator('main').dispatchEvent(type, { dataTransfer: transfer });
}

/** The lowest pad that has a sound. */
async function firstPad(): Promise<number> {
  const filled = page.locator('[data-testid=pads] [data-state]');
  await filled.first().waitFor();
  return Math.min(...(await filled.evaluateAll((all) => all.map((p) => Number(p.getAttribute('data-position'))))));
}

test('an empty workspace says what to do, on every page', async () => {
  await page.goto(session.server.address);
  await page.getByText('The archive is empty').waitFor();
  await page.getByRole('link', { name: 'Kits', exact: true }).click();
  await page.getByText('No kit yet').waitFor();
  await page.getByRole('link', { name: 'Slice', exact: true }).click();
  await page.getByText('Nothing to slice yet').waitFor();
  await page.getByRole('link', { name: 'Recordings' }).click();
});

test('files dropped anywhere come in; from there the keyboard alone makes a kit and plays it', async () => {
  await drop([{ name: 'weir gate.wav', bytes: loop(1) }]);
  await recordings().first().waitFor();
  await soon(async () =>
    expect(await recordings().first().textContent()).toMatch(/2\.00 s.*WAV 16-bit.*44\.1 kHz mono/),
  );
  await page.keyboard.press('ArrowDown');
  await page.keyboard.press('Enter');
  await rows().nth(3).waitFor();
  await page.getByRole('button', { name: 'Make a kit' }).press('Enter');
  await page.locator('[data-testid=pads]').waitFor();
  await saved(page);
  await page.locator('h1').click();
  for (let i = 0; i < 4; i++) {
    await page.keyboard.press('ArrowRight');
    await page.keyboard.press('Enter');
    await saved(page);
  }
  await soon(async () => expect(await page.locator('[data-testid=pads] [data-state]').count()).toBe(4));
  // Where they lie goes by what is heard in them.
  const position = await firstPad();
  await page.waitForSelector(`[data-position="${position}"][data-state=ready]`);
  const key = rowOf(position).codes[position % 8] as string;
  await page.keyboard.down(key);
  await soon(async () =>
    expect(await page.locator(`[data-position="${position}"]`).getAttribute('data-lit')).toBe('true'),
  );
  await page.keyboard.up(key);
  // Keys are text, not drums, where something is typed.
  await page.getByRole('link', { name: 'Kits', exact: true }).click();
  const name = page.getByLabel('Name of the kit');
  await name.fill('');
  await name.pressSequentially('zaq1 v');
  await soon(async () => expect(await page.locator('[data-lit]').count()).toBe(0));
  await name.press('Enter');
  await saved(page);
  await page.reload();
  await soon(async () => expect(await page.getByLabel('Name of the kit').inputValue()).toBe('zaq1 v'));
});

test('an import is cancelled on the way, and leaves nothing', async () => {
  await page.goto(`${session.server.address}/recordings`);
  await recordings().first().waitFor();
  // Held back by the network, so that there is a way to be on.
  const network = await page.context().newCDPSession(page);
  await network.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: 2e6,
  });
  const large = Buffer.concat([
    wavHeader({ encoding: 's16', sampleRate: 48000, channelCount: 2 }, 5e6),
    Buffer.alloc(2e7, 7),
  ]);
  await page
    .getByTestId('file-input')
    .setInputFiles([{ name: 'endless rain.wav', mimeType: 'audio/wav', buffer: large }]);
  const list = page.getByRole('region', { name: 'Imports' });
  await list.getByRole('progressbar').waitFor();
  await list.getByRole('button', { name: 'Cancel endless rain.wav' }).click();
  await list.getByText('Cancelled; nothing of it was kept.').waitFor();
  await network.send('Network.emulateNetworkConditions', {
    offline: false,
    latency: 0,
    downloadThroughput: -1,
    uploadThroughput: -1,
  });
  await network.detach();
  await page.reload();
  await recordings().first().waitFor();
  await soon(async () => expect(await recordings().count()).toBe(1));
});

test('a large file that is no sound is refused with its reason while it is still on its way', async () => {
  const zip = Buffer.concat([Buffer.from('PK\x03\x04'), Buffer.alloc(4e8, 5)]);
  const path = join(session.folder, 'rehearsal.wav');
  writeFileSync(path, zip);
  await page.getByTestId('file-input').setInputFiles(path);
  const list = page.getByRole('region', { name: 'Imports' });
  await list.getByText(/This is not a sound file that can be read; it looks like a zip file/).waitFor();
  await page.getByLabel('Close the list of imports').click();
});

test('what one tab does the other shows, and two answers to one question are not merged in silence', async () => {
  const other = await session.context.newPage();
  await other.goto(`${session.server.address}/recordings`);
  await other.locator('[data-testid=recording]').first().waitFor();
  const title = page.getByLabel('Title', { exact: true }).first();
  await title.fill('Weir gate, closed');
  await title.press('Enter');
  await other.waitForFunction(
    () => document.querySelector<HTMLInputElement>('input[aria-label=Title]')?.value === 'Weir gate, closed',
  );
  // Both at once: the later one is told, and sees what the first made of it.
  let letGo = () => {};
  const held = new Promise<void>((resolve) => {
    letGo = resolve;
  });
  await other.route('**/api/edits', async (route) => {
    await held;
    await route.continue();
  });
  const theirs = other.getByLabel('Title', { exact: true }).first();
  await theirs.fill('Theirs');
  await theirs.press('Enter');
  await title.fill('Mine');
  await title.press('Enter');
  await soon(() => expect(session.ask("SELECT id FROM recording WHERE title = 'Mine'")).toHaveLength(1));
  letGo();
  await other.getByText(/was changed elsewhere in the meantime/).waitFor();
  await other.waitForFunction(
    () => document.querySelector<HTMLInputElement>('input[aria-label=Title]')?.value === 'Mine',
  );
  await other.close();
});

test('gestures faster than their answers are all stored', async () => {
  await page.getByRole('link', { name: 'Kits', exact: true }).click();
  const position = await firstPad();
  await page.locator(`[data-position="${position}"]`).click();
  await page.route('**/api/edits', async (route) => {
    await new Promise((r) => setTimeout(r, 150));
    await route.continue();
  });
  const slider = page.getByRole('slider', { name: 'Tune', exact: true });
  await slider.focus();
  for (let i = 0; i < 7; i++) await page.keyboard.press('ArrowUp');
  const level = page.getByRole('textbox', { name: 'Level', exact: true });
  await level.fill('-3');
  await level.press('Enter');
  await choose(page, 'Plays', 'held');
  await saved(page);
  await page.unroute('**/api/edits');
  await page.reload();
  await page.locator(`[data-position="${position}"]`).click();
  await soon(async () => expect(await page.getByRole('textbox', { name: 'Tune', exact: true }).inputValue()).toBe('7'));
  await soon(async () =>
    expect(await page.getByRole('textbox', { name: 'Level', exact: true }).inputValue()).toBe('−3.0'),
  );
  await soon(async () => expect(await shown(page, 'Plays')).toBe('while held'));
});

describe('for people who do not use a pointer or see the canvas (WCAG 2.2 A and AA, by axe)', () => {
  const places: readonly [string, (page: Page) => Promise<void>][] = [
    ['/recordings', async (p) => p.locator('[data-testid=recording]').first().waitFor()],
    ['/kits', async (p) => p.locator('[data-position="0"]').click()],
    [
      '/kits',
      async (p) => {
        await p.locator('[data-position="0"]').waitFor();
        await p.getByRole('tab', { name: 'Controller' }).click();
        await p.getByRole('button', { name: 'Note 36', exact: true }).waitFor();
      },
    ],
    [
      '/kits',
      async (p) => {
        await p.locator('[data-position="0"]').waitFor();
        await p.getByRole('tab', { name: 'Whole kit' }).click();
        await p.getByText('LUFS').first().waitFor();
      },
    ],
    [
      '/slice',
      async (p) => {
        await rows().first().waitFor();
        await p.keyboard.press('ArrowRight');
      },
    ],
  ];
  test.each(places.flatMap(([path, ready]) => ['daylight', 'lamplight'].map((theme) => [path, theme, ready] as const)))(
    '%s by %s',
    async (path, theme, ready) => {
      await page.evaluate((t) => localStorage.setItem('undercroft.theme', t), theme);
      const id = ((await (await fetch(`${session.server.address}/api/recordings`)).json()) as { id: string }[])[0]?.id;
      await page.goto(`${session.server.address}${path === '/slice' ? `/slice/${id}` : path}`);
      await ready(page);
      const { violations } = await new AxeBuilder({ page })
        .withTags(['wcag2a', 'wcag2aa', 'wcag21aa', 'wcag22aa'])
        .analyze();
      expect(violations.map((v) => `${v.id}: ${v.nodes.map((n) => n.target.join(' ')).join(', ')}`)).toEqual([]);
    },
  );
});

test('the page complained of nothing on the way', () => {
  expect(session.complaints.filter((c) => !/ERR_FAILED|net::/.test(c))).toEqual([]);
});
