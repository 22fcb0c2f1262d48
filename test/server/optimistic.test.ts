import { join } from 'node:path';
import type { DocName } from '../../src/contract/documents';
import type { Change } from '../../src/contract/edits';
import { whole } from '../../src/contract/kinds';
import type { CutView, GrooveView, KitDocs, ListedHit, RecordingView } from '../../src/contract/views';
import { BUS_KINDS, PAD_PARAMETERS } from '../../src/core/kit/parameters';
import { SPLIT_INITIAL } from '../../src/core/onset/split';
import { seededRandom } from '../../src/core/signal/random';
import { LIVE_NAMES } from '../../src/core/treatment/live';
import { PROCESSOR_NAMES, PROCESSORS } from '../../src/core/treatment/processors';
import { type Db, openWorkspace } from '../../src/server/db/open';
import { commitEdit } from '../../src/server/history/commit';
import { insertDoc, readDoc } from '../../src/server/history/tables';
import { grooveView } from '../../src/server/views/grooves';
import { listHits } from '../../src/server/views/hits';
import { kitView } from '../../src/server/views/kits';
import { listNamed } from '../../src/server/views/named';
import { cutView, listRecordings } from '../../src/server/views/recordings';
import {
  applyToCut,
  applyToGroove,
  applyToHits,
  applyToKit,
  applyToNamed,
  applyToRecordings,
} from '../../src/ui/data/apply';
import { remove, scratch } from '../harness';

/** The views as a page holds them. */
interface Page {
  cut: CutView;
  kit: KitDocs;
  hits: readonly ListedHit[];
  plans: ReturnType<typeof listNamed<'plan'>>;
  recipes: ReturnType<typeof listNamed<'recipe'>>;
  layouts: ReturnType<typeof listNamed<'layout'>>;
  recordings: readonly RecordingView[];
  groove: GrooveView;
}

const RECORDING = 'recording-0001';
const KIT = 'kit-000000001';
const GROOVE = 'groove-0000001';

let folder: string;
let db: Db;

beforeAll(() => {
  folder = scratch();
  db = openWorkspace(join(folder, 'workspace.db'));
  db.prepare(
    `INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, frames, arrived_at)
     VALUES (?, 'Sluice', 'ready', 'sluice.wav', 's16', 16, 44100, 2, 100000, 1)`,
  ).run(RECORDING);
  insertDoc(db, 'cut', { id: RECORDING, ...SPLIT_INITIAL, pad: {} }, 1);
  insertDoc(db, 'kit', whole('kit', { id: KIT, name: 'Weir' }), 1);
  const meters = [{ bar: 0, beats: 4, beatUnit: 4 }];
  insertDoc(db, 'groove', whole('groove', { id: GROOVE, name: 'Night', bars: 4, meters }), 1);
});

afterAll(() => {
  db.close();
  remove(folder);
});

const random = seededRandom(18);
const below = (n: number) => Math.floor(random() * n);
const oneOf = <T>(all: readonly T[]): T => all[below(all.length)] as T;
let made = 0;

function ids(doc: DocName): string[] {
  return (db.prepare(`SELECT id FROM ${doc}`).all() as { id: string }[]).map(({ id }) => id);
}

