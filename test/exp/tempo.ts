import { readFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import Database from 'better-sqlite3';
import { detectOnsets } from '../../src/core/onset/detect';
import { selectOnsets } from '../../src/core/onset/select';
import { estimateTempo } from '../../src/core/onset/tempo';
import { unpackCandidates } from '../../src/server/analysis/analyse';
import { TUNING } from '../accuracy/fonts';
import { makeItems } from '../accuracy/items';
import { pattern } from '../accuracy/patterns';

const db = new Database('/tmp/w4demo.db', { readonly: true });
for (const r of db
  .prepare(
    'SELECT r.title, r.frames, r.sample_rate AS rate, a.candidates FROM recording r JOIN analysis a ON a.recording_id = r.id WHERE r.frames > 100000',
  )
  .all() as any[]) {
  const s = selectOnsets(unpackCandidates(r.candidates), {}, r.rate);
  const t = estimateTempo(s, r.rate, r.frames);
  console.log(r.title, t?.bpm, t?.confidence.toFixed(2), ((t?.beatFrame ?? 0) / r.rate).toFixed(3));
}
const items = makeItems(TUNING, [1, 2, 3], join(tmpdir(), 'undercroft-tuning')).filter(
  (i) => i.group !== 'field takes' && i.name.startsWith('tim'),
);
let exact = 0,
  octave = 0;
for (const item of items) {
  const seed = Number(item.name.split(' ').at(-1));
  const { bpm } = pattern(item.group, seed);
  const t = estimateTempo(
    selectOnsets(detectOnsets(item.samples, item.sampleRate), {}, item.sampleRate),
    item.sampleRate,
    item.samples.length,
  );
  const ratio = (t?.bpm ?? 0) / bpm;
  if (Math.abs(ratio - 1) < 0.02) exact++;
  if ([0.5, 1, 2].some((o) => Math.abs(ratio / o - 1) < 0.02)) octave++;
  else console.log('wrong', item.name, bpm, t?.bpm);
}
console.log('exact', exact, 'with octaves', octave, 'of', items.length);
