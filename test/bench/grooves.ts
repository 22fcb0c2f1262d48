import { join } from 'node:path';
import type { Change } from '../../src/contract/edits';
import { PAD_INITIAL } from '../../src/core/kit/parameters';
import { seededRandom } from '../../src/core/signal/random';
import { startServer, visit } from '../harness';
import { Client } from '../server/client';
import { frameRow, frameTimes } from './frames';
import type { Row } from './rows';

const ROWS = 16;
const BARS = 64;
const NOTES = 5000;
const PLACED = 24;
/** A quick hand: ten strokes a second. Without rests several strokes would fall into one frame. */
const [DOWN_MS, BETWEEN_MS] = [30, 70] as const;

/** A groove of 64 bars of 16 rows with 5,000 notes: scrolled, and strokes placed one after another. */
export async function grooveRows(folder: string): Promise<Row[]> {
  const server = await startServer(join(folder, 'grooves.db'));
  await fill(new Client(server.address));
  const { browser, page } = await visit();
  try {
    await page.goto(`${server.address}/grooves`);
    const canvas = page.getByTestId('groove-canvas');
    await canvas.waitFor();
    await page.waitForTimeout(3000);
    await canvas.hover();
    const scrolling = async () => {
      for (let i = 0; i < 60; i++) await page.mouse.wheel(i < 30 ? 300 : -300, 0);
    };
    await scrolling();
    const scrolled = await frameTimes(page, scrolling);
    const box = await canvas.boundingBox();
    if (!box) throw new Error('no grid');
    const placing = async () => {
      for (let n = 0; n < PLACED; n++) {
        await page.mouse.click(box.x + 20 + n * 30, box.y + 14 + 28 * (n % ROWS), { delay: DOWN_MS });
        await page.waitForTimeout(BETWEEN_MS);
      }
    };
    await placing();
    const placed = await frameTimes(page, placing);
    return [
      frameRow('a groove of 64 bars and 5,000 notes scrolls', scrolled),
      frameRow('strokes are placed in it and taken away', placed),
    ];
  } finally {
    await browser.close();
    await server.kill();
  }
}

async function fill(client: Client): Promise<void> {
  const random = seededRandom(5);
  const id = (kind: string, n: number) => `${kind}-${String(n).padStart(5, '0')}`;
  const meters = [{ bar: 0, beats: 4, beatUnit: 4 }];
  const changes: Change[] = [
    { op: 'create', doc: 'kit', id: 'kit-00001', value: { name: 'Full' } },
    { op: 'create', doc: 'groove', id: 'groove-00001', value: { name: 'Long', bars: BARS, meters, bpm: 120 } },
  ];
  for (let n = 0; n < ROWS; n++) {
    const pad = { ...PAD_INITIAL, kitId: 'kit-00001', position: n, name: `Stroke ${n}`, family: 'snare', note: 36 + n };
    changes.push({ op: 'create', doc: 'pad', id: id('pad', n), value: pad });
    const row = { grooveId: 'groove-00001', position: n, role: '', note: 36 + n, family: 'snare' };
    changes.push({ op: 'create', doc: 'grooveRow', id: id('row', n), value: row });
  }
  for (let n = 0; n < NOTES; n++) {
    const tick = Math.floor(random() * BARS * 16) * 240;
    const velocity = 1 + Math.floor(random() * 127);
    const value = { rowId: id('row', n % ROWS), tick, length: 240, velocity };
    changes.push({ op: 'create', doc: 'grooveNote', id: id('note', n), value });
  }
  await client.edit('a long groove', changes);
}
