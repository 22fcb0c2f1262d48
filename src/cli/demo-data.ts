import { randomUUID } from 'node:crypto';
import { linkSync, mkdirSync, readdirSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { basename, dirname, join } from 'node:path';
import type { Change } from '@/contract/edits';
import { createdGroove } from '@/contract/groove-changes';
import { FAMILIES, type Family } from '@/core/family';
import { writeWav } from '@/core/format/wav';
import { STARTERS, starterGroove } from '@/core/groove/starters';
import { LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { MEMBER_INITIAL, OUT_DB } from '@/core/layering/parameters';
import type { Recording } from '@/core/recording/model';
import { demoOneShots, waxCylinder } from '@/demo/archive';
import { type DemoRecording, demoRecordings } from '@/demo/scenario';
import { VOICE_FAMILY, type VoiceName } from '@/demo/voices';
import { analyseRecording } from '@/server/analysis/analyse';
import { type Db, openWorkspace } from '@/server/db/open';
import { commitEdit } from '@/server/history/commit';
import { select } from '@/server/history/tables';
import { importBytes } from '@/server/importing/intake';
import { type ImportOptions, plainImport } from '@/server/importing/options';
import { claimJob, settleJob } from '@/server/jobs/lease';
import { cutView } from '@/server/views/recordings';

const BROWSER = 'demo-scenario';
const OWNER = 'Millrace Radio Theatre';

const MAKING = '.making-';

/**
 * Makes the workspace of the demo scenario at `path`, completely or not at all, with the true onsets beside it. Several
 * processes may do so at once: the first to finish wins.
 */
export async function makeDemoWorkspace(path: string): Promise<void> {
  mkdirSync(join(dirname(path), 'demo-truth'), { recursive: true });
  sweepMaking(path);
  const folder = `${path}${MAKING}${process.pid}`;
  rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder);
  const making = join(folder, basename(path));
  const db = openWorkspace(making);
  const recordings = demoRecordings();
  const ids: string[] = [];
  for (const recording of recordings) ids.push(await importDemo(db, recording));
  for (const recording of recordings) {
    const file = join(dirname(path), 'demo-truth', `${recording.fileName.replace('.wav', '')}.json`);
    writeFileSync(file, JSON.stringify({ sampleRate: recording.audio.sampleRate, onsets: recording.truth }, null, 1));
  }
  await importArchive(db);
  for (const n of [0, 1]) nameSlices(db, recordings[n] as DemoRecording, ids[n] as string);
  makeMillstone(db, recordings, ids);
  makeKickStone(db);
  makeNightWatch(db);
  db.pragma('wal_checkpoint(TRUNCATE)');
  db.close();
  layDown(making, path);
  rmSync(folder, { recursive: true });
}

/** Moves a file to its place, unless one is there, which may be in use: unlike a rename, a link fails then. */
function layDown(file: string, path: string): void {
  try {
    linkSync(file, path);
  } catch (error) {
    // Some disks do not support links.
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') renameSync(file, path);
  }
}

/** Deletes leftovers of processes that ended before they finished. */
function sweepMaking(path: string): void {
  for (const name of readdirSync(dirname(path))) {
    if (!name.startsWith(basename(path) + MAKING)) continue;
    if (!runs(Number(name.slice(basename(path).length + MAKING.length))))
      rmSync(join(dirname(path), name), { recursive: true, force: true });
  }
}

function runs(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code !== 'ESRCH';
  }
}

async function importDemo(db: Db, recording: DemoRecording): Promise<string> {
  const file = writeWav(recording.audio, recording.encoding);
  const { recordingId } = await importBytes(db, plainImport(recording.fileName), file);
  listen(db, recordingId);
  const { title, notes } = recording;
  tell(db, recordingId, { title, notes, rightsKind: 'own', rightsOwner: OWNER, ...STORY[title] });
  return recordingId;
}

const STORY: Readonly<Record<string, Partial<Recording>>> = {
  'Sluice loop': { what: 'loop', place: 'Stone floor', madeOn: '4 March', tempoBpm: 94, tags: ['dry', 'drummer'] },
  'Headrace loop': { what: 'loop', place: 'Stone floor', madeOn: '4 March', tempoBpm: 168, tags: ['busy', 'drummer'] },
  'Sack-floor takes': { what: 'take', place: 'Sack floor', madeOn: '11 March', tags: ['props'] },
  "Lock-keeper's waltz": { what: 'song', place: 'Stone floor', madeOn: 'Spring', tempoBpm: 116, tags: ['band'] },
  'Fairground drummer': { what: 'loop', place: 'Fairground', tempoBpm: 112, tags: ['clockwork'] },
};

