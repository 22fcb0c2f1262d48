import { randomUUID } from 'node:crypto';
import type { Change } from '@/contract/edits';
import type { BundleAnswer, ImportAnswer } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { KitFile } from '@/core/kit/kit-file';
import { noteOfPlace } from '@/core/kit/layout';
import { type OpenedBundle, openBundle, requireSamples } from '@/core/kit/open-bundle';
import { BUS_PARAMETERS, LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { freeName, LONGEST_NAME } from '@/core/naming/names';
import { initialValues } from '@/core/parameter/values';
import { combinedRights } from '@/core/rights/rights';
import type { Db } from '../db/open';
import { commitEdit } from '../history/commit';
import { prepared, select } from '../history/tables';

/** Takes a sound file into the workspace. */
type ImportSample = (fileName: string, bytes: Uint8Array) => Promise<ImportAnswer>;

/** What is printed into the WAV files: a pad that plays them has none of it again. */
const PRINTED = {
  ...{ fadeInMs: 0, fadeOutMs: 0, seamMs: 0, startMs: 0, endMs: 0, width: 1, semitones: 0, cents: 0 },
  ...{ normaliseDbfs: null, reversed: false, fit: 'own', loopBpm: null, cuts: [] },
} as const;

interface Sample {
  readonly recordingId: string;
  readonly frames: number;
  readonly sampleRate: number;
}

/**
 * Opens a bundle as a kit of the workspace: its samples become recordings with the rights that it tells, its pads play all
 * of each. Everything is read before anything is stored. The kit is one edit. Throws what `openBundle` throws.
 */
export async function importBundle(
  db: Db,
  importSample: ImportSample,
  zip: Uint8Array,
  by: { readonly browser: string; readonly tab: string },
): Promise<BundleAnswer & { readonly touched: ReturnType<typeof commitEdit>['touched'] }> {
  const bundle = openBundle(zip);
  requireSamples(bundle);
  const { samples, changes, known } = await importSamples(db, importSample, bundle);
  const { kitId, name, made } = kitChanges(db, bundle.file, samples);
  const { touched } = commitEdit(db, { ...by, label: `opened the bundle of ${name}`, changes: [...changes, ...made] });
  return { kitId, name, pads: bundle.file.pads.length, known, touched };
}

async function importSamples(db: Db, importSample: ImportSample, { file, samples }: OpenedBundle) {
  const found = new Map<string, Sample>();
  /** Paths of the samples of each recording that is new. */
  const fresh = new Map<string, string[]>();
  let known = 0;
  for (const [path, bytes] of samples) {
    const { recordingId, duplicate } = await importSample(path.slice('samples/'.length), bytes);
    const { frames, sampleRate } = prepared(
      db,
      'SELECT frames, sample_rate AS sampleRate FROM recording WHERE id = ?',
    ).get(recordingId) as { frames: number; sampleRate: number };
    found.set(path, { recordingId, frames, sampleRate });
    if (duplicate) {
      // One that came with this bundle a moment ago is no other's.
      const own = fresh.get(recordingId);
      if (own) own.push(path);
      else known++;
    } else fresh.set(recordingId, [path]);
  }
  const changes = [...fresh].flatMap(([id, paths]): Change[] => {
    const [recording] = select(db, 'recording', 'WHERE id = ?', id);
    const set = { what: 'one-shot', ...rightsOf(file, paths) };
    return recording ? [{ op: 'update', doc: 'recording', id, rev: recording.rev, set }] : [];
  });
  return { samples: found, changes, known };
}

/** The rights of a recording: of all that is heard on the pads that play any of its samples. */
function rightsOf({ pads, sources }: KitFile, paths: readonly string[]) {
  const heard = new Set(
    pads.flatMap((pad) => (pad.zones.some(({ sample }) => paths.includes(sample)) ? pad.sources : [])),
  );
  const origins = sources.filter((_, i) => heard.has(i));
  const rights = origins.map(({ owner, text, ...source }) => ({ ...source, rightsOwner: owner, rightsText: text }));
  return origins.length === 0 ? {} : { ...combinedRights(rights), origins };
}

function kitChanges(db: Db, file: KitFile, samples: ReadonlyMap<string, Sample>) {
  const kitId = randomUUID();
  const name = freeName(file.name, new Set(prepared(db, 'SELECT name FROM kit').pluck().all() as string[]));
  const hitNames = new Set(prepared(db, 'SELECT name FROM hit').pluck().all() as string[]);
  const { author, about, words, notes, seed, settings } = file;
  const made: Change[] = [
    { op: 'create', doc: 'kit', id: kitId, value: { name, author, about, words, notes, seed, ...settings } },
  ];
  const busIds = file.buses.map(() => randomUUID());
  for (const [i, { name: busName, kind, settings: busSettings, steps }] of file.buses.entries()) {
    const busId = busIds[i] as string;
    const value = { kitId, position: i, name: busName, kind, ...initialValues(BUS_PARAMETERS), ...busSettings };
    made.push({ op: 'create', doc: 'bus', id: busId, value });
    for (const [position, { processor, active, settings: own }] of steps.entries())
      made.push({
        op: 'create',
        doc: 'busStep',
        id: randomUUID(),
        value: { busId, position, processor, active, ...own },
      });
  }
  const hits = new Map<string, string>();
  const hitOf = (path: string, pad: KitFile['pads'][number]): string => {
    const known = hits.get(path);
    if (known) return known;
    const { recordingId, frames } = samples.get(path) as Sample;
    const wanted = [...path.slice('samples/'.length, -'.wav'.length)].slice(0, LONGEST_NAME).join('');
    const hitName = freeName(wanted, hitNames);
    hitNames.add(hitName);
    const id = randomUUID();
    const whole = { recordingId, startFrame: 0, endFrame: frames, sliceId: null };
    made.push({ op: 'create', doc: 'hit', id, value: { ...HIT_INITIAL, name: hitName, family: pad.family, ...whole } });
    hits.set(path, id);
    return id;
  };
  for (const pad of file.pads) {
    const { position, name: padName, family, role, note, bus, zones, settings: own } = pad;
    const padId = randomUUID();
    const value = {
      ...PAD_INITIAL,
      ...own,
      ...PRINTED,
      ...loopOf(zones[0], samples),
      ...{ kitId, position, name: padName, family, role },
      note: note === noteOfPlace(position) ? null : note,
      busId: bus === null ? null : (busIds[bus] as string),
    };
    made.push({ op: 'create', doc: 'pad', id: padId, value });
    for (const [i, { sample, lowVelocity, highVelocity }] of zones.entries()) {
      const isTake = zones.length > 1;
      const layer = {
        ...LAYER_INITIAL,
        padId,
        hitId: hitOf(sample, pad),
        position: i,
        lowVelocity,
        highVelocity,
        isTake,
      };
      made.push({ op: 'create', doc: 'layer', id: randomUUID(), value: layer });
    }
  }
  return { kitId, name, made };
}

/** Where a pad's only sample repeats. */
function loopOf(zone: KitFile['pads'][number]['zones'][number] | undefined, samples: ReadonlyMap<string, Sample>) {
  if (!zone?.loop) return {};
  const { sampleRate } = samples.get(zone.sample) as Sample;
  const ms = (frame: number) => (1000 * frame) / sampleRate;
  return { loopStartMs: ms(zone.loop.start), loopEndMs: ms(zone.loop.end + 1) };
}
