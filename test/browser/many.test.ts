import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { begin, type Session, soon } from '../harness';
import { manyRecordings } from '../many';
import { choose } from './gestures';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin(async (folder) => {
    const workspace = join(folder, 'workspace.db');
    await manyRecordings(workspace, 1000);
    return workspace;
  });
  page = session.page;
  await page.goto(`${session.server.address}/recordings`);
  await page.locator('[data-testid=recording]').first().waitFor();
});

afterAll(() => session?.end());

test('of a thousand recordings only those in sight are drawn, and keys move through all of them', async () => {
  await page.getByText(/^1000 · /).waitFor();
  await soon(async () => expect(await page.locator('[data-testid=recording]').count()).toBeLessThan(30));
  await page.locator('h1').click();
  await page.keyboard.press('End');
  await page.locator('input[value="lantern yard 1000"]').waitFor();
  await page.keyboard.press('Home');
  await page.locator('input[value="barrel attic 1"]').waitFor();
});

/** Median time in ms, over the letters of a word, from a key until the list has been drawn for it. */
async function typingTime(word: string): Promise<number> {
  const field = page.getByLabel('Search recordings');
  await field.fill('');
  await field.focus();
  const times: number[] = [];
  for (const letter of word) {
    await page.evaluate(() => {
      const w = window as unknown as { began: number; took: number };
      w.took = -1;
      addEventListener(
        'keydown',
        () => {
          w.began = performance.now();
          // Two frames on, what the key changed is on the screen.
          requestAnimationFrame(() =>
            requestAnimationFrame(() => {
              w.took = performance.now() - w.began;
            }),
          );
        },
        { once: true, capture: true },
      );
    });
    await page.keyboard.press(letter);
    await page.waitForFunction(() => (window as unknown as { took: number }).took >= 0);
    times.push(await page.evaluate(() => (window as unknown as { took: number }).took));
  }
  return times.sort((a, b) => a - b)[times.length >> 1] as number;
}

test('search follows the typing: what is found stands there within a tenth of a second of the key', async () => {
  const time = await typingTime('lantern');
  await soon(async () =>
    expect(await page.locator('[data-testid=recording]').first().getByLabel('Title').inputValue()).toMatch(/^lantern/),
  );
  await page.getByText(/^125 · /).waitFor();
  expect(time).toBeLessThan(100);
});

test('a thousand recordings are tagged as one edit, and that is undone', async () => {
  await page.getByLabel('Search recordings').fill('');
  await page.locator('h1').click();
  await page.keyboard.press('Control+a');
  await page.getByText('1000 chosen').waitFor();
  await page.getByLabel('Add a tag to those chosen').fill('spring');
  await page.getByLabel('Add a tag to those chosen').press('Enter');
  await page.getByRole('button', { name: 'Undo: tagged 1000 recordings spring' }).waitFor();
  await choose(page, 'Show tag', 'spring');
  await page.getByText(/^1000 · /).waitFor();
  await choose(page, 'Show tag', '');
  await page.locator('h1').click();
  await page.keyboard.press('Control+z');
  await page.getByRole('button', { name: 'Nothing to undo' }).waitFor();
});
