import type { Change } from '@/contract/edits';
import type { KitDocs, RecordingView } from '@/contract/views';
import type { Family } from '@/core/family';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { TreatedHit } from '@/core/hit/key';
import { familyOfPad, freePosition, noteOf, noteOfPlace, placeName } from '@/core/kit/layout';
import type { PadSettings } from '@/core/kit/model';
import { LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { DEFAULT_PATTERN, freeName, nameFromPattern, paddedNumber } from '@/core/naming/names';
import { KIT_PADS } from '@/core/play/limits';
import { applyToKit } from '../data/apply';

/** A stretch of a recording, or a hit, to be laid on a pad. */
export interface Stretch {
  readonly recording: RecordingView;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly sliceId: string | null;
  /** Family, decided by a person or estimated with enough confidence; else null. */
  readonly family: Family | null;
  /** Confidence where the family is an estimate; absent where a person decided. */
  readonly sure?: number | undefined;
  /** Further families struck with it and kept on purpose: its name includes them. */
  readonly also?: readonly Family[];
  /** Its number among the recording's slices, for its name. */
  readonly number: number;
  /** An existing hit, laid as it is; without one a hit is created. */
  readonly hit?: TreatedHit;
  /** A name of its own, as of a whole file or a named slice; without one the naming pattern applies. */
  readonly title?: string;
  /** Settings of a new pad for it, beyond the usual ones. */
  readonly pad?: PadSettings;
}

/** What to do where the pad is occupied. */
export type LayMode = 'beside' | 'instead' | 'take' | 'next';

/** Other ways for a sound that was laid beside another one. */
export type RelayMode = 'instead' | 'take' | 'next';

export interface Laid {
  readonly changes: readonly Change[];
  readonly name: string;
  readonly position: number;
}

/** Below this confidence the pad's role overrides the estimated family. */
const SURER_THAN_THE_HAND = 0.8;

/** A stretch as laid by hand: without a confident family it takes the role of the pad. */
export function asPlaced(stretch: Stretch, position: number): Stretch {
  const { family, sure = 1, hit } = stretch;
  if (hit || (family !== null && sure >= SURER_THAN_THE_HAND)) return stretch;
  const role = familyOfPad(position);
  return { ...stretch, family: role === 'percussion' && family !== null ? family : role };
}

/** A stretch's own name, or one by its recording's pattern. An unknown family is left out. */
export function nameOfStretch({ recording, family, also = [], number, title }: Stretch): string {
  if (title) return title;
  const parts = {
    family: capitalised([...(family ? [family] : []), ...also].join(' + ')),
    source: recording.title.replace(/ (loop|takes)$/i, ''),
    number: paddedNumber(number, recording.sliceCount),
  };
  return nameFromPattern(recording.pattern || DEFAULT_PATTERN, parts);
}

function capitalised(text: string): string {
  return text.charAt(0).toUpperCase() + text.slice(1);
}

function nameOf(stretch: Stretch, taken: ReadonlySet<string>): string {
  return freeName(nameOfStretch(stretch), taken);
}

/**
 * Changes that lay a stretch on pad `wanted`, or on the next free one: a hit copying its place in the recording, and a
 * layer that plays it. Null where no pad is free.
 */
export function layStretch(
  view: KitDocs,
  stretch: Stretch,
  wanted: number | null,
  mode: LayMode,
  newId: () => string,
): Laid | null {
  const occupied = wanted !== null && soundsAt(view, wanted);
  const position = wanted === null || (occupied && mode === 'next') ? nextPlace(view, stretch.family) : wanted;
  if (position === null) return null;
  const pad = view.pads.find((p) => p.position === position);
  const known = stretch.hit;
  const names = namesIn(view);
  const name = known?.name ?? nameOf(stretch, names);
  const hitId = known?.id ?? newId();
  const { startFrame, endFrame, sliceId, family } = stretch;
  const hit = { name, family, recordingId: stretch.recording.id, startFrame, endFrame, sliceId, ...HIT_INITIAL };
  const changes: Change[] = known ? [] : [{ op: 'create', doc: 'hit', id: hitId, value: hit }];
  const layers = view.layers.filter((l) => l.padId === pad?.id);
  const padId = pad?.id ?? newId();
  if (!pad) {
    changes.push({
      op: 'create',
      doc: 'pad',
      id: padId,
      value: { kitId: view.kit.id, position, name, family, ...PAD_INITIAL, ...stretch.pad },
    });
  } else if (mode === 'instead' || layers.length === 0) {
    for (const layer of layers) changes.push({ op: 'remove', doc: 'layer', id: layer.id, rev: layer.rev });
    changes.push(renamed(pad, name, family));
  }
  const order = pad && mode !== 'instead' ? Math.max(-1, ...layers.map((l) => l.position)) + 1 : 0;
  changes.push({
    op: 'create',
    doc: 'layer',
    id: newId(),
    value: { padId, hitId, position: order, ...LAYER_INITIAL, isTake: mode === 'take' && layers.length > 0 },
  });
  return { changes, name, position };
}

/** Whether a place has a sound. */
function soundsAt(view: KitDocs, position: number): boolean {
  const pad = view.pads.find((p) => p.position === position);
  return pad !== undefined && view.layers.some(({ padId }) => padId === pad.id);
}

/** The next place for a sound of a family: a role of that family without a sound, else a free place. */
function nextPlace(view: KitDocs, family: Family | null): number | null {
  const role = view.pads
    .filter((pad) => pad.role !== '' && family !== null && pad.family === family && !soundsAt(view, pad.position))
    .sort((a, b) => a.position - b.position)[0];
  return role?.position ?? freePosition(new Set(view.pads.map((p) => p.position)), family);
}

/** A pad named after another sound; one with a role stays what it is. */
function renamed(pad: KitDocs['pads'][number], name: string, family: Family | null): Change {
  const set = pad.role === '' ? { name, family } : { name, family: pad.family ?? family };
  return { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set };
}

/**
 * Changes for a sound that was laid beside others as the last layer of a pad: it replaces them, becomes another take, or goes
 * to the next free pad. Empty where there is no such layer or no free pad.
 */
export function relaid(view: KitDocs, position: number, mode: RelayMode, newId: () => string): Change[] {
  const pad = view.pads.find((p) => p.position === position);
  const layers = view.layers.filter((l) => l.padId === pad?.id);
  const last = layers.at(-1);
  const hit = view.hits.find((h) => h.id === last?.hitId);
  if (!pad || !last || !hit || layers.length < 2) return [];
  const remove = ({ id, rev }: { id: string; rev: number }): Change => ({ op: 'remove', doc: 'layer', id, rev });
  const { name, family } = hit;
  if (mode === 'instead') {
    return [...layers.slice(0, -1).map(remove), renamed(pad, name, family)];
  }
  if (mode === 'take') {
    const takes = view.variations.filter((v) => v.padId === pad.id).map((v) => v.position);
    const value = { padId: pad.id, hitId: hit.id, position: Math.max(-1, ...takes) + 1 };
    return [remove(last), { op: 'create', doc: 'variation', id: newId(), value }];
  }
  const free = freePosition(new Set(view.pads.map((p) => p.position)), family);
  if (free === null) return [];
  const padId = newId();
  return [
    remove(last),
    {
      op: 'create',
      doc: 'pad',
      id: padId,
      value: { kitId: view.kit.id, position: free, name, family, ...PAD_INITIAL },
    },
    { op: 'create', doc: 'layer', id: newId(), value: { padId, hitId: hit.id, position: 0, ...LAYER_INITIAL } },
  ];
}

/** How several sounds are placed: each by its role, or from a pad on by rising notes. */
export type Way = 'role' | { readonly from: number };

/** What several sounds do with pads that have one already: leave them, or as one sound does. */
export type Occupied = 'skip' | Exclude<LayMode, 'next'>;

/** Result of laying several sounds: the place of each, and how many found none. */
export interface LaidMany {
  readonly changes: readonly Change[];
  /** With the name of the pad whose sound it joins or replaces; null on a free one. */
  readonly laid: readonly (Laid & { readonly stretch: Stretch; readonly on: string | null })[];
  readonly left: number;
}

/** Lays several sounds, by default on free pads only. Each takes account of those before it. */
export function layMany(
  view: KitDocs,
  stretches: readonly Stretch[],
  way: Way,
  newId: () => string,
  occupied: Occupied = 'skip',
): LaidMany {
  const laid: LaidMany['laid'][number][] = [];
  let current = view;
  const places = way === 'role' ? null : placesFrom(view, way.from, occupied !== 'skip');
  const met = new Set<number>();
  for (const stretch of stretches) {
    const wanted = places ? places.shift() : occupied === 'skip' ? null : soundingOf(view, stretch.family, met);
    if (wanted === undefined) break;
    if (wanted !== null) met.add(wanted);
    const before = view.pads.find(({ position }) => position === wanted);
    const on = wanted !== null && soundsAt(view, wanted) ? (before?.name ?? null) : null;
    const next = layStretch(current, stretch, wanted, on === null || occupied === 'skip' ? 'next' : occupied, newId);
    if (!next) break;
    laid.push({ ...next, stretch, on });
    current = applyToKit(current, next.changes, [stretch.recording]);
  }
  return { changes: laid.flatMap(({ changes }) => changes), laid, left: stretches.length - laid.length };
}

/** The first pad of a family with a sound that was not met yet; null where there is none. */
function soundingOf(view: KitDocs, family: Family | null, met: ReadonlySet<number>): number | null {
  const own = view.pads
    .filter((pad) => family !== null && pad.family === family && !met.has(pad.position) && soundsAt(view, pad.position))
    .sort((a, b) => a.position - b.position);
  return own[0]?.position ?? null;
}

/** Places from a pad's note on, by rising notes: the free ones, or all. */
function placesFrom(view: KitDocs, from: number, all: boolean): number[] {
  const pads = new Map(view.pads.map((pad) => [pad.position, pad]));
  const noteAt = (position: number) => {
    const pad = pads.get(position);
    return pad ? noteOf(pad) : noteOfPlace(position);
  };
  const first = noteAt(from);
  return Array.from({ length: KIT_PADS }, (_, position) => position)
    .filter((position) => (all || !pads.has(position)) && noteAt(position) >= first)
    .sort((a, b) => noteAt(a) - noteAt(b));
}

/** Moves a pad; an occupied place swaps. The note follows the place unless the pad has its own. */
export function movePad(view: KitDocs, from: number, to: number): Change[] {
  const pad = view.pads.find((p) => p.position === from);
  const other = view.pads.find((p) => p.position === to);
  if (!pad || from === to) return [];
  const move = ({ id, rev }: { id: string; rev: number }, position: number): Change => ({
    op: 'update',
    doc: 'pad',
    id,
    rev,
    set: { position },
  });
  return other ? [move(pad, to), move(other, from)] : [move(pad, to)];
}

/** Copies a pad with its layers, steps and takes to an empty place; null where that is occupied. Both play the same hits. */
export function copyPad(view: KitDocs, from: number, to: number, newId: () => string): Change[] {
  const pad = view.pads.find((p) => p.position === from);
  if (!pad || view.pads.some((p) => p.position === to)) return [];
  const { id, rev: _rev, ...value } = pad;
  const padId = newId();
  const name = freeName(pad.name, new Set(view.pads.map((p) => p.name)));
  return [
    { op: 'create', doc: 'pad', id: padId, value: { ...value, name, position: to, note: null } },
    ...copiesOf(view, id, padId, newId),
  ];
}

/** Copies of a pad's layers, steps and other takes for another pad. */
export function copiesOf(view: KitDocs, from: string, to: string, newId: () => string): Change[] {
  const copy = (doc: 'layer' | 'padStep' | 'variation') => (row: { id: string; rev: number; padId: string }) => {
    const { id: _id, rev: _rev, ...value } = row;
    return { op: 'create', doc, id: newId(), value: { ...value, padId: to } } as const;
  };
  return [
    ...view.layers.filter((l) => l.padId === from).map(copy('layer')),
    ...view.steps.filter((s) => s.padId === from).map(copy('padStep')),
    ...view.variations.filter((v) => v.padId === from).map(copy('variation')),
  ];
}

/** Names a place: its key and its note. */
export function placeText(position: number): string {
  return `${placeName(position)}, note ${noteOfPlace(position)}`;
}

function namesIn({ hits, pads }: KitDocs): Set<string> {
  return new Set([...hits, ...pads].map(({ name }) => name));
}

/** Further strokes of the drum on a pad, found by the slice it came from. */
export interface OtherTakes {
  readonly sliceId: string;
  readonly takes: readonly Stretch[];
}

/** Adds further strokes of a pad's drum as variations, each a hit with its own name. */
export function keptTakes(view: KitDocs, drums: readonly OtherTakes[], newId: () => string): Change[] {
  const taken = namesIn(view);
  return drums.flatMap(({ sliceId, takes }) => {
    const played = view.hits.find((hit) => hit.sliceId === sliceId);
    const padId = view.layers.find((layer) => layer.hitId === played?.id)?.padId;
    if (!padId) return [];
    return takes.flatMap((take, position): Change[] => {
      const name = nameOf(take, taken);
      taken.add(name);
      const hitId = newId();
      const { startFrame, endFrame, family } = take;
      const place = { recordingId: take.recording.id, startFrame, endFrame, sliceId: take.sliceId };
      return [
        { op: 'create', doc: 'hit', id: hitId, value: { name, family, ...place, ...HIT_INITIAL } },
        { op: 'create', doc: 'variation', id: newId(), value: { padId, hitId, position } },
      ];
    });
  });
}

/** A hit to be laid on a pad. */
export function stretchOfHit(hit: TreatedHit, recording: RecordingView): Stretch {
  const { startFrame, endFrame, sliceId, family } = hit;
  return { recording, startFrame, endFrame, sliceId, family, number: 1, hit };
}
