import type { Change, EditAnswer } from '../../src/contract/edits';
import { wavHeader } from '../../src/core/format/wav';
import { HIT_INITIAL } from '../../src/core/hit/initial';
import { seededRandom } from '../../src/core/signal/random';
import { type Answer, Client, errorOf } from '../server/client';

/** What the server has acknowledged to one client, and so must hold whatever happens. */
export interface Acknowledged {
  readonly kits: Map<string, string>;
  readonly hits: Map<string, { name: string; recordingId: string }>;
  readonly recordings: Set<string>;
  /** Keys of edits and undos that were answered. */
  readonly keys: Set<string>;
}

export interface Counts {
  edits: number;
  undos: number;
  imports: number;
  removals: number;
  exports: number;
  refused: number;
  /** Requests sent again because their answer was lost. */
  resent: number;
}

/** A file of noise like no other, made in a moment: who measures must not be busy. */
function noiseFile(frames: number, seed: number): Uint8Array {
  const samples = new Int16Array(frames);
  // A linear congruential generator (Numerical Recipes, 7.1).
  let state = seed;
  for (let i = 0; i < frames; i++) {
    state = (Math.imul(state, 1664525) + 1013904223) | 0;
    samples[i] = state >> 17;
  }
  const header = wavHeader({ encoding: 's16', sampleRate: 22050, channelCount: 1 }, frames);
  return Buffer.concat([header, new Uint8Array(samples.buffer)]);
}

/** A person pauses between two things at least so long. */
const PAUSE_MS = 10;

/** How a client finds the server, which moves when it is killed and started again. */
export interface Door {
  address(): Promise<string>;
}

interface Done {
  readonly label: string;
  readonly changes: readonly Change[];
  /** Takes it back in what is expected. */
  readonly back: () => void;
  undone: boolean;
}

/**
 * One client of a soak: does seeded, mixed things one after another, sends each until it is answered - edits under a key, as the page
 * does -, and keeps what was acknowledged.
 */
export class Lane {
  readonly acknowledged: Acknowledged = { kits: new Map(), hits: new Map(), recordings: new Set(), keys: new Set() };
  readonly counts: Counts = { edits: 0, undos: 0, imports: 0, removals: 0, exports: 0, refused: 0, resent: 0 };
  /** How long edits took that were answered at the first time of asking, with when they were. */
  readonly latencies: { readonly at: number; readonly ms: number }[] = [];
  readonly faults: string[] = [];
  private readonly random: () => number;
  private readonly done: Done[] = [];
  private readonly revs = new Map<string, number>();
  private made = 0;

  constructor(
    private readonly door: Door,
    private readonly name: string,
    seed: number,
    private readonly isOver: () => boolean,
  ) {
    this.random = seededRandom(seed);
  }

  async run(): Promise<void> {
    while (!this.isOver()) {
      const dice = this.random();
      if (dice < 0.45) await this.edit();
      else if (dice < 0.6) await this.undo();
      else if (dice < 0.82) await this.import();
      else if (dice < 0.92) await this.remove();
      else await this.export();
      await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
    }
  }

  private below(n: number): number {
    return Math.floor(this.random() * n);
  }

  private one<T>(list: Iterable<T>): T | undefined {
    const all = [...list];
    return all[this.below(all.length)];
  }

  private newId(kind: string): string {
    return `${kind}-${this.name}-${String(++this.made).padStart(6, '0')}`;
  }

  /** Sends a request until it is answered. */
  private async answered(send: (client: Client) => Promise<Answer>): Promise<Answer & { tries: number; ms: number }> {
    for (let tries = 1; ; tries++) {
      try {
        const client = new Client(await this.door.address());
        const at = performance.now();
        const answer = await send(client);
        // Broken off, or a disk that is full: to be sent again.
        if (answer.status !== 503) return { ...answer, tries, ms: performance.now() - at };
      } catch {
        // The server was killed in the middle.
      }
      this.counts.resent++;
      await new Promise((resolve) => setTimeout(resolve, 30));
    }
  }

