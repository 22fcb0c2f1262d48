import { rmSync } from 'node:fs';
import Database from 'better-sqlite3';
import { type Audio, frameCount, peakOf } from '@/core/signal/audio';
import { type Db, fileAt } from '../db/open';

/** Facts about a render besides its samples. */
export interface StoredRender {
  readonly id: number;
  readonly sampleRate: number;
  readonly channelCount: number;
  readonly frames: number;
  /** Largest absolute sample. */
  readonly loudest: number;
}

const BLOCK_FRAMES = 65536;
/** Most bytes that all renders may take on the disk. */
const MOST_BYTES = 512 * 1024 * 1024;
/** The time of last use is written at most once in this time. */
const NOTED_MS = 60_000;

const SCHEMA = `
  CREATE TABLE IF NOT EXISTS render (
    id INTEGER PRIMARY KEY, key TEXT NOT NULL UNIQUE, sample_rate INTEGER NOT NULL, channel_count INTEGER NOT NULL,
    frames INTEGER NOT NULL, loudest REAL NOT NULL, bytes INTEGER NOT NULL, used_at INTEGER NOT NULL
  );
  CREATE INDEX IF NOT EXISTS render_by_use ON render (used_at);
  -- Samples of single precision, channels interleaved.
  CREATE TABLE IF NOT EXISTS block (
    render_id INTEGER NOT NULL REFERENCES render (id) ON DELETE CASCADE, ordinal INTEGER NOT NULL, data BLOB NOT NULL,
    PRIMARY KEY (render_id, ordinal)
  ) WITHOUT ROWID`;

/**
 * Rendered hits, in a file of their own beside the workspace. All of it can be rendered again: the file may be deleted
 * at any time, a damaged one is recreated, and the least recently used renders are evicted.
 */
export class RenderStore {
  private db: Db;
  private file: string;

  constructor(
    private readonly path: string,
    private readonly mostBytes = MOST_BYTES,
  ) {
    this.db = this.open();
    this.file = fileAt(path);
  }

  /** Path of a workspace's renders. */
  static of(workspace: string): RenderStore {
    return new RenderStore(`${workspace}-renders`);
  }

  find(key: string): StoredRender | null {
    return this.guarded(() => {
      const found = this.db
        .prepare(
          `SELECT id, sample_rate AS sampleRate, channel_count AS channelCount, frames, loudest, used_at AS usedAt
           FROM render WHERE key = ?`,
        )
        .get(key) as (StoredRender & { usedAt: number }) | undefined;
      if (!found) return null;
      const now = Date.now();
      if (now - found.usedAt > NOTED_MS)
        this.db.prepare('UPDATE render SET used_at = ? WHERE id = ?').run(now, found.id);
      return found;
    }, null);
  }

  /** Frames [from, to) of a render; null where it was evicted. */
  read({ id, sampleRate, channelCount }: StoredRender, from: number, to: number): Audio | null {
    return this.guarded(() => {
      const channels = Array.from({ length: channelCount }, () => new Float32Array(Math.max(0, to - from)));
      let there = 0;
      const rows = this.db
        .prepare('SELECT ordinal, data FROM block WHERE render_id = ? AND ordinal BETWEEN ? AND ? ORDER BY ordinal')
        .all(id, Math.floor(from / BLOCK_FRAMES), Math.floor((to - 1) / BLOCK_FRAMES)) as {
        ordinal: number;
        data: Buffer;
      }[];
      for (const { ordinal, data } of rows) {
        const block = new Float32Array(data.buffer.slice(data.byteOffset, data.byteOffset + data.byteLength));
        const first = ordinal * BLOCK_FRAMES;
        const [a, b] = [Math.max(from, first), Math.min(to, first + block.length / channelCount)];
        for (let frame = a; frame < b; frame++)
          for (let c = 0; c < channelCount; c++)
            (channels[c] as Float32Array)[frame - from] = block[(frame - first) * channelCount + c] as number;
        there += Math.max(0, b - a);
      }
      return there === Math.max(0, to - from) ? { sampleRate, channels } : null;
    }, null);
  }