/** Analyses what has been imported, as the server does in the background. */
function listen(db: Db, recordingId: string): void {
  const job = claimJob(db);
  analyseRecording(db, recordingId, () => {});
  if (job) settleJob(db, job, null);
}

function tell(db: Db, recordingId: string, set: Partial<Recording>): void {
  const { rev, title } = cutView(db, recordingId).recording;
  const label = `told the story of ${set.title ?? title}`;
  commitEdit(db, {
    browser: BROWSER,
    label,
    changes: [{ op: 'update', doc: 'recording', id: recordingId, rev, set }],
  });
}

/** The prop shelf's ready sounds, which become hits, and an old cylinder that nobody knows the owner of. */
async function importArchive(db: Db): Promise<void> {
  for (const { fileName, audio } of demoOneShots()) {
    const options: ImportOptions = { fileName, path: '', takeAs: 'hit', prepare: ['ends'] };
    const { recordingId } = await importBytes(db, options, writeWav(audio, 's24'));
    listen(db, recordingId);
    tell(db, recordingId, { place: 'Prop shelf', tags: ['props'], rightsKind: 'own', rightsOwner: OWNER });
  }
  const { recordingId } = await importBytes(db, plainImport('wax-cylinder.wav'), writeWav(waxCylinder().audio, 's16'));
  listen(db, recordingId);
  tell(db, recordingId, {
    title: 'Wax cylinder',
    what: 'song',
    place: 'Attic',
    notes: 'A worn cylinder of the fairground organ, with clicks. Whose it is, nobody knows.',
    tags: ['worn'],
    tempoBpm: 112,
  });
}

/** The loops' slices bear their families, as the troupe has named them by ear; a slice no strike begins is left unnamed. */
function nameSlices(db: Db, recording: DemoRecording, recordingId: string): void {
  const near = 0.02 * recording.audio.sampleRate;
  const changes = cutView(db, recordingId).slices.flatMap(({ id, rev, startFrame }): Change[] => {
    const strikes = recording.truth.filter((t) => Math.abs(t.frame - startFrame) < near);
    if (strikes.length === 0) return [];
    // Where several are struck at once, the lowest drum is what the slice will be used for.
    const order = (t: { family: string }) => FAMILIES.indexOf(t.family as Family);
    const { family } = strikes.reduce((a, b) => (order(b) < order(a) ? b : a));
    return [{ op: 'update', doc: 'slice', id, rev, set: { family } }];
  });
  commitEdit(db, { browser: BROWSER, label: `named the slices of ${recording.title}`, changes });
}

/** A pad of the ready-made kit: its place, its name, and the sounds that lie on it. */
interface Wanted {
  readonly position: number;
  readonly name: string;
  readonly sounds: readonly {
    readonly recording: number;
    readonly voice: VoiceName;
    readonly levelDb?: number;
    readonly semitones?: number;
  }[];
  readonly chokeGroup?: number;
  readonly pan?: number;
  readonly levelDb?: number;
}

const MILLSTONE: readonly Wanted[] = [
  { position: 0, name: 'Kick Sluice 01', sounds: [{ recording: 0, voice: 'kick' }] },
  {
    position: 1,
    name: 'Kick layered',
    sounds: [
      { recording: 0, voice: 'kick', levelDb: -2 },
      { recording: 2, voice: 'thud', levelDb: -6, semitones: -3 },
    ],
  },
  { position: 2, name: 'Tom Headrace 01', sounds: [{ recording: 1, voice: 'low tom' }], pan: -0.2 },
  { position: 3, name: 'Tom Sluice 01', sounds: [{ recording: 0, voice: 'high tom' }], pan: 0.15 },
  { position: 8, name: 'Snare Sluice 01', sounds: [{ recording: 0, voice: 'snare' }] },
  { position: 9, name: 'Snare Headrace 01', sounds: [{ recording: 1, voice: 'tight snare' }] },
  { position: 11, name: 'Clap Fairground 01', sounds: [{ recording: 4, voice: 'clap' }], levelDb: -3 },
  {
    position: 16,
    name: 'Closed hat Sluice 01',
    sounds: [{ recording: 0, voice: 'closed hat' }],
    chokeGroup: 1,
    levelDb: -4,
  },
  {
    position: 18,
    name: 'Open hat Sluice 01',
    sounds: [{ recording: 0, voice: 'open hat' }],
    chokeGroup: 1,
    levelDb: -4,
  },
  { position: 24, name: 'Chain Sack floor 01', sounds: [{ recording: 2, voice: 'chain' }] },
  { position: 25, name: 'Clank Sack floor 01', sounds: [{ recording: 2, voice: 'clank' }] },
];

