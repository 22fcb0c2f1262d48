import { join } from 'node:path';
import type { Page } from 'playwright-core';
import type { KitDocs, ListedHit } from '../src/contract/views';
import { choose } from './browser/gestures';
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
    await take('record', '/record', 'daylight', async (p) => {
      await choose(p, 'Input', 'simulated');
      await choose(p, 'Simulated input plays', { label: 'Sack-floor takes' });
      for (const number of [1, 2]) {
        await p.getByRole('button', { name: /^Record \d+ s at once/ }).click();
        await p
          .locator('[data-take]')
          .nth(number - 1)
          .waitFor();
      }
      await p.keyboard.press('F8');
      await p
        .getByTestId('input')
        .getByText(/Recording 0:0[89]/)
        .waitFor();
    });
    await take('record-lamplight', '/record', 'lamplight', async (p) => {
      await p.getByLabel('Title of the takes').fill('Drummer');
      await p.getByLabel('Title of the takes').press('Enter');
      await choose(p, 'Input', 'drummer');
      await choose(p, 'Rhythm', '2');
      const crank = p.getByRole('textbox', { name: 'Crank', exact: true });
      await crank.fill('0.2');
      await crank.press('Enter');
      await p.getByRole('button', { name: /^Record \d+ s at once/ }).click();
      await p.locator('[data-take]').first().waitFor();
    });
    await take('voice', '/hits', 'daylight', async (p) => {
      await p.getByRole('button', { name: 'New voice …' }).click();
      await p.getByRole('button', { name: /Deep kick/ }).waitFor();
      for (let i = 0; i < 2; i++) await p.keyboard.press('ArrowRight');
      await p.keyboard.press('Enter');
      await p.waitForURL(/hits\/.+/);
    });
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
    await take('split-silence', slice('Sack-floor takes'), 'daylight', async (p) => {
      await p.locator('[data-testid=slice-row]').first().waitFor();
      await p.getByRole('button', { name: 'Silence' }).click();
      await choose(p, 'View gain', '8');
      await p.locator('h1').click();
      for (let i = 0; i < 4; i++) await p.keyboard.press('ArrowRight');
    });
    const allHeard = async (p: Page) => {
      await p.locator('[data-testid=shelf]').first().waitFor();
      await p.getByText('to go …').waitFor({ state: 'detached' });
      await p.waitForTimeout(1500);
    };
    await take('shelves', `${slice('Sack-floor takes')}?view=shelves`, 'daylight', async (p) => {
      await allHeard(p);
      await p.locator('[data-testid=shelf-slice]').nth(3).click();
    });
    await take('hits', '/hits', 'daylight', (p) => p.locator('[data-testid=hit]').first().waitFor());
    await take('picker', '/kits', 'daylight', async (p) => {
      await p.locator('[data-position="4"]').click();
      await p.keyboard.press('F6');
      await p.locator('[data-testid=pick]').first().waitFor();
      for (const key of ['ArrowRight', 'ArrowDown', 'ArrowDown', 'ArrowDown']) {
        await p.keyboard.press(key);
        await p.waitForTimeout(300);
      }
    });
    const atWork = async (p: Page) => {
      await p.getByTestId('groove-canvas').waitFor();
      await p.locator('[data-position="8"][data-state="ready"]').waitFor();
      await p.getByRole('button', { name: 'Play', exact: true }).click();
      await p.getByRole('button', { name: /^Bar 4/ }).click();
      await p.waitForTimeout(3200);
    };
    await take('grooves', '/grooves', 'daylight', async (p) => {
      await atWork(p);
      const bar = await p.getByRole('button', { name: /^Bar 4/ }).boundingBox();
      const row = await p.getByTestId('groove-row').filter({ hasText: 'Tom Sluice' }).boundingBox();
      if (!bar || !row) throw new Error('no grid');
      const at = { x: bar.x + (bar.width * 12.5) / 16, y: row.y + row.height / 2 };
      await p.mouse.move(at.x, at.y);
      await p.mouse.down();
      await p.mouse.move(at.x + 42, at.y, { steps: 4 });
    });
    await take('grooves-lamplight', '/grooves', 'lamplight', async (p) => {
      await atWork(p);
      for (const name of ['Times', 'Lane', 'Values']) await p.getByRole('button', { name, exact: true }).click();
      await p.getByRole('button', { name: /^Bar 1/ }).click();
      await p
        .getByTestId('groove-row')
        .filter({ hasText: 'Snare Sluice' })
        .click({ position: { x: 40, y: 12 } });
      for (let n = 0; n < 4; n++) await p.keyboard.press('ArrowRight');
      await p.getByLabel('What the lane shows').fill('tuning, Snare Sluice');
      await p.getByRole('option', { name: /^tuning, Snare Sluice/ }).click();
      const lane = await p.getByTestId('lane-picture').boundingBox();
      if (!lane) throw new Error('no lane');
      const at = (x: number, y: number) => [lane.x + x * lane.width, lane.y + y * lane.height] as const;
      await p.mouse.move(...at(0.01, 0.5));
      await p.mouse.down();
      for (const [x, y] of [
        [0.24, 0.5],
        [0.45, 0.25],
        [0.5, 0.7],
        [0.75, 0.4],
        [0.97, 0.12],
      ] as const)
        await p.mouse.move(...at(x, y), { steps: 5 });
      await p.mouse.up();
      await p.waitForTimeout(2500);
    });
    const hits = (await (await fetch(`${server.address}/api/hits`)).json()) as ListedHit[];
    const edit = (label: string, changes: readonly object[]) =>
      fetch(`${server.address}/api/edits`, {
        method: 'POST',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify({ browser: 'pictures-0001', label, changes }),
      });
    const millstone = await kitOf(server.address, 'Millstone');
    await edit('a snare that is shaped', shapedSnare(millstone, hits));
    const snare38 = async (p: Page) => {
      await p.evaluate((id) => localStorage.setItem('undercroft.kit', id), millstone.kit.id);
      await p.reload();
      await p.locator('[data-position="8"][data-state="ready"]').waitFor();
      await p.locator('[data-position="8"]').click({ position: { x: 60, y: 12 } });
      await p.waitForTimeout(900);
    };
    await take('kits', '/kits', 'daylight', snare38);
    await take('controller', '/kits', 'daylight', async (p) => {
      await snare38(p);
      await p.getByRole('tab', { name: 'Controller' }).click();
      await p.getByRole('button', { name: 'Note 36', exact: true }).click();
      for (const key of 'zaqazqzaqaqzaq') {
        await p.keyboard.press(key);
        await p.waitForTimeout(110);
      }
      await p.getByRole('button', { name: 'Keep it as a take' }).click();
      await p.getByRole('list', { name: 'Kept takes' }).waitFor();
    });
    const treat = async (name: string, chain: readonly object[]) => {
      const hitId = hits.find((h) => h.name === name)?.id;
      const changes = chain.map((step, position) => ({
        op: 'create',
        doc: 'step',
        id: crypto.randomUUID(),
        value: { hitId, position, ...step },
      }));
      await edit('treated it', changes);
      return `/hits/${hitId}`;
    };
    const point = (frequencyHz: number, gainDb: number, kind = 'bell') => ({ kind, frequencyHz, gainDb });
    const snare = await treat('Snare Headrace 01', [
      {
        processor: 'equaliser',
        points: [point(90, 0, 'high-pass'), point(210, 4), point(900, -3), point(6000, 5, 'high-shelf')],
      },
      { processor: 'attack', attackDb: 4 },
      { processor: 'compressor', thresholdDb: -24 },
      { processor: 'length', timeMs: 140 },
      { processor: 'level', to: 'true-peak' },
    ]);
    const settled = async (p: Page) => {
      await p.locator('dl[aria-label="Figures of the hit"]').getByText('dBTP').first().waitFor();
      await p.waitForTimeout(800);
    };
    await take('treatment-daylight', snare, 'daylight', settled);
    const _tom = await treat('Tom churn low', [
      { processor: 'tune', semitones: 3, cents: -12 },
      { processor: 'envelope', attackMs: 0, holdMs: 40, decayMs: 240, sustainDb: -14, releaseMs: 90 },
    ]);
    const stone = hits.find(({ name }) => name === 'Kick stone')?.id;
    const lanes = async (p: Page) => {
      await p.getByTestId('sum').getByText('LUFS').waitFor();
      await p.getByRole('status').getByText(/lose/).waitFor();
    };
    await take('layers-daylight', `/hits/${stone}/layers`, 'daylight', async (p) => {
      await lanes(p);
      await p.getByRole('button', { name: 'Line up' }).click();
      await p.locator('[data-sonner-toast]').waitFor();
      await p.getByTestId('lane').nth(1).getByRole('button').first().click();
      await p.mouse.move(640, 250);
      await p.locator('[data-sonner-toast]').waitFor({ state: 'detached' });
    });
    await take('kit-buses', '/kits', 'daylight', async (p) => {
      await snare38(p);
      await p.getByRole('tab', { name: 'Buses' }).click();
      await p.getByRole('button', { name: '+ new bus' }).click();
      await p.getByRole('button', { name: '+ room' }).click();
      await p.getByTestId('bus').nth(1).getByRole('textbox').first().focus();
      for (const [n, db] of [-14, -18, -9, -11].entries()) {
        const field = p.getByLabel('Pads of the bus').getByRole('textbox').nth(n);
        await field.fill(String(db));
        await field.press('Enter');
      }
      await p.getByTestId('bus').first().getByRole('textbox').first().focus();
      for (const n of [0, 1, 2, 3]) await p.getByLabel('Pads of the bus').getByRole('checkbox').nth(n).check();
      await p.getByLabel('Steps of the bus').getByRole('button', { name: 'add …' }).click();
      await p.getByRole('menuitem', { name: /^Compressor/ }).click();
      await p.waitForTimeout(900);
      await p.keyboard.press('KeyZ');
      await p.waitForTimeout(60);
    });
    await take('kit-table', '/kits', 'daylight', async (p) => {
      await snare38(p);
      await p.getByRole('tab', { name: 'Whole kit' }).click();
      await choose(p, 'Give it a layout', 'general midi');
      await p.locator('[data-sonner-toast]').waitFor();
      await p.getByRole('tab', { name: 'Table' }).click();
      await p.mouse.move(640, 250);
      await p.locator('[data-sonner-toast]').waitFor({ state: 'detached' });
    });
    const about = [
      ['Attic', 'dry, barrels', 'Barrels and planks, close.', 'A. Miller'],
      ['Weir', 'wet, slow', 'Water and stone under the wheel.', 'A. Miller'],
      ['Yard', 'wide', 'Chains and gates, two microphones.', ''],
    ] as const;
    await edit(
      'kits',
      about.map(([name, words, said, author], i) => ({
        op: 'create',
        doc: 'kit',
        id: `kit-of-pictures-${i}`,
        value: { name, words: words.split(', '), about: said, author },
      })),
    );
    await take('kit-list', '/kits', 'lamplight', async (p) => {
      await snare38(p);
      await p.getByRole('tab', { name: 'All kits' }).click();
      await p.getByTestId('kit-row').nth(3).waitFor();
      await p.waitForTimeout(600);
    });
  } finally {
    await browser.close();
    await server.kill();
    remove(folder);
  }
}

