import type { Change } from '@/contract/edits';
import type { KitView, RecordingView } from '@/contract/views';
import { type Family, HIT_DEFAULTS, type Hit } from '@/core/hit/model';
import { familyOfPad, freePosition } from '@/core/kit/layout';
import { LAYER_DEFAULTS, PAD_COUNT, PAD_DEFAULTS, type PadSettings } from '@/core/kit/model';
import { DEFAULT_PATTERN, freeName, nameFromPattern } from '@/core/naming/names';

/** A stretch of a recording, or a hit, on its way to a pad. */
export interface Stretch {
  readonly recording: RecordingView;
  readonly startFrame: number;
  readonly endFrame: number;
  readonly sliceId: string | null;
  readonly family: Family | null;
  /** Its number among the recording's slices, for its name. */
  readonly number: number;
  /** A hit that is there already and is laid as it is; without one a new hit is made. */
  readonly hit?: Hit;
  /** A name it has by itself, as a whole file or a named slice does; without one it is named by the pattern. */
  readonly title?: string;
  /** What a new pad gets that plays it, besides what all get. */
  readonly pad?: PadSettings;
}

/** What to do where a pad has a sound already. */
export type Manner = 'beside' | 'instead' | 'next';

export interface Laid {
  readonly changes: readonly Change[];
  readonly name: string;
  readonly position: number;
}

const PATTERN_KEY = 'undercroft.name-pattern';

export function namePattern(): string {
  return localStorage.getItem(PATTERN_KEY) ?? DEFAULT_PATTERN;
}

export function setNamePattern(pattern: string): void {
  localStorage.setItem(PATTERN_KEY, pattern);
}

/** Its own name, or one by the pattern, free among those taken. A family that is not known goes by the plain word. */
function nameOf(stretch: Stretch, taken: ReadonlySet<string>): string {
  if (stretch.title) return freeName(stretch.title, taken);
  const family = stretch.family ?? 'hit';
  const source = stretch.recording.title.replace(/ (loop|takes)$/i, '');
  const parts = { family: family.charAt(0).toUpperCase() + family.slice(1), source, number: stretch.number };
  return freeName(nameFromPattern(namePattern(), parts), taken);
}

/**
 * The changes that lay a stretch on a pad, `wanted` or the next free one: a hit that copies its place in the recording, and a layer that plays it. Null
 * where the kit has no free pad left.
 */
export function layStretch(
  view: KitView,
  given: Stretch,
  wanted: number | null,
  manner: Manner,
  newId: () => string,
): Laid | null {
  // Put on a pad by hand, a sound of no known family is what the pad's note is for.
  const stretch =
    given.family === null && wanted !== null && !given.hit ? { ...given, family: familyOfPad(wanted) } : given;
  const taken = new Set(view.pads.map((p) => p.position));
  const occupied = wanted !== null && taken.has(wanted);
  const position = wanted === null || (occupied && manner === 'next') ? freePosition(taken, stretch.family) : wanted;
  if (position === null) return null;
  const pad = view.pads.find((p) => p.position === position);
  const known = stretch.hit;
  const names = namesIn(view);
  const name = known?.name ?? nameOf(stretch, names);
  const hitId = known?.id ?? newId();
  const { startFrame, endFrame, sliceId, family } = stretch;
  const hit = { name, family, recordingId: stretch.recording.id, startFrame, endFrame, sliceId, ...HIT_DEFAULTS };
  const changes: Change[] = known ? [] : [{ op: 'create', doc: 'hit', id: hitId, value: hit }];
  const layers = view.layers.filter((l) => l.padId === pad?.id);
  const padId = pad?.id ?? newId();
  if (!pad) {
    changes.push({
      op: 'create',
      doc: 'pad',
      id: padId,
      value: { kitId: view.kit.id, position, name, family, ...PAD_DEFAULTS, ...stretch.pad },
    });
  } else if (manner === 'instead') {
    for (const layer of layers) changes.push({ op: 'remove', doc: 'layer', id: layer.id, rev: layer.rev });
    changes.push({ op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { name, family } });
  }
  const order = pad && manner !== 'instead' ? Math.max(-1, ...layers.map((l) => l.position)) + 1 : 0;
  changes.push({
    op: 'create',
    doc: 'layer',
    id: newId(),
    value: { padId, hitId, position: order, ...LAYER_DEFAULTS },
  });
  return { changes, name, position };
}

/** Lays many stretches on the free pads in order; stops when the kit is full. Each sees what those before it did. */
export function fillPads(
  view: KitView,
  stretches: readonly Stretch[],
  newId: () => string,
  applied: (view: KitView, changes: readonly Change[]) => KitView,
): Change[] {
  const changes: Change[] = [];
  let current = view;
  for (const stretch of stretches) {
    if (current.pads.length >= PAD_COUNT) break;
    const laid = layStretch(current, stretch, null, 'next', newId);
    if (!laid) break;
    changes.push(...laid.changes);
    current = applied(current, laid.changes);
  }
  return changes;
}

function namesIn({ hits, pads }: KitView): Set<string> {
  return new Set([...hits, ...pads].map(({ name }) => name));
}

/** Further strokes of the drum that a pad plays, found by the slice it was taken from. */
export interface OtherTakes {
  readonly sliceId: string;
  readonly takes: readonly Stretch[];
}

/** Keeps further strokes of what pads play as their variations, each a hit with a name of its own. */
export function keptTakes(view: KitView, drums: readonly OtherTakes[], newId: () => string): Change[] {
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
        { op: 'create', doc: 'hit', id: hitId, value: { name, family, ...place, ...HIT_DEFAULTS } },
        { op: 'create', doc: 'variation', id: newId(), value: { padId, hitId, position } },
      ];
    });
  });
}

/** A hit on its way to a pad. */
export function stretchOfHit(hit: Hit, recording: RecordingView): Stretch {
  const { startFrame, endFrame, sliceId, family } = hit;
  return { recording, startFrame, endFrame, sliceId, family, number: 1, hit };
}
