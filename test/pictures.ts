import { join } from 'node:path';
import type { Page } from 'playwright-core';
import { demoWorkspace, ROOT, remove, scratch, startServer, visit } from './harness';

/** `npm run pictures`: the pictures of docs/screenshots, taken anew from the demo at 1280x800. */
async function main(): Promise<void> {
  const folder = scratch();
  const server = await startServer(demoWorkspace(folder));
  const { browser, page } = await visit();
  try {
    const recordings = (await (await fetch(`${server.address}/api/recordings`)).json()) as {
      id: string;
      title: string;
    }[];
    const slice = (title: string) => `/slice/${recordings.find((r) => r.title === title)?.id}`;
    const take = async (name: string, path: string, theme: string, prepare: (page: Page) => Promise<void>) => {
      await page.goto(`${server.address}/recordings`);
      await page.evaluate((t) => localStorage.setItem('undercroft.theme', t), theme);
      await page.goto(server.address + path);
      await prepare(page);
      await page.waitForTimeout(1200);
      await page.screenshot({ path: join(ROOT, 'docs', 'screenshots', `${name}.png`) });
    };
    await take('recordings', '/recordings', 'daylight', (p) => p.locator('[data-testid=recording]').first().waitFor());
    await take('slice-daylight', slice('Sluice loop'), 'daylight', async (p) => {
      await p.locator('[data-testid=slice-row]').first().waitFor();
      for (let i = 0; i < 6; i++) await p.keyboard.press('ArrowRight');
    });
    await take('slice-lamplight', slice('Headrace loop'), 'lamplight', async (p) => {
      await p.locator('[data-testid=slice-row]').first().waitFor();
      const box = await p.getByTestId('stage').boundingBox();
      if (!box) throw new Error('no stage');
      await p.mouse.move(box.x + 500, box.y + 200);
      await p.mouse.wheel(0, -400);
      await p.mouse.click(box.x + 560, box.y + 150);
    });
    await take('kits', '/kits', 'daylight', (p) => p.locator('[data-position="1"]').click());
  } finally {
    await browser.close();
    await server.kill();
    remove(folder);
  }
}

void main();
