import type { Locator, Page } from 'playwright-core';
import type { Session } from '../harness';
import { Client } from '../server/client';

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

/** Opens the list of that label and takes an option: by its value, by its text, or the first of either. */
export async function choose(
  within: Page | Locator,
  label: string,
  option: string | { label: string } | { index: number },
): Promise<void> {
  await within.locator(`[data-choice="${label}"]`).click();
  const page = 'page' in within ? within.page() : within;
  const options = page.locator('[role=listbox] [role=option]');
  if (typeof option === 'string') await options.and(page.locator(`[data-value="${option}"]`)).click();
  else if ('label' in option) await options.getByText(option.label, { exact: true }).click();
  else await options.nth(option.index).click();
  await page.locator('[role=listbox]').waitFor({ state: 'detached' });
}

/** What the list of that label shows as chosen. */
export async function shown(within: Page | Locator, label: string): Promise<string> {
  return (await within.locator(`[data-choice="${label}"]`).textContent()) ?? '';
}

/** What the list of that label offers. */
export async function offered(page: Page, label: string): Promise<string[]> {
  await page.locator(`[data-choice="${label}"]`).click();
  const texts = await page.locator('[role=listbox] [role=option]').allTextContents();
  await page.keyboard.press('Escape');
  await page.locator('[role=listbox]').waitFor({ state: 'detached' });
  return texts;
}

/** Opens the demo's kit on the page Kits, once pads at some places can be struck; gives its id. */
export async function openMillstone({ page, server }: Session, places: readonly number[] = [0]): Promise<string> {
  const kits = await new Client(server.address).get<{ id: string; name: string }[]>('/api/kits');
  await page.goto(`${server.address}/kits`);
  for (const place of places) await page.locator(`[data-position="${place}"][data-state="ready"]`).waitFor();
  return kits.find(({ name }) => name === 'Millstone')?.id as string;
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

export interface StoredPad {
  readonly id: string;
  readonly name: string;
  readonly position: number;
  readonly family: string | null;
  readonly note: number | null;
}

/** What the tests of the pads do over and over. */
export class Hand {
  constructor(private readonly session: Session) {}

  get page(): Page {
    return this.session.page;
  }

  /** The pads of a kit as they are stored, in the order of their places. */
  padsOf(kit: string): StoredPad[] {
    return this.session.ask<StoredPad>(
      `SELECT p.id, p.name, p.position, p.family, p.settings ->> 'note' AS note FROM pad p JOIN kit k ON k.id = p.kit_id
       WHERE k.name = ? ORDER BY p.position`,
      kit,
    );
  }

  recordingId(title: string): string {
    return this.session.ask<{ id: string }>('SELECT id FROM recording WHERE title = ?', title)[0]?.id ?? '';
  }

  pad(position: number): Locator {
    return this.page.locator(`[data-position="${position}"]`);
  }

  /** Waits until a pad can be struck. */
  ready(position: number): Promise<void> {
    return this.page.locator(`[data-position="${position}"][data-state=ready]`).waitFor();
  }

  /** Has the page show a kit from its next loading on. */
  async showKit(name: string): Promise<void> {
    const [kit] = this.session.ask<{ id: string }>('SELECT id FROM kit WHERE name = ?', name);
    await this.page.evaluate((id) => localStorage.setItem('undercroft.kit', id), kit?.id ?? '');
  }

  /** Makes a kit and has the page show it from its next loading on. */
  async freshKit(name: string): Promise<void> {
    const id = `kit-${name.toLowerCase().replace(/[^a-z0-9]+/g, '-')}-0001`;
    const made = { op: 'create', doc: 'kit', id, value: { name } } as const;
    await new Client(this.session.server.address).edit('made a kit', [made]);
    await this.showKit(name);
  }

  async open(path: string): Promise<void> {
    await this.page.goto(this.session.server.address + path);
  }

  async middleOf(position: number): Promise<Point> {
    const box = await this.pad(position).boundingBox();
    if (!box) throw new Error(`There is no pad ${position}.`);
    return { x: box.x + box.width / 2, y: box.y + box.height / 2 };
  }

  /** Types a value into a parameter's row. */
  async setParameter(label: string, value: string): Promise<void> {
    const field = this.page.getByRole('textbox', { name: label, exact: true });
    await field.fill(value);
    await field.press('Enter');
  }

  /** How many strikes the page has sent to the audio thread since it was opened. */
  strikes(): Promise<number> {
    return this.page.evaluate(
      () => (globalThis as never as { undercroftSound: { engine: { struck: number } } }).undercroftSound.engine.struck,
    );
  }
}
