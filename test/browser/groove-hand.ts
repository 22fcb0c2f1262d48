import type { Page } from 'playwright-core';
import type { GrooveListEntry, GrooveView, KitListEntry } from '../../src/contract/views';
import type { EngineClient } from '../../src/engine/client';
import { type Session, soon } from '../harness';
import { Client } from '../server/client';
import type { Point } from './gestures';

const ROW_PX = 28;

/** What a page has of its engine. */
export interface Sound {
  readonly engine: EngineClient;
}

/** A person at work on grooves: presses, drags, keys and typed words are counted to be told. */
export class GrooveHand {
  gestures = 0;
  readonly client: Client;
  readonly page: Page;

  constructor(session: Session) {
    this.page = session.page;
    this.client = new Client(session.server.address);
  }

  readonly list = () => this.client.get<GrooveListEntry[]>('/api/grooves');

  readonly groove = async (name: string): Promise<GrooveView> => {
    const found = (await this.list()).find((one) => one.name === name);
    return this.client.get<GrooveView>(`/api/grooves/${found?.id}`);
  };

  readonly millstone = async () =>
    (await this.client.get<KitListEntry[]>('/api/kits')).find(({ name }) => name === 'Millstone')?.id;

  readonly button = (name: string | RegExp) => this.page.getByRole('button', { name, exact: typeof name === 'string' });

  /** What the grid says of its cell. */
  readonly said = () => this.page.getByTestId('groove-grid').getAttribute('aria-label');

  readonly kitNow = () => this.page.locator('[data-choice="Current kit"]').textContent();

  readonly press = async (name: string | RegExp) => {
    this.gestures++;
    await this.button(name).click();
  };

  readonly menu = async (name: string, item: string | RegExp) => {
    this.gestures += 2;
    await this.button(name).click();
    await this.page.getByRole('menuitem', { name: item }).click();
  };

  readonly key = async (...keys: readonly string[]) => {
    for (const one of keys) {
      this.gestures++;
      await this.page.keyboard.press(one);
    }
  };

  /** A command by its name, by keys alone. */
  readonly command = async (name: string) => {
    this.gestures += 3;
    await this.page.keyboard.press('Control+k');
    await this.page.keyboard.type(name);
    await this.page
      .getByRole('option', { name: new RegExp(name) })
      .first()
      .waitFor();
    await this.page.keyboard.press('Enter');
  };

  readonly engine = () =>
    this.page.evaluate(() => {
      const { engine: e } = (globalThis as never as { undercroftSound: Sound }).undercroftSound;
      return { frame: e.frame, lapBegan: e.lapBegan, struck: e.struck, sampleRate: e.sampleRate };
    });

  readonly runs = () => soon(async () => expect((await this.engine()).lapBegan).not.toBeNull());
  readonly stands = () => soon(async () => expect((await this.engine()).lapBegan).toBeNull());

  /** The middle of a cell: a row by its name, a 16th of a bar, by numbers from 0. */
  readonly cell = async (name: string, bar: number, step: number): Promise<Point> => {
    const rows = await this.page.getByTestId('groove-row').allTextContents();
    const box = await this.page.getByTestId('groove-canvas').boundingBox();
    const bars = await this.page
      .getByRole('button', { name: /^Bar \d/ })
      .evaluateAll((all) => all.map((one) => [one.getBoundingClientRect().left, one.getBoundingClientRect().width]));
    const [left, width] = bars[bar] ?? [];
    if (!box || left === undefined || width === undefined) throw new Error('There is no such bar.');
    const row = rows.findIndex((text) => text.includes(name));
    expect(row).toBeGreaterThanOrEqual(0);
    return { x: left + ((step + 0.5) * (width + 2)) / 16, y: box.y + (row + 0.5) * ROW_PX };
  };

  readonly strike = async (name: string, bar: number, step: number) => {
    this.gestures++;
    const { x, y } = await this.cell(name, bar, step);
    await this.page.mouse.click(x, y);
  };

  readonly drag = async (...points: readonly Point[]) => {
    this.gestures++;
    const [first, ...others] = points as [Point, ...Point[]];
    await this.page.mouse.move(first.x, first.y);
    await this.page.mouse.down();
    for (const { x, y } of others) await this.page.mouse.move(x, y, { steps: 6 });
    await this.page.mouse.up();
  };
}