function makeMillstone(db: Db, recordings: readonly DemoRecording[], ids: readonly string[]): void {
  const kitId = randomUUID();
  const changes: Change[] = [{ op: 'create', doc: 'kit', id: kitId, value: { name: 'Millstone' } }];
  for (const wanted of MILLSTONE) {
    const padId = randomUUID();
    const first = wanted.sounds[0] as Wanted['sounds'][number];
    const family = VOICE_FAMILY[first.voice] as Family;
    const { position, name, chokeGroup = 0, pan = 0, levelDb = 0 } = wanted;
    changes.push({
      op: 'create',
      doc: 'pad',
      id: padId,
      value: { kitId, position, name, family, ...PAD_INITIAL, chokeGroup, pan, levelDb },
    });
    for (const [i, sound] of wanted.sounds.entries()) {
      const hitId = randomUUID();
      const recordingId = ids[sound.recording] as string;
      const slice = loudest(db, recordings[sound.recording] as DemoRecording, recordingId, sound.voice);
      const source = { recordingId, startFrame: slice.startFrame, endFrame: slice.endFrame, sliceId: slice.id };
      changes.push({
        op: 'create',
        doc: 'hit',
        id: hitId,
        value: {
          name: i === 0 ? name : `${sound.voice.charAt(0).toUpperCase()}${sound.voice.slice(1)} under ${name}`,
          family: VOICE_FAMILY[sound.voice],
          ...source,
        },
      });
      const mix = { ...LAYER_INITIAL, levelDb: sound.levelDb ?? 0, semitones: sound.semitones ?? 0 };
      changes.push({ op: 'create', doc: 'layer', id: randomUUID(), value: { padId, hitId, position: i, ...mix } });
    }
  }
  commitEdit(db, { browser: BROWSER, label: 'made the kit Millstone', changes });
}

/** A kick out of three sounds: one gives the click and the middle, one the sub, one the air. */
const KICK_STONE = [
  { hit: 'Kick barrel 2', bandsDb: [OUT_DB, 0, -9], levelDb: -5 },
  { hit: 'Thud under Kick layered', bandsDb: [0, OUT_DB, OUT_DB], levelDb: -3, semitones: -2 },
  { hit: 'Clap Fairground 01', bandsDb: [OUT_DB, OUT_DB, 0], levelDb: -14 },
] as const;

function makeKickStone(db: Db): void {
  const [first, ...others] = KICK_STONE.map(({ hit }) => select(db, 'hit', 'WHERE name = ?', hit)[0]);
  if (!first || others.some((other) => !other)) return;
  const { recordingId, startFrame, endFrame, family } = first;
  const layeredId = randomUUID();
  const place = { recordingId, startFrame, endFrame, sliceId: null };
  const changes: Change[] = [
    { op: 'create', doc: 'hit', id: layeredId, value: { name: 'Kick stone', family, edgesHz: [120, 3000], ...place } },
    ...[first, ...others].map((hit, position): Change => {
      const { hit: _name, ...values } = KICK_STONE[position] as (typeof KICK_STONE)[number];
      const value = { ...MEMBER_INITIAL, layeredId, hitId: hit?.id, position, ...values };
      return { op: 'create', doc: 'member', id: randomUUID(), value };
    }),
  ];
  commitEdit(db, { browser: BROWSER, label: 'layered the kick stone', changes });
}

function makeNightWatch(db: Db): void {
  const [starter] = STARTERS;
  if (!starter) return;
  const { changes } = createdGroove(starterGroove(starter, randomUUID), randomUUID);
  commitEdit(db, { browser: BROWSER, label: `made the groove ${starter.name}`, changes });
}

/** The found slice that starts nearest the barest loud strike of a voice: nothing else is struck within 30 ms of it. */
function loudest(db: Db, recording: DemoRecording, recordingId: string, voice: VoiceName) {
  const near = 0.03 * recording.audio.sampleRate;
  const alone = recording.truth.filter(
    (t) => t.voice === voice && recording.truth.every((o) => o === t || Math.abs(o.frame - t.frame) > near),
  );
  const candidates = alone.length > 0 ? alone : recording.truth.filter((t) => t.voice === voice);
  const best = candidates.reduce((a, b) => (b.level > a.level ? b : a));
  const { slices } = cutView(db, recordingId);
  return slices.reduce((a, b) => (Math.abs(b.startFrame - best.frame) < Math.abs(a.startFrame - best.frame) ? b : a));
}
