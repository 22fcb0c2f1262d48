import { writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { strokesOf } from '@/core/groove/edits';
import { grooveFromRhythm } from '@/core/groove/from-rhythm';
import { grooveToMidi } from '@/core/groove/midi';
import { secondsOf } from '@/core/groove/time';
import { titleFromFileName } from '@/core/naming/names';
import { wantedRegions } from '@/core/onset/resplit';
import { SPLIT_INITIAL } from '@/core/onset/split';
import { rounded } from './figures';
import { eachFile, loadMono } from './files';
import { listenedTo } from './hearing';
import { Listeners } from './listen';

/** Writes the rhythm of a loop as a MIDI file of roles, and tells it. */
export async function runGroove(
  file: string,
  { out, json }: { readonly out?: string; readonly json: boolean },
): Promise<void> {
  const listeners = new Listeners();
  try {
    await eachFile([file], async () => {
      const loaded = await loadMono(file);
      const { frames, sampleRate } = loaded;
      const candidates = await listeners.detect(loaded);
      const mono = new Float32Array(loaded.samples, 0, frames);
      const basis = { sampleRate, totalFrames: frames, candidates, levels: null, tempo: null, fileMarks: [] };
      const regions = wantedRegions(SPLIT_INITIAL, basis);
      const { hearing, rhythm } = listenedTo(mono, sampleRate, regions, candidates, SPLIT_INITIAL);
      const slices = new Map(regions.map(({ startFrame }, i) => [startFrame, hearing.slices[i]]));
      let made = 0;
      const whole = grooveFromRhythm(rhythm, hearing.shelves, titleFromFileName(basename(file)), () => `${made++}`, {
        sliceAt: (frame) => slices.get(frame),
      });
      if (!whole) throw new Error('No stroke is heard in it, so it has no rhythm.');
      const { groove, rows, notes } = whole;
      if (out !== undefined) writeFileSync(out, grooveToMidi(whole, 0));
      const first = Math.min(...notes.map(({ tick }) => tick));
      const heardAt = (rhythm.notes[0]?.frame ?? 0) / sampleRate - secondsOf(first, groove.bpm);
      const byId = new Map(rows.map((row) => [row.id, row]));
      const told = notes
        .flatMap((note) => {
          const row = byId.get(note.rowId);
          return strokesOf(note).map(({ after, velocity }) => ({
            seconds: heardAt + secondsOf(note.tick + after, groove.bpm),
            note: row?.note ?? 0,
            velocity,
            role: row?.family ?? null,
          }));
        })
        .sort((a, b) => a.seconds - b.seconds || a.note - b.note)
        .map((stroke) => ({ ...stroke, seconds: rounded(stroke.seconds) }));
      const { beats } = groove.meters[0] as (typeof groove.meters)[number];
      if (json) process.stdout.write(`${JSON.stringify({ file, bpm: groove.bpm, beatsPerBar: beats, notes: told })}\n`);
      else
        process.stdout.write(
          `${file}\t${groove.bpm.toFixed(2)} BPM, ${groove.bars} bars of ${beats} beats, ${told.length} strokes of ${rows.length} drums\n`,
        );
    });
  } finally {
    await listeners.close();
  }
}
