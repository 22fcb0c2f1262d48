import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import type { KitDocs, KitView, StoredHit } from '@/contract/views';
import { HIT_INITIAL } from '@/core/hit/initial';
import { stretchesOf } from '@/core/hit/key';
import { keptFromPads, memberOf, padLayerOf } from '@/core/kit/layered';
import type { Layer, Pad } from '@/core/kit/model';
import { takesOf } from '@/core/kit/pad-sound';
import { LAYER_INITIAL, LAYER_PARAMETERS } from '@/core/kit/parameters';
import { freeName } from '@/core/naming/names';
import { clip } from '@/core/parameter/values';
import { MAX_TOGETHER } from '@/core/play/limits';
import type { HeardLayer } from './layers';

/** The changes that make a pad's layers one layered hit, which the pad plays instead; `hitId` is the new hit's. */
export function asOneHit(
  pad: Stored<Pad>,
  heard: readonly HeardLayer[],
  taken: ReadonlySet<string>,
  hitId: string,
  newId: () => string,
): Change[] {
  const first = heard[0];
  if (!first) return [];
  const { recordingId, startFrame, endFrame } = stretchesOf(first.hit)[0] as StoredHit;
  const name = freeName(pad.name, taken);
  const { sampleRate } = first.recording;
  const place = { recordingId, startFrame, endFrame, sliceId: null };
  return [
    { op: 'create', doc: 'hit', id: hitId, value: { ...HIT_INITIAL, name, family: pad.family, ...place } },
    ...heard.map((one, position): Change => {
      const value = { ...memberOf(one, position, sampleRate), layeredId: hitId };
      return { op: 'create', doc: 'member', id: newId(), value };
    }),
    ...heard.map(({ layer: { id, rev } }): Change => ({ op: 'remove', doc: 'layer', id, rev })),
    { op: 'create', doc: 'layer', id: newId(), value: { ...LAYER_INITIAL, padId: pad.id, hitId, position: 0 } },
  ];
}

/** Why a layered hit cannot be laid apart on its pad; empty where it can. */
export function whyNotApart(hit: StoredHit, others: number): string {
  const kept = [...new Set(hit.members.flatMap(keptFromPads))];
  if (hit.steps.some((step) => step.active)) kept.push('steps on its sum');
  if (kept.length > 0) return `It has ${kept.join(' and ')}, which the layers of a pad cannot have.`;
  if (hit.members.length + others > MAX_TOGETHER) return `A pad plays up to ${MAX_TOGETHER} sounds at once.`;
  return '';
}

/** The changes that lay the layers of a layered hit on its pad instead of it; the hit stays in the library. */
export function apart({ layer, hit, recording }: HeardLayer, newId: () => string): Change[] {
  const { id, rev, padId } = layer;
  return [
    { op: 'remove', doc: 'layer', id, rev },
    ...hit.members.map((member, n): Change => {
      const own = padLayerOf(member, recording.sampleRate);
      const value = {
        ...own,
        padId,
        position: layer.position + n,
        levelDb: clip(LAYER_PARAMETERS.levelDb, own.levelDb + layer.levelDb),
        semitones: clip(LAYER_PARAMETERS.semitones, own.semitones + layer.semitones),
        cents: clip(LAYER_PARAMETERS.cents, own.cents + layer.cents),
        offsetMs: clip(LAYER_PARAMETERS.offsetMs, own.offsetMs + layer.offsetMs),
        inverted: own.inverted !== layer.inverted,
      };
      return { op: 'create', doc: 'layer', id: newId(), value };
    }),
  ];
}

/** What copying layers to another kit does. */
export interface CopiedLayers {
  readonly changes: readonly Change[];
  /** Pads of the other kit that get layers, and roles that it has no pad for. */
  readonly pads: readonly string[];
  readonly missing: readonly string[];
}

/**
 * Copies what lies beside the takes of some pads, with its settings, beside what stands on the same roles of another
 * kit: the pads of the same family, in order. A pad without a family has no role.
 */
export function layersToKit(
  from: KitView,
  pads: readonly Stored<Pad>[],
  to: KitDocs,
  newId: () => string,
): CopiedLayers {
  const changes: Change[] = [];
  const [reached, missing]: [string[], string[]] = [[], []];
  for (const pad of pads) {
    const own = from.layers.filter((layer) => layer.padId === pad.id).map((layer) => ({ layer }));
    const takes = new Set(takesOf(own));
    const beside = own.filter((one) => !takes.has(one)).map(({ layer }) => layer);
    if (beside.length === 0) continue;
    const place = ofRole(from, pad.family).findIndex(({ id }) => id === pad.id);
    const target = ofRole(to, pad.family)[place];
    const there = to.layers.filter((layer) => layer.padId === target?.id && !layer.isTake);
    if (!target || pad.family === null || there.length + beside.length > MAX_TOGETHER) {
      missing.push(pad.name);
      continue;
    }
    reached.push(target.name);
    const next = Math.max(-1, ...there.map((layer) => layer.position)) + 1;
    for (const [n, layer] of beside.entries()) {
      const { id: _id, rev: _rev, ...value } = layer as Stored<Layer>;
      changes.push({
        op: 'create',
        doc: 'layer',
        id: newId(),
        value: { ...value, padId: target.id, position: next + n },
      });
    }
  }
  return { changes, pads: reached, missing };
}

function ofRole({ pads }: KitDocs, family: Pad['family']): Stored<Pad>[] {
  return pads.filter((pad) => pad.family === family).sort((a, b) => a.position - b.position);
}
