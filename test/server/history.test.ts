import Database from 'better-sqlite3';
import type { Change, EditAnswer } from '../../src/contract/edits';
import type { CutView, KitView } from '../../src/contract/views';
import { BANK_SIZE, LAYER_INITIAL, PAD_INITIAL, PAD_PARAMETERS } from '../../src/core/kit/parameters';
import { seededRandom } from '../../src/core/signal/random';
import { demoWorkspace, remove, type Server, scratch, startServer, undercroft } from '../harness';
import { Client } from './client';

let folder: string;
let server: Server;

beforeAll(async () => {
  folder = scratch();
  server = await startServer(demoWorkspace(folder));
});

afterAll(async () => {
  await server?.kill();
  remove(folder);
});

const TABLES = ['recording', 'cut', 'slice', 'hit', 'kit', 'pad', 'layer', 'variation'];

/** Every document of the workspace without its revision, which counts on for ever. */
function tables(workspace: string): Record<string, unknown[]> {
  const db = new Database(workspace, { readonly: true });
  const all = TABLES.map((name) => {
    const rows = db.prepare(`SELECT * FROM ${name} ORDER BY id`).all() as Record<string, unknown>[];
    return [name, rows.map(({ rev: _rev, ...row }) => row)] as const;
  });
  db.close();
  return Object.fromEntries(all);
}

function ask<T>(sql: string): T[] {
  const db = new Database(server.workspace, { readonly: true });
  const rows = db.prepare(sql).all() as T[];
  db.close();
  return rows;
}

/** Gestures such as a person makes, over every kind of document; seeded, so that each run makes the same. */
class Gestures {
  private readonly random = seededRandom(20_261_125);
  private made = 0;
  private readonly slices: string[];
  private readonly hits: string[] = [];
  private readonly kits: string[] = [];
  private readonly pads = new Map<string, { kitId: string; position: number; layers: string[] }>();

  constructor(
    private readonly client: Client,
    private readonly cut: CutView,
  ) {
    this.slices = cut.slices.map((s) => s.id);
  }

  next(): Change[] {
    const kinds = [this.retitle, this.resplit, this.addSlice, this.moveSlice, this.dropSlice, this.makeKit, this.lay];
    // Pads may all be gone with their kits: then nothing is there to be turned.
    const late = [
      this.lay,
      this.turnPad,
      this.turnPad,
      this.trimHit,
      this.emptyPad,
      this.turnLayer,
      this.renameKit,
      this.dropKit,
    ];
    const all = this.pads.size > 0 ? [...kinds, ...late] : kinds;
    return (all[Math.floor(this.random() * all.length)] as () => Change[]).call(this);
  }

  private id(kind: string): string {
    return `${kind}-${String(this.made++).padStart(6, '0')}`;
  }
  private pick<T>(list: readonly T[]): T | undefined {
    return list[Math.floor(this.random() * list.length)];
  }
  private update(doc: Change['doc'], id: string, set: Record<string, unknown>): Change {
    return { op: 'update', doc, id, rev: this.client.rev(doc, id), set };
  }
  private take(list: string[], id: string): void {
    list.splice(list.indexOf(id), 1);
  }

