import { join } from 'node:path';
import type { Change } from '../../src/contract/edits';
import { writeWav } from '../../src/core/format/wav';
import { LAYER_INITIAL, PAD_INITIAL } from '../../src/core/kit/parameters';
import { startServer, visit } from '../harness';
import { Client } from '../server/client';
import { noise } from '../server/sounds';
import { frameRow, frameTimes } from './frames';
import { median, type Row } from './rows';

const PADS = 128;
const LAYERS = 4;
const RATE = 44_100;
const OPENED = 7;

/** A kit of 128 pads of four layers each: the page from its address until the pads stand, and its table scrolled. */
export async function kitRows(folder: string): Promise<Row[]> {
  const server = await startServer(join(folder, 'kits.db'));
  await fill(new Client(server.address));
  const { browser, page } = await visit();
  try {
    // From another page, and from the address: once unmeasured, for the compiling of the scripts.
    const stands = () => page.locator('[data-position="7"]').getByText('Stroke 7').waitFor();
    const [from, loaded]: [number[], number[]] = [[], []];
    for (let n = 0; n <= OPENED; n++) {
      await page.goto('about:blank');
      loaded.push(
        await timed(async () => {
          await page.goto(`${server.address}/kits`, { waitUntil: 'commit' });
          await stands();
        }),
      );
      await page.goto(`${server.address}/recordings`);
      await page.locator('[data-testid=recording]').first().waitFor();
      await page.waitForTimeout(1500);
      from.push(
        await timed(async () => {
          await page.getByRole('link', { name: 'Kits', exact: true }).click();
          await page.getByTestId('pads').locator('[data-position="7"]').getByText('Stroke 7').waitFor();
          await page.getByRole('tab', { name: 'Table' }).waitFor();
        }),
      );
    }
    const times = from.slice(1);
    await page.locator('[data-position="0"][data-state="ready"]').waitFor();
    await page.getByRole('tab', { name: 'Table' }).click();
    await page.locator('[data-testid=pad-row]').first().waitFor();
    await page.waitForTimeout(3000);
    await page.locator('[data-testid=pad-row]').nth(3).hover();
    const scrolling = async () => {
      for (let i = 0; i < 60; i++) await page.mouse.wheel(0, i < 30 ? 90 : -90);
    };
    await scrolling();
    const frames = await frameTimes(page, scrolling);
    return [
      {
        what: 'a kit of 128 pads of 4 layers opens',
        figure: `${median(times).toFixed(0)} ms`,
        beside: `from another page, ${OPENED} times up to ${Math.max(...times).toFixed(0)} ms; from its address ${median(loaded.slice(1)).toFixed(0)} ms`,
        floor: 'under 500 ms',
        met: median(times) < 500,
      },
      frameRow('the table of 128 pads scrolls', frames),
    ];
  } finally {
    await browser.close();
    await server.kill();
  }
}

async function timed(work: () => Promise<void>): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

async function fill(client: Client): Promise<void> {
  const { recordingId } = await client.import('yard.wav', writeWav(noise(30 * RATE, 1, 7, RATE), 's16'));
  const id = (kind: string, n: number) => `${kind}-${String(n).padStart(5, '0')}`;
  const changes: Change[] = [{ op: 'create', doc: 'kit', id: 'kit-00001', value: { name: 'Full' } }];
  for (let n = 0; n < PADS; n++) {
    const name = `Stroke ${n}`;
    const value = { ...PAD_INITIAL, kitId: 'kit-00001', position: n, name, family: 'snare' };
    changes.push({ op: 'create', doc: 'pad', id: id('pad', n), value });
    for (let l = 0; l < LAYERS; l++) {
      const at = n * LAYERS + l;
      const startFrame = at * 2000;
      const stretch = { recordingId, startFrame, endFrame: startFrame + 8000, sliceId: null };
      changes.push({
        op: 'create',
        doc: 'hit',
        id: id('hit', at),
        value: { name: `${name} ${l}`, family: 'snare', ...stretch },
      });
      const layer = { ...LAYER_INITIAL, padId: id('pad', n), hitId: id('hit', at), position: l };
      changes.push({ op: 'create', doc: 'layer', id: id('layer', at), value: layer });
    }
  }
  await client.edit('a full kit', changes);
}