/** What a new document of a kind may say; null where what it needs is not there. */
function newDocument(doc: DocName): Record<string, unknown> | null {
  const startFrame = below(50_000);
  const stretch = { recordingId: RECORDING, startFrame, endFrame: startFrame + 1 + below(40_000) };
  const [hitId, padId] = [oneOf(ids('hit')), oneOf(ids('pad'))];
  switch (doc) {
    case 'slice':
      return { ...stretch, origin: 'hand' };
    case 'bookmark':
      return { recordingId: RECORDING, frame: startFrame, label: `mark ${made}` };
    case 'hit':
      return { ...stretch, name: `Hit ${made}`, family: null, sliceId: null };
    case 'step':
      return hitId ? { hitId, processor: oneOf(PROCESSOR_NAMES), position: below(10) } : null;
    case 'member':
      return hitId
        ? { layeredId: hitId, hitId: oneOf(ids('hit')), position: below(10), levelDb: 1 + below(20), bandsDb: [0, -9] }
        : null;
    case 'memberStep': {
      const memberId = oneOf(ids('member'));
      return memberId ? { memberId, processor: oneOf(PROCESSOR_NAMES), position: below(10) } : null;
    }
    case 'recordingStep':
      return {
        recordingId: RECORDING,
        processor: oneOf(['equaliser', 'noise', 'level'] as const),
        position: below(10),
      };
    case 'padStep':
      return padId ? { padId, processor: oneOf(LIVE_NAMES), position: below(10) } : null;
    case 'bus':
      return { kitId: KIT, position: below(10), name: `Bus ${made}`, kind: oneOf(BUS_KINDS), levelDb: -1 - below(9) };
    case 'busStep': {
      const busId = oneOf(ids('bus'));
      return busId ? { busId, processor: oneOf(LIVE_NAMES), position: below(10) } : null;
    }
    case 'layout': {
      const place = { position: below(128), role: `Role ${made}`, family: null, note: null, settings: {} };
      return { name: `Layout ${made}`, places: [place], kitValues: { transpose: below(12) } };
    }
    case 'grooveRow':
      return { grooveId: GROOVE, position: below(10), role: '', note: below(128), family: null };
    case 'grooveNote': {
      const rowId = oneOf(ids('grooveRow'));
      return rowId ? { rowId, tick: below(9000), length: 1 + below(400), velocity: 1 + below(127) } : null;
    }
    case 'recipe':
      return { name: `Recipe ${made}`, about: '', steps: [{ processor: oneOf(PROCESSOR_NAMES) }] };
    case 'pad':
      return { kitId: KIT, position: below(128), name: `Pad ${made}`, family: 'kick', levelDb: -1 - below(20) };
    case 'layer':
    case 'variation':
      return hitId && padId ? { hitId, padId, position: below(10) } : null;
    case 'plan':
      return { name: `Plan ${made}`, split: { sensitivity: random() }, pad: { pan: random() } };
    default:
      return null;
  }
}

/** What may be changed of a document of a kind. */
function newFields(doc: DocName, value: Readonly<Record<string, unknown>>): Record<string, unknown> {
  switch (doc) {
    case 'slice':
      return { name: `slice ${below(99)}`, locked: below(2) === 1 };
    case 'cut':
      return { sensitivity: random(), thresholdDb: below(2) === 0 ? null : -1 - below(90) };
    case 'bookmark':
      return { label: `moved ${below(99)}`, frame: below(90_000) };
    case 'hit':
      return {
        inherits: below(2) === 1,
        edgesHz: [[], [120]][below(2)],
        tags: [`tag ${below(9)}`],
        rootHz: below(2) === 0 ? null : 100,
      };
    case 'member':
      return oneOf([{ position: below(10) }, { muted: below(2) === 1 }, { offsetFrames: below(999) }]);
    case 'memberStep':
    case 'recordingStep':
    case 'padStep':
    case 'busStep':
      return { active: below(2) === 1, position: below(10) };
    case 'bus':
      return { muted: below(2) === 1, position: below(10) };
    case 'step': {
      const { parameters } = PROCESSORS[value.processor as keyof typeof PROCESSORS];
      const [key, p] = oneOf(Object.entries(parameters)) ?? [];
      return { active: below(2) === 1, position: below(10), ...(key ? { [key]: p.initial } : {}) };
    }
    case 'pad': {
      const [key, p] = oneOf(Object.entries(PAD_PARAMETERS));
      return {
        position: below(128),
        role: `Role ${below(9)}`,
        busId: oneOf([null, oneOf(ids('bus')) ?? null]),
        [key]: p.kind === 'number' ? oneOf([p.low, p.high, p.initial]) : p.initial,
      };
    }
    case 'layer':
    case 'variation':
      return { position: below(10), hitId: oneOf(ids('hit')) };
    case 'groove':
      return { name: `Night ${below(99)}`, bars: 1 + below(8), swing: 0.5 + below(5) / 100 };
    case 'grooveRow':
      return { muted: below(2) === 1, position: below(10) };
    case 'grooveNote':
      return { tick: below(9000), velocity: 1 + below(127), strokes: 1 + below(16) };
    case 'kit':
      return { name: `Weir ${below(99)}`, words: [`word ${below(9)}`], transpose: below(9) };
    default:
      return { name: `renamed ${below(99)}` };
  }
}

