import type { Page } from 'playwright-core';
import { begin, type Session, saved, soon } from '../harness';

let session: Session;
let page: Page;

beforeAll(async () => {
  session = await begin();
  page = session.page;
  await page.goto(`${session.server.address}/hits`);
});

afterAll(() => session?.end());

const step = (label: string) => page.locator('[data-testid=step]').filter({ hasText: label });
const labels = () => page.locator('[data-testid=step] > span:first-of-type').allTextContents();
const figure = async (name: string) =>
  (await page
    .locator('dl[aria-label="Figures of the hit"] div')
    .filter({ hasText: name })
    .locator('dd')
    .first()
    .textContent()) ?? '';
const add = async (label: string) => {
  await page.getByRole('button', { name: 'add …' }).click();
  await page.getByRole('menuitem', { name: new RegExp(`^${label}`) }).click();
  await step(label).waitFor();
  await saved(page);
};
const stored = () =>
  session.ask<{ processor: string; settings: string; active: number }>(
    'SELECT processor, settings, active FROM step ORDER BY position',
  );

describe('a hit’s treatment', () => {
  test('one key opens it from the list of hits; its figures are there', async () => {
    await page.getByLabel('Search hits').fill('Snare Sluice');
    await page.locator('[data-testid=hit]').first().click();
    await page.keyboard.press('F4');
    await page.locator('[data-testid=treated-wave] canvas').waitFor();
    await soon(async () => expect(await figure('True peak')).toMatch(/dBTP/));
    expect(await page.getByText('Nothing is done to this hit yet').count()).toBe(1);
  });

  test('an equaliser’s point is dragged and another set; each is one step of undo, and the figures follow', async () => {
    const before = await figure('Loudness');
    await add('Equaliser');
    const picture = page.getByTestId('equaliser');
    const box = await picture.boundingBox();
    if (!box) throw new Error('There is no picture.');
    await picture.dblclick({ position: { x: box.width * 0.5, y: box.height * 0.15 } });
    await saved(page);
    await soon(async () => expect(await figure('Loudness')).not.toBe(before));
    const [point] = (JSON.parse(stored()[0]?.settings ?? '{}').points as { gainDb: number }[]).slice(-1);
    expect(point?.gainDb).toBeGreaterThan(9);
    // From the middle of the picture to the left, down.
    await page.mouse.move(box.x + box.width * 0.5, box.y + box.height * 0.15);
    await page.mouse.down();
    await page.mouse.move(box.x + box.width * 0.3, box.y + box.height * 0.7, { steps: 4 });
    await page.mouse.up();
    await saved(page);
    const moved = (JSON.parse(stored()[0]?.settings ?? '{}').points as { gainDb: number; frequencyHz: number }[])[1];
    expect(moved?.gainDb).toBeLessThan(0);
    expect(moved?.frequencyHz).toBeLessThan(300);
    await page.keyboard.press('Control+z');
    await saved(page);
    expect(JSON.parse(stored()[0]?.settings ?? '{}').points[1].gainDb).toBeGreaterThan(9);
  });

  test('the wheel widens the chosen point: many turns are one edit', async () => {
    const edits = () => session.ask<{ n: number }>('SELECT count(*) AS n FROM edit')[0]?.n ?? 0;
    const before = edits();
    const box = await page.getByTestId('equaliser').boundingBox();
    if (!box) throw new Error('There is no picture.');
    await page.mouse.move(box.x + box.width * 0.8, box.y + box.height * 0.8);
    for (let n = 0; n < 6; n++) await page.mouse.wheel(0, 60);
    await soon(() => expect(edits()).toBe(before + 1));
    await saved(page);
    expect(edits()).toBe(before + 1);
    const points = JSON.parse(stored()[0]?.settings ?? '{}').points as { widthOct: number }[];
    expect(points[1]?.widthOct).toBeGreaterThan(1.2);
  });

  test('a level set to a true peak has it; a step added later comes before it', async () => {
    await add('Level');
    await soon(async () => expect(await figure('True peak')).toBe('−1.0 dBTP'));
    await add('Length');
    expect(await labels()).toEqual(['Equaliser', 'Length', 'Level']);
    const time = page.getByRole('textbox', { name: 'Length', exact: true });
    await time.fill('80');
    await time.press('Enter');
    await soon(async () => expect(await figure('Length')).toBe('80 ms'));
    await soon(async () => expect(await figure('True peak')).toBe('−1.0 dBTP'));
  });

  test('steps are moved by key, switched, removed, and all is there after a reload', async () => {
    await step('Length').click();
    await page.keyboard.press('Alt+ArrowUp');
    await soon(async () => expect(await labels()).toEqual(['Length', 'Equaliser', 'Level']));
    await page.keyboard.press('.');
    await saved(page);
    await soon(async () => expect(await figure('Length')).toBe('161 ms'));
    expect(stored()[0]).toMatchObject({ processor: 'length', active: 0 });
    await step('Equaliser').click();
    await page.keyboard.press('Delete');
    await soon(async () => expect(await labels()).toEqual(['Length', 'Level']));
    await saved(page);
    await page.reload();
    await soon(async () => expect(await labels()).toEqual(['Length', 'Level']));
    await soon(async () => expect(await figure('True peak')).toBe('−1.0 dBTP'));
  });

  test('before and after are heard at one loudness, and the match is told', async () => {
    await page.getByRole('button', { name: /^After matched/ }).waitFor();
    await page.keyboard.press('/');
    await page.getByRole('button', { name: /^Before matched/ }).waitFor();
    await soon(async () =>
      expect(
        Number(
          await page.evaluate(() => document.body.textContent?.match(/(−?[\d.]+|−∞) dBFS/)?.[1]?.replace('−', '-')),
        ),
      ).toBeGreaterThan(-60),
    );
  });

  test('a hit that is not there says so', async () => {
    await page.goto(`${session.server.address}/hits/${crypto.randomUUID()}`);
    await page.getByText('There is no such hit').waitFor();
  });
});