  private retitle(): Change[] {
    return [this.update('recording', this.cut.recording.id, { title: `Take ${this.made++}`, notes: 'ö "quoted"\n' })];
  }
  private resplit(): Change[] {
    return [
      this.update('cut', this.cut.recording.id, { sensitivity: this.random(), spacingMs: 5 + this.random() * 90 }),
    ];
  }
  private addSlice(): Change[] {
    const id = this.id('slice');
    const startFrame = Math.floor(this.random() * (this.cut.recording.frames - 2000));
    this.slices.push(id);
    const value = {
      recordingId: this.cut.recording.id,
      startFrame,
      endFrame: startFrame + 1500,
      origin: 'hand',
      family: null,
    };
    return [{ op: 'create', doc: 'slice', id, value }];
  }
  private moveSlice(): Change[] {
    const id = this.pick(this.slices);
    const startFrame = Math.floor(this.random() * 1000);
    return id ? [this.update('slice', id, { startFrame, endFrame: startFrame + 500 })] : this.addSlice();
  }
  private dropSlice(): Change[] {
    const id = this.pick(this.slices);
    if (!id) return this.addSlice();
    this.take(this.slices, id);
    return [{ op: 'remove', doc: 'slice', id, rev: this.client.rev('slice', id) }];
  }
  private makeKit(): Change[] {
    const id = this.id('kit');
    this.kits.push(id);
    return [{ op: 'create', doc: 'kit', id, value: { name: `Kit ${this.made}` } }];
  }
  private renameKit(): Change[] {
    const id = this.pick(this.kits);
    return id ? [this.update('kit', id, { name: `Kit ${this.made++} again` })] : this.makeKit();
  }
  private dropKit(): Change[] {
    if (this.kits.length < 4) return this.makeKit();
    const id = this.pick(this.kits) as string;
    this.take(this.kits, id);
    for (const [padId, pad] of this.pads) if (pad.kitId === id) this.pads.delete(padId);
    return [{ op: 'remove', doc: 'kit', id, rev: this.client.rev('kit', id) }];
  }
  private lay(): Change[] {
    const kitId = this.pick(this.kits);
    if (!kitId) return this.makeKit();
    const position = Math.floor(this.random() * BANK_SIZE);
    const there = [...this.pads].find(([, p]) => p.kitId === kitId && p.position === position);
    const [padId, hitId, layerId] = [there?.[0] ?? this.id('pad'), this.id('hit'), this.id('layer')];
    const startFrame = Math.floor(this.random() * 10000);
    const hit = {
      name: `Hit ${this.made}`,
      family: 'snare',
      recordingId: this.cut.recording.id,
      startFrame,
      endFrame: startFrame + 900,
      sliceId: null,
    };
    this.hits.push(hitId);
    const changes: Change[] = [{ op: 'create', doc: 'hit', id: hitId, value: hit }];
    if (there) there[1].layers.push(layerId);
    else {
      this.pads.set(padId, { kitId, position, layers: [layerId] });
      changes.push({
        op: 'create',
        doc: 'pad',
        id: padId,
        value: { kitId, position, name: hit.name, family: 'snare', ...PAD_INITIAL },
      });
    }
    changes.push({
      op: 'create',
      doc: 'layer',
      id: layerId,
      value: { padId, hitId, position: this.made, ...LAYER_INITIAL },
    });
    return changes;
  }
  private turnPad(): Change[] {
    const id = this.pick([...this.pads.keys()]) as string;
    return [
      this.update('pad', id, { levelDb: -this.random() * 20, cents: this.random() * 50, pan: this.random() * 2 - 1 }),
    ];
  }
  private turnLayer(): Change[] {
    const id = this.pick([...this.pads.values()].flatMap((p) => p.layers)) as string;
    return [this.update('layer', id, { semitones: Math.floor(this.random() * 12), levelDb: -3.25 })];
  }
  private trimHit(): Change[] {
    const id = this.pick(this.hits) as string;
    return [this.update('hit', id, { startFrame: 100, endFrame: 200 + Math.floor(this.random() * 5000) })];
  }
  private emptyPad(): Change[] {
    const id = this.pick([...this.pads.keys()]) as string;
    this.pads.delete(id);
    return [{ op: 'remove', doc: 'pad', id, rev: this.client.rev('pad', id) }];
  }
}

test('500 mixed edits, a restart, all undone, all done again: the tables are what they were', async () => {
  let client = new Client(server.address);
  const recording = (await client.recordings())[0];
  const gestures = new Gestures(client, await client.cut(recording?.id ?? ''));
  const before = tables(server.workspace);
  const EDITS = 500;
  for (let i = 0; i < EDITS; i++) await client.edit(`gesture ${i}`, gestures.next());
  const after = tables(server.workspace);
  expect(after).not.toEqual(before);

  await server.kill();
  server = await startServer(server.workspace);
  client = new Client(server.address);
  expect(tables(server.workspace)).toEqual(after);
  for (let i = 0; i < EDITS; i++) await client.step('undo');
  expect(tables(server.workspace)).toEqual(before);
  await expect(client.step('undo')).rejects.toThrow('There is nothing to undo.');
  for (let i = 0; i < EDITS; i++) await client.step('redo');
  expect(tables(server.workspace)).toEqual(after);
  await expect(client.step('redo')).rejects.toThrow('There is nothing to redo.');
  expect(undercroft('check', '--workspace', server.workspace)).toMatch(/all sound/);
});

