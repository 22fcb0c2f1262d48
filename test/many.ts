import { writeWav } from '../src/core/format/wav';
import { type Db, openWorkspace } from '../src/server/db/open';
import { importBytes } from '../src/server/importing/intake';
import { plainImport } from '../src/server/importing/options';

const PLACES = ['attic', 'stone floor', 'sack floor', 'wheel pit', 'yard'];
const THINGS = ['barrel', 'gate', 'chain', 'sieve', 'plank', 'churn', 'bucket', 'lantern'];

/** Fills a workspace with many short recordings, each unlike the others, as if they had been listened to. */
export async function manyRecordings(path: string, count: number): Promise<void> {
  const db = openWorkspace(path);
  for (let n = 0; n < count; n++) {
    const samples = Float32Array.from(
      { length: 12_000 + (n % 7) * 3000 },
      (_, i) => 0.9 * Math.sin(i * (0.02 + n / 9000)) * Math.exp(-i / (1500 + (n % 11) * 300)),
    );
    const name = `${THINGS[n % THINGS.length]} ${PLACES[n % PLACES.length]} ${n + 1}.wav`;
    const { recordingId } = await importBytes(
      db,
      plainImport(name),
      writeWav({ sampleRate: 44100, channels: [samples] }, 's16'),
    );
    const tags = JSON.stringify([PLACES[n % PLACES.length]]);
    db.prepare('UPDATE recording SET tags = ?, place = ? WHERE id = ?').run(tags, PLACES[(n * 3) % 5], recordingId);
    db.prepare("INSERT INTO analysis (recording_id, version, candidates) VALUES (?, 1, x'')").run(recordingId);
  }
  db.prepare('DELETE FROM job').run();
  db.close();
}

/** Rows of as many recordings, a hit of each, without sound: for lists. Every second name differs in its case. */
export function manyRows(db: Db, count: number): void {
  const recording = db.prepare(
    `INSERT INTO recording (id, title, state, file_name, encoding, valid_bits, sample_rate, channel_count, frames, arrived_at)
     VALUES (?, ?, 'ready', 'a.wav', 's16', 16, 44100, 1, 1000, ?)`,
  );
  const hit = db.prepare('INSERT INTO hit (id, name, recording_id, start_frame, end_frame) VALUES (?, ?, ?, 0, 9)');
  db.transaction(() => {
    for (let i = 0; i < count; i++) {
      const n = String(i).padStart(6, '0');
      // Two of them arrive at a time.
      recording.run(`rec-${n}-x`, `Recording ${n}`, 1000 + (i >> 1));
      hit.run(`hit-${n}-x`, `${i % 2 ? 'kick' : 'Kick'} ${n}`, `rec-${n}-x`);
    }
  })();
}
