import type { Page } from 'playwright-core';
import { p95, type Row } from './rows';

interface TraceEvent {
  readonly name: string;
  readonly ph: string;
  readonly ts: number;
  readonly dur?: number;
  readonly tid: number;
  readonly pid: number;
}

/** Names in Chromium's trace: a task of a thread, what a frame begins with on the page and in a worker, and what counts as work. */
const TASK = 'RunTask';
const PAGE_FRAME = 'ProxyMain::BeginMainFrame';
const WORKER_FRAME = 'FireAnimationFrame';
/** Frames in which there was next to nothing to do would make the others look better: they are not counted. */
const IDLE_MS = 1;
const WORK = new Set([
  'FireAnimationFrame',
  'HandlePostMessage',
  'Paint',
  'Commit',
  'FunctionCall',
  'EventDispatch',
  'UpdateLayoutTree',
  'Layout',
]);

/** Milliseconds of work for each frame, on the page's thread and on the one that draws the pictures. */
interface FrameTimes {
  readonly page: readonly number[];
  readonly pictures: readonly number[];
}

/** From Chromium's own trace while `work` runs. */
export async function frameTimes(page: Page, work: () => Promise<void>): Promise<FrameTimes> {
  const session = await page.context().newCDPSession(page);
  const events: TraceEvent[] = [];
  session.on('Tracing.dataCollected', (data) => events.push(...(data.value as unknown as TraceEvent[])));
  await session.send('Tracing.start', {
    categories: 'devtools.timeline,toplevel,cc,disabled-by-default-devtools.timeline',
    transferMode: 'ReportEvents',
  });
  await work();
  const complete = new Promise<void>((resolve) => session.once('Tracing.tracingComplete', () => resolve()));
  await session.send('Tracing.end');
  await complete;
  await session.detach();
  const onPage = threadOf(events, PAGE_FRAME);
  if (!onPage) throw new Error('The trace holds no frame of the page.');
  const drawing = threadOf(
    events.filter((e) => !onPage(e)),
    WORKER_FRAME,
  );
  return {
    page: spentPerFrame(events.filter(onPage), PAGE_FRAME),
    pictures: drawing ? spentPerFrame(events.filter(drawing), WORKER_FRAME) : [],
  };
}

/** The thread on which most frames begin; null where none does. */
function threadOf(events: readonly TraceEvent[], frame: string): ((event: TraceEvent) => boolean) | null {
  const counts = new Map<string, number>();
  const key = (e: TraceEvent) => `${e.pid} ${e.tid}`;
  for (const e of events) if (e.name === frame) counts.set(key(e), (counts.get(key(e)) ?? 0) + 1);
  const [most] = [...counts].sort((a, b) => b[1] - a[1]);
  return most ? (e) => key(e) === most[0] : null;
}

/** Milliseconds of a thread's tasks that script, draw, lay out or paint, from one beginning of a frame to the next. */
function spentPerFrame(events: readonly TraceEvent[], frame: string): number[] {
  const inOrder = [...events].sort((a, b) => a.ts - b.ts);
  const times: number[] = [];
  let spent = 0;
  let at = 0;
  for (const task of inOrder.filter((e) => e.name === TASK && e.ph === 'X' && (e.dur ?? 0) > 0)) {
    const end = task.ts + (task.dur ?? 0);
    while (at < inOrder.length && (inOrder[at] as TraceEvent).ts < task.ts) at++;
    let works = false;
    let begins = false;
    for (let i = at; i < inOrder.length && (inOrder[i] as TraceEvent).ts < end; i++) {
      const { name } = inOrder[i] as TraceEvent;
      works ||= WORK.has(name);
      begins ||= name === frame;
    }
    if (works || begins) spent += (task.dur ?? 0) / 1000;
    if (!begins) continue;
    if (spent > IDLE_MS) times.push(spent);
    spent = 0;
  }
  return times;
}

/** A row of the table for the work that frames took. */
export function frameRow(what: string, { page, pictures }: FrameTimes): Row {
  const drawn = pictures.length > 0;
  const beside = [`${page.length}`, ...(drawn ? [`${pictures.length}`] : [])].join(' and ');
  const worst = [page, ...(drawn ? [pictures] : [])].map((times) => Math.max(...times).toFixed(1)).join(' and ');
  return {
    what,
    figure: `${p95(page).toFixed(1)} ms a frame of the page's thread${drawn ? `, ${p95(pictures).toFixed(1)} ms of the pictures'` : ''} (95 %)`,
    beside: `${beside} frames, worst ${worst} ms`,
    floor: 'under 17 ms',
    met: p95(page) < 17 && (!drawn || p95(pictures) < 17),
  };
}