describe('two at once', () => {
  test('a write on an older revision is refused, not merged; undo stops at what another changed since', async () => {
    const [one, other] = [new Client(server.address, 'browser-one'), new Client(server.address, 'browser-two')];
    const id = (await one.recordings())[1]?.id ?? '';
    await one.cut(id);
    await other.cut(id);
    const title = (rev: number, text: string): Change => ({
      op: 'update',
      doc: 'recording',
      id,
      rev,
      set: { title: text },
    });
    const seen = one.rev('recording', id);
    await one.edit('renamed', [title(seen, 'Mine')]);
    await expect(other.edit('renamed', [title(seen, 'Theirs')])).rejects.toThrow(/changed elsewhere/);
    await other.edit('renamed', [title(one.rev('recording', id), 'Theirs')]);
    await expect(one.step('undo')).rejects.toThrow(/changed elsewhere since/);
    // Other fields of the same document do not stand in the way.
    await other.step('undo');
    await other.edit('noted', [
      { op: 'update', doc: 'recording', id, rev: other.rev('recording', id), set: { notes: 'loud' } },
    ]);
    await one.step('undo');
    const now = (await one.recordings())[1];
    expect(now).toMatchObject({ notes: 'loud' });
    expect(now?.title).not.toBe('Mine');
  });

  test('an edit whose last change is refused leaves none of the others', async () => {
    const client = new Client(server.address, 'browser-one');
    const before = tables(server.workspace);
    const kit = { op: 'create', doc: 'kit', id: 'kit-half-0001', value: { name: 'Half' } } as const;
    const pad = { kitId: kit.id, position: 3, name: 'A', family: null, ...PAD_INITIAL };
    const twice = ['pad-half-0001', 'pad-half-0002'].map(
      (id): Change => ({ op: 'create', doc: 'pad', id, value: pad }),
    );
    await expect(client.edit('half', [kit, ...twice])).rejects.toThrow(/Two sounds cannot lie on one pad/);
    const lost = {
      op: 'create',
      doc: 'layer',
      id: 'layer-half-01',
      value: { padId: 'nowhere-0001', hitId: 'nowhere-0002', position: 0, ...LAYER_INITIAL },
    } as const;
    await expect(client.edit('half', [kit, lost])).rejects.toThrow(/names what is not there/);
    expect(tables(server.workspace)).toEqual(before);
  });

  test('an edit whose answer was lost is sent again and done once, and so is an undo', async () => {
    const client = new Client(server.address, 'browser-one');
    const kit = { op: 'create', doc: 'kit', id: 'kit-twice-0001', value: { name: 'Once' } } as const;
    const request = { browser: 'browser-one', label: 'made a kit', key: 'key-twice-00001', changes: [kit] };
    const [first, again] = [await client.post('/api/edits', request), await client.post('/api/edits', request)];
    expect(first.status).toBe(200);
    expect(again).toEqual(first);
    const undo = { browser: 'browser-one', direction: 'undo', key: 'key-twice-00002' };
    const undone = await client.post('/api/history', undo);
    expect((await client.post('/api/history', undo)).status).toBe(200);
    expect((undone.body as EditAnswer).label).toBe('made a kit');
    expect(ask(`SELECT id FROM kit WHERE id = '${kit.id}'`)).toEqual([]);
    // What was done before it stands: the second undo was the first one again.
    expect(ask("SELECT label FROM edit WHERE kind = 'undo' AND key IS NOT NULL")).toHaveLength(1);
  });

  test('a pad that an older version removed comes back, without the fields that it did not know', async () => {
    const client = new Client(server.address, 'browser-older');
    const pad = { kitId: 'kit-older-0001', position: 4, name: 'Old', family: null, ...PAD_INITIAL };
    await client.edit('made', [
      { op: 'create', doc: 'kit', id: pad.kitId, value: { name: 'Older' } },
      { op: 'create', doc: 'pad', id: 'pad-older-0001', value: pad },
    ]);
    await client.edit('emptied', [{ op: 'remove', doc: 'pad', id: 'pad-older-0001', rev: 1 }]);
    const db = new Database(server.workspace);
    const unknown = Object.keys(PAD_PARAMETERS).map((key) => `'$.${key}'`);
    db.exec(`UPDATE change SET before = json_remove(before, ${unknown}) WHERE doc_id = 'pad-older-0001'`);
    db.close();
    await client.step('undo');
    const view = (await (await fetch(`${server.address}/api/kits/${pad.kitId}`)).json()) as KitView;
    expect(view.pads).toMatchObject([{ name: 'Old', ...PAD_INITIAL }]);
  });

  test('a ninth layer on a pad is refused, and said why', async () => {
    const client = new Client(server.address, 'browser-one');
    const [recording] = await client.recordings();
    const place = { recordingId: recording?.id, startFrame: 0, endFrame: 500, sliceId: null };
    const layer = (n: number) =>
      ({
        op: 'create',
        doc: 'layer',
        id: `layer-ninth-${n}`,
        value: { padId: 'pad-ninth-001', hitId: 'hit-ninth-001', position: n },
      }) as const;
    await client.edit('eight', [
      { op: 'create', doc: 'kit', id: 'kit-ninth-001', value: { name: 'Eight' } },
      { op: 'create', doc: 'hit', id: 'hit-ninth-001', value: { name: 'x', family: null, ...place } },
      {
        op: 'create',
        doc: 'pad',
        id: 'pad-ninth-001',
        value: { kitId: 'kit-ninth-001', position: 0, name: 'x', family: null },
      },
      ...Array.from({ length: 8 }, (_, n) => layer(n)),
    ]);
    await expect(client.edit('nine', [layer(8)])).rejects.toThrow('A pad plays up to 8 sounds at once');
  });

  test('a kit takes no name that another has, and the free one is told', async () => {
    const client = new Client(server.address, 'browser-one');
    await client.edit('made', [{ op: 'create', doc: 'kit', id: 'kit-name-0001', value: { name: 'Weir' } }]);
    const same = client.edit('made', [{ op: 'create', doc: 'kit', id: 'kit-name-0002', value: { name: 'weir' } }]);
    await expect(same).rejects.toThrow('There is a kit named "weir" already. "weir 2" is free.');
  });

  test('other takes go with their pad, come back with it, and change places with what it plays', async () => {
    const client = new Client(server.address, 'browser-takes');
    // A layered one would bring those it is made of along.
    const [first, second] = ask<{ id: string }>(
      'SELECT id FROM hit WHERE id NOT IN (SELECT layered_id FROM member) ORDER BY id LIMIT 2',
    );
    if (!first || !second) throw new Error('The demo has no hits.');
    const pad = { kitId: 'kit-takes-001', position: 0, name: 'Thud', family: null, ...PAD_INITIAL };
    const place = { padId: 'pad-takes-001', position: 0 };
    await client.edit('made', [
      { op: 'create', doc: 'kit', id: pad.kitId, value: { name: 'Takes' } },
      { op: 'create', doc: 'pad', id: place.padId, value: pad },
      { op: 'create', doc: 'layer', id: 'layer-takes-1', value: { ...place, hitId: first.id, ...LAYER_INITIAL } },
      { op: 'create', doc: 'variation', id: 'take-takes-01', value: { ...place, hitId: second.id } },
    ]);
    const view = async () => (await (await fetch(`${server.address}/api/kits/${pad.kitId}`)).json()) as KitView;
    const made = await view();
    expect(made.variations.map((v) => v.hitId)).toEqual([second.id]);
    expect(made.hits.map((h) => h.id).sort()).toEqual([first.id, second.id].sort());
    await client.edit('took another take', [
      {
        op: 'update',
        doc: 'layer',
        id: 'layer-takes-1',
        rev: client.rev('layer', 'layer-takes-1'),
        set: { hitId: second.id },
      },
      {
        op: 'update',
        doc: 'variation',
        id: 'take-takes-01',
        rev: client.rev('variation', 'take-takes-01'),
        set: { hitId: first.id },
      },
    ]);
    const swapped = await view();
    expect([swapped.layers[0]?.hitId, swapped.variations[0]?.hitId]).toEqual([second.id, first.id]);
    await client.edit('emptied', [{ op: 'remove', doc: 'pad', id: place.padId, rev: client.rev('pad', place.padId) }]);
    expect(await view()).toMatchObject({ pads: [], layers: [], variations: [], hits: [] });
    await client.step('undo');
    expect((await view()).variations.map((v) => v.hitId)).toEqual([first.id]);
    const nowhere = { ...place, hitId: 'no-such-hit-01' };
    const lost = client.edit('lost', [{ op: 'create', doc: 'variation', id: 'take-takes-02', value: nowhere }]);
    await expect(lost).rejects.toThrow(/names what is not there/);
  });
});