void main();

async function kitOf(address: string, name: string): Promise<KitDocs> {
  const kits = (await (await fetch(`${address}/api/kits`)).json()) as { id: string; name: string }[];
  const id = kits.find((kit) => kit.name === name)?.id;
  return (await (await fetch(`${address}/api/kits/${id}`)).json()) as KitDocs;
}

/** Has the snare of a kit filtered, moved, and with takes over velocity. */
function shapedSnare(kit: KitDocs, hits: readonly ListedHit[]): object[] {
  const pad = kit.pads.find(({ position }) => position === 8);
  const first = kit.layers.find(({ padId }) => padId === pad?.id);
  if (!pad || !first) throw new Error('The demo kit has no snare.');
  const others = hits.filter(({ family, id }) => family === 'snare' && id !== first.hitId).slice(0, 3);
  const ranges = [
    [1, 52],
    [53, 127],
    [53, 127],
  ] as const;
  const set = {
    ...{ filter: 'low', slope: 24, cutoffHz: 5200, resonance: 1.4, filterOctaves: 1.5, filterDecayMs: 90 },
    ...{ levelHoldMs: 40, levelDecayMs: 160, levelSustain: 0.3, pan: -0.12, semitones: 1 },
    moves: [
      { source: 'velocity', target: 'cutoff', depth: 1.2 },
      { source: 'lfo1', target: 'tune', depth: 4 },
    ],
  };
  return [
    { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set },
    { op: 'update', doc: 'layer', id: first.id, rev: first.rev, set: { isTake: true, lowVelocity: 53 } },
    ...others.map(({ id }, i) => ({
      op: 'create',
      doc: 'layer',
      id: `layer-take-${i}`,
      value: {
        padId: pad.id,
        hitId: id,
        position: i + 1,
        isTake: true,
        lowVelocity: ranges[i]?.[0],
        highVelocity: ranges[i]?.[1],
      },
    })),
  ];
}