const KINDS = [
  'slice',
  'cut',
  'bookmark',
  'hit',
  'step',
  'member',
  'memberStep',
  'recordingStep',
  'recipe',
  'pad',
  'padStep',
  'bus',
  'busStep',
  'layer',
  'variation',
  'kit',
  'plan',
  'layout',
  'groove',
  'grooveRow',
  'grooveNote',
] as const;

function anyChange(): Change | null {
  const doc = oneOf(KINDS);
  const id = oneOf(ids(doc));
  const way = below(5);
  if (way < 2) {
    const value = newDocument(doc);
    return value && { op: 'create', doc, id: `made-${String(++made).padStart(6, '0')}`, value };
  }
  const now = id && readDoc(db, doc, id);
  if (!now) return null;
  if (way === 4 && !['cut', 'kit', 'groove'].includes(doc)) return { op: 'remove', doc, id, rev: now.rev };
  return { op: 'update', doc, id, rev: now.rev, set: newFields(doc, now.value) };
}

function shown(): Page {
  return {
    cut: cutView(db, RECORDING),
    kit: kitView(db, KIT),
    hits: listHits(db),
    plans: listNamed(db, 'plan'),
    recipes: listNamed(db, 'recipe'),
    layouts: listNamed(db, 'layout'),
    recordings: listRecordings(db),
    groove: grooveView(db, GROOVE),
  };
}

/** What the server counts beside documents is fetched, not foreseen; lists are in one order. */
function comparable({ cut, kit, hits, plans, recipes, recordings, groove }: Page): unknown {
  const byId = <T extends { id: string }>(rows: readonly T[]) => [...rows].sort((a, b) => (a.id < b.id ? -1 : 1));
  const { recordings: _recordings, ...rest } = kit;
  return {
    cut: { ...cut, recording: null },
    kit: { ...rest, hits: byId(kit.hits) },
    hits: byId(hits).map(({ kits: _kits, ...hit }) => hit),
    groove,
    plans: byId(plans),
    recipes: byId(recipes),
    steps: recordings.map(({ steps }) => steps),
  };
}

test('what a page shows at once is what the server has after the answer, whatever is edited', () => {
  let page = shown();
  const told = new Map<string, number>();
  for (let n = 0; n < 800; n++) {
    const changes = Array.from({ length: 1 + below(3) }, anyChange).filter((change) => change !== null);
    // One document once an edit: its revision is the one that is stored.
    const once = changes.filter((c, i) => changes.findIndex((other) => other.id === c.id) === i);
    if (once.length === 0) continue;
    try {
      commitEdit(db, { browser: 'test-browser-0001', tab: '', label: 'any', changes: once });
    } catch {
      // A rule stands against it: two pads on one place, a hit that a pad still needs.
      continue;
    }
    for (const { op, doc } of once) told.set(`${op} ${doc}`, (told.get(`${op} ${doc}`) ?? 0) + 1);
    const recordings = applyToRecordings(page.recordings, once);
    const hits = applyToHits(page.hits, once, recordings);
    page = {
      cut: applyToCut(page.cut, once),
      kit: applyToKit(page.kit, once, recordings, hits),
      recordings,
      recipes: applyToNamed('recipe', page.recipes, once) as Page['recipes'],
      layouts: applyToNamed('layout', page.layouts, once) as Page['layouts'],
      hits,
      groove: applyToGroove(page.groove, once),
      plans: applyToNamed('plan', page.plans, once) as Page['plans'],
    };
    expect(comparable(page)).toEqual(comparable(shown()));
  }
  // Every way of changing every kind has been met.
  for (const doc of KINDS) {
    expect(told.get(`update ${doc}`)).toBeGreaterThan(3);
    if (doc === 'cut' || doc === 'kit' || doc === 'groove') continue;
    expect(told.get(`create ${doc}`)).toBeGreaterThan(3);
    expect(told.get(`remove ${doc}`)).toBeGreaterThan(3);
  }
});