  private async edit(): Promise<void> {
    const { kits, hits, recordings, keys } = this.acknowledged;
    const label = `${this.name} ${this.done.length}`;
    let changes: Change[] = [];
    let forth = () => {};
    let back = () => {};
    const dice = this.random();
    const kit = this.one(kits);
    const recordingId = this.one(recordings);
    if (dice < 0.3 && kit) {
      const [id, before] = kit;
      const name = `${this.name} kit ${++this.made}`;
      changes = [{ op: 'update', doc: 'kit', id, rev: this.revs.get(id) ?? 1, set: { name } }];
      forth = () => void kits.set(id, name);
      back = () => void kits.set(id, before);
    } else if (dice < 0.4 && kit) {
      const [id, name] = kit;
      changes = [{ op: 'remove', doc: 'kit', id, rev: this.revs.get(id) ?? 1 }];
      forth = () => void kits.delete(id);
      back = () => void kits.set(id, name);
    } else if (dice < 0.6 && recordingId !== undefined) {
      const id = this.newId('hit');
      const value = {
        ...HIT_INITIAL,
        name: id,
        family: null,
        recordingId,
        startFrame: 0,
        endFrame: 50,
        sliceId: null,
      };
      changes = [{ op: 'create', doc: 'hit', id, value }];
      forth = () => void hits.set(id, { name: id, recordingId });
      back = () => void hits.delete(id);
    } else if (dice < 0.7 && hits.size > 0) {
      const [id, value] = this.one(hits) as [string, { name: string; recordingId: string }];
      changes = [{ op: 'remove', doc: 'hit', id, rev: this.revs.get(id) ?? 1 }];
      forth = () => void hits.delete(id);
      back = () => void hits.set(id, value);
    } else {
      const id = this.newId('kit');
      const name = `${this.name} kit ${++this.made}`;
      changes = [{ op: 'create', doc: 'kit', id, value: { name } }];
      forth = () => void kits.set(id, name);
      back = () => void kits.delete(id);
    }
    const key = this.newId('key');
    const body = { browser: `browser-${this.name}`, key, label, changes };
    const { status, body: answer, tries, ms } = await this.answered((client) => client.post('/api/edits', body));
    if (status !== 200) {
      this.refused('edit', answer);
      return;
    }
    this.counts.edits++;
    if (tries === 1) this.latencies.push({ at: performance.now(), ms });
    keys.add(key);
    this.note(answer as EditAnswer);
    forth();
    this.done.push({ label, changes, back, undone: false });
  }

  private async undo(): Promise<void> {
    const key = this.newId('key');
    const body = { browser: `browser-${this.name}`, key, direction: 'undo' };
    const { status, body: answer } = await this.answered((client) => client.post('/api/history', body));
    if (status !== 200) {
      this.refused('undo', answer);
      return;
    }
    this.counts.undos++;
    this.acknowledged.keys.add(key);
    const { label } = answer as EditAnswer;
    this.note(answer as EditAnswer);
    const done = this.done.findLast((d) => d.label === label);
    if (!done || done.undone) this.faults.push(`undone twice, or never done: ${label}`);
    else {
      done.undone = true;
      done.back();
    }
  }

  private async import(): Promise<void> {
    // Most are small; some are as long as a song.
    const seconds = this.random() < 0.06 ? 60 : 0.05 + this.random();
    const file = noiseFile(Math.round(seconds * 22050), this.below(2 ** 30));
    const name = `${this.name} ${++this.made}.wav`;
    const { status, body } = await this.answered((client) => client.importBytes(name, file));
    if (status !== 200) {
      this.refused('import', body);
      return;
    }
    this.counts.imports++;
    this.acknowledged.recordings.add((body as { recordingId: string }).recordingId);
  }

  /** Into the bin, then for good: refused while a hit is made of it. */
  private async remove(): Promise<void> {
    const { recordings, hits } = this.acknowledged;
    const id = this.one(recordings);
    if (id === undefined) return;
    const needed = [...hits.values()].some((hit) => hit.recordingId === id);
    const { status: found, body: view } = await this.answered((client) =>
      client.ask('GET', `/api/recordings/${id}/cut`),
    );
    const row = (view as { recording: { rev: number; binnedAt: number | null } }).recording;
    if (found !== 200) {
      this.faults.push(`the recording ${id} was acknowledged and is gone`);
      recordings.delete(id);
      return;
    }
    if (row.binnedAt === null) {
      const key = this.newId('key');
      const change = { op: 'update', doc: 'recording', id, rev: row.rev, set: { binnedAt: 1 } };
      const body = { browser: `bin-${this.name}-01`, key, label: 'bin', changes: [change] };
      const { status, body: answer } = await this.answered((client) => client.post('/api/edits', body));
      if (status !== 200) {
        this.refused('bin', answer);
        return;
      }
      this.acknowledged.keys.add(key);
    }
    const { status, body, tries } = await this.answered((client) => client.ask('DELETE', `/api/recordings/${id}`));
    const gone = status === 200 || (status === 404 && tries > 1);
    if (gone && needed) this.faults.push(`the recording ${id} was removed while a hit was made of it`);
    if (gone) {
      this.counts.removals++;
      recordings.delete(id);
    } else if (!needed) this.refused('removal', body);
  }

  private async export(): Promise<void> {
    const kit = this.one(this.acknowledged.kits);
    if (!kit) return;
    try {
      const answer = await fetch(`${await this.door.address()}/api/kits/${kit[0]}/export?for=self`);
      const bytes = new Uint8Array(await answer.arrayBuffer());
      if (answer.status !== 200) throw new Error(`${answer.status}`);
      // The end of central directory record, which only a whole zip has (PKWARE APPNOTE 4.3.16).
      if ([...bytes.subarray(-22, -18)].join() !== '80,75,5,6')
        this.faults.push(`an export of ${kit[0]} was not whole`);
      this.counts.exports++;
    } catch {
      // Killed in the middle: a download is asked for again by who wants it.
    }
  }

  private note({ touched }: EditAnswer): void {
    for (const { id, rev } of touched) if (rev !== null) this.revs.set(id, rev);
  }

  /** A refusal must be in words, and nothing of it be done; a revision that was missed is seen by the next look. */
  private refused(what: string, body: unknown): void {
    this.counts.refused++;
    const { code, message } = errorOf(body);
    if (code === 'internal') this.faults.push(`${what}: ${message}`);
  }
}
