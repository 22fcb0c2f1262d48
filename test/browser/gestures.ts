import type { Page } from 'playwright-core';
import type { Session } from '../harness';

export interface Point {
  readonly x: number;
  readonly y: number;
}

/** Opens a recording to be cut, from the list of recordings by clicks alone. */
export async function openSlice({ page, server }: Session, title: string): Promise<void> {
  await page.goto(`${server.address}/recordings`);
  await page.getByLabel('Search recordings').fill(title);
  await page.locator('[data-testid=recording]').first().click();
  await page.getByRole('button', { name: 'Slice it' }).click();
  await page.locator('h1').getByText(title).waitFor();
  await page.locator('[data-testid=slice-row]').first().waitFor();
  await page.waitForFunction(() => document.querySelector('[data-testid=stage]'));
}

/** How many slices the page tells that a recording has. */
export async function sliceCount(page: Page): Promise<number> {
  return Number(/(\d+) slices/.exec((await page.locator('h1 + span').textContent()) ?? '')?.[1]);
}

export function press(page: Page, label: string | RegExp): Promise<void> {
  return page.getByRole('button', { name: label }).click();
}

export async function setNumber(page: Page, label: string, value: string): Promise<void> {
  await page.getByLabel(label, { exact: true }).fill(value);
  await page.getByLabel(label, { exact: true }).press('Enter');
}

export async function drag(page: Page, from: Point, to: Point): Promise<void> {
  await page.mouse.move(from.x, from.y);
  await page.mouse.down();
  await page.mouse.move((from.x + to.x) / 2, (from.y + to.y) / 2, { steps: 4 });
  await page.mouse.move(to.x, to.y, { steps: 4 });
  // A hand rests for a moment; what lies under the pointer is found with the next frame.
  await page.waitForTimeout(60);
  await page.mouse.up();
}
