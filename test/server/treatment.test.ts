import Database from 'better-sqlite3';
import type { Change } from '../../src/contract/edits';
import type { HitView } from '../../src/contract/views';
import { writeWav } from '../../src/core/format/wav';
import type { Parameter } from '../../src/core/parameter/parameter';
import { optionsOf } from '../../src/core/parameter/values';
import { seededRandom } from '../../src/core/signal/random';
import { PROCESSOR_NAMES, processorOf } from '../../src/core/treatment/processors';
import { served } from './served';

const at = served();
const EDITS = 500;

function tables(): unknown {
  const db = new Database(at.server.workspace, { readonly: true });
  // Revisions count on through undo and redo; all else is as it was.
  const rows = ['hit', 'step'].map((table) =>
    (db.prepare(`SELECT * FROM ${table} ORDER BY id`).all() as Record<string, unknown>[]).map(
      ({ rev: _rev, ...row }) => row,
    ),
  );
  db.close();
  return rows;
}

test('500 edits of treatments, a restart, all undone and all redone: the tables are equal', async () => {
  const random = seededRandom(77);
  const pick = <T>(some: readonly T[]): T => some[Math.floor(random() * some.length)] as T;
  const { recordingId } = await at.client.import(
    'Take.wav',
    writeWav({ sampleRate: 22_050, channels: [new Float32Array(9000).fill(0.1)] }, 's16'),
  );
  const ids = [0, 1, 2, 3].map((n) => `hit-treat-0${n}`);
  for (const [n, id] of ids.entries())
    await at.client.edit('made', [
      {
        op: 'create',
        doc: 'hit',
        id,
        value: {
          name: `Hit ${n}`,
          family: null,
          sliceId: null,
          recordingId,
          startFrame: n * 1000,
          endFrame: n * 1000 + 900,
        },
      },
    ]);
  const begun = tables();
  const value = (p: Parameter): unknown => {
    if (p.kind === 'number')
      return p.whole ? p.low + Math.floor(random() * (p.high - p.low)) : p.low + random() * (p.high - p.low);
    if (p.kind === 'list') return [Object.fromEntries(Object.entries(p.item).map(([key, own]) => [key, value(own)]))];
    return p.kind === 'data' ? 'AAAA' : pick(optionsOf(p))[0];
  };
  const steps = new Map<string, { readonly processor: (typeof PROCESSOR_NAMES)[number] }>();
  for (let n = 0; n < EDITS; n++) {
    const known = [...steps.keys()];
    const kind = known.length < 4 ? 0 : random();
    const id = pick(known);
    let change: Change;
    if (kind < 0.3) {
      const processor = pick(PROCESSOR_NAMES);
      const made = `step-treat-${n}`;
      steps.set(made, { processor });
      change = { op: 'create', doc: 'step', id: made, value: { hitId: pick(ids), processor, position: random() * 10 } };
    } else if (kind < 0.4) {
      steps.delete(id);
      change = { op: 'remove', doc: 'step', id, rev: at.client.rev('step', id) };
    } else {
      const parameters = Object.entries(
        processorOf((steps.get(id) as { processor: (typeof PROCESSOR_NAMES)[number] }).processor).parameters,
      );
      const [key, p] = parameters.length > 0 ? pick(parameters) : (['', null] as const);
      const set = random() < 0.2 || !p ? { active: random() < 0.5, position: random() * 10 } : { [key]: value(p) };
      change = { op: 'update', doc: 'step', id, rev: at.client.rev('step', id), set };
    }
    await at.client.edit(`treated ${n}`, [change]);
  }
  const done = tables();
  await at.server.kill();
  await at.restart();
  for (let n = 0; n < EDITS; n++) await at.client.step('undo');
  expect(tables()).toEqual(begun);
  for (let n = 0; n < EDITS; n++) await at.client.step('redo');
  expect(tables()).toEqual(done);
  const hits = await at.client.get<HitView[]>('/api/hits');
  expect(hits.reduce((sum, hit) => sum + hit.steps.length, 0)).toBe(steps.size);
});