  /** Stores a render unless it alone exceeds the limit; evicts the least recently used. */
  keep(key: string, audio: Audio): void {
    const frames = frameCount(audio);
    const { length: channelCount } = audio.channels;
    const bytes = 4 * frames * channelCount;
    if (bytes > this.mostBytes) return;
    this.guarded(() => {
      this.db.transaction(() => {
        this.db.prepare('DELETE FROM render WHERE key = ?').run(key);
        this.makeRoom(bytes);
        const { lastInsertRowid } = this.db
          .prepare(
            `INSERT INTO render (key, sample_rate, channel_count, frames, loudest, bytes, used_at) VALUES (?, ?, ?, ?, ?, ?, ?)`,
          )
          .run(key, audio.sampleRate, channelCount, frames, peakOf(audio.channels), bytes, Date.now());
        const insert = this.db.prepare('INSERT INTO block (render_id, ordinal, data) VALUES (?, ?, ?)');
        for (let at = 0; at < frames; at += BLOCK_FRAMES) {
          const count = Math.min(BLOCK_FRAMES, frames - at);
          const block = new Float32Array(count * channelCount);
          for (const [c, channel] of audio.channels.entries())
            for (let i = 0; i < count; i++) block[i * channelCount + c] = channel[at + i] as number;
          insert.run(lastInsertRowid, at / BLOCK_FRAMES, Buffer.from(block.buffer));
        }
      })();
    }, undefined);
  }

  close(): void {
    this.db.close();
  }

  private makeRoom(bytes: number): void {
    const { sum } = this.db.prepare('SELECT ifnull(sum(bytes), 0) AS sum FROM render').get() as { sum: number };
    let over = sum + bytes - this.mostBytes;
    if (over <= 0) return;
    const oldest = this.db.prepare('SELECT id, bytes FROM render ORDER BY used_at, id').all() as {
      id: number;
      bytes: number;
    }[];
    for (const render of oldest) {
      if (over <= 0) return;
      this.db.prepare('DELETE FROM render WHERE id = ?').run(render.id);
      over -= render.bytes;
    }
  }

  /** Runs `work` on the file; where that fails, the file is recreated and `without` is the result. */
  private guarded<T>(work: () => T, without: T): T {
    try {
      // A deleted file lives on without a name, where no other thread finds it.
      if (fileAt(this.path) !== this.file) this.reopen();
      return work();
    } catch (error) {
      // A lock is temporary, and a full disk is no damage.
      const { code } = error as { code?: string };
      if (code?.startsWith('SQLITE_BUSY') || code?.startsWith('SQLITE_FULL')) return without;
      if (!code?.startsWith('SQLITE')) throw error;
      if (code.startsWith('SQLITE_CORRUPT') || code.startsWith('SQLITE_NOTADB')) this.discard();
      this.reopen();
      return without;
    }
  }

  private reopen(): void {
    this.db.close();
    this.db = this.open();
    this.file = fileAt(this.path);
  }

  private open(): Db {
    try {
      return this.connect();
    } catch {
      try {
        this.discard();
        return this.connect();
      } catch {
        // A full or read-only disk: the workspace opens anyway, and renders are kept in memory for now.
        return this.connect(':memory:');
      }
    }
  }

  /** Deletes the file: nothing in it is worth repairing. */
  private discard(): void {
    for (const end of ['', '-wal', '-shm']) rmSync(this.path + end, { force: true });
  }

  private connect(path = this.path): Db {
    const db = new Database(path);
    try {
      db.pragma('busy_timeout = 2000');
      db.pragma('journal_mode = WAL');
      // A crash loses only what can be rendered again.
      db.pragma('synchronous = OFF');
      db.pragma('foreign_keys = ON');
      db.exec(SCHEMA);
      return db;
    } catch (error) {
      db.close();
      throw error;
    }
  }
}
