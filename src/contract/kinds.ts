import { GROOVE_PARAMETERS, NOTE_PARAMETERS, ROW_PARAMETERS } from '@/core/groove/parameters';
import { HIT_INITIAL } from '@/core/hit/initial';
import { BUS_PARAMETERS, KIT_PARAMETERS, KIT_WORDS, LAYER_PARAMETERS, PAD_PARAMETERS } from '@/core/kit/parameters';
import { MEMBER_INITIAL, MEMBER_PARAMETERS } from '@/core/layering/parameters';
import { SPLIT_PARAMETERS } from '@/core/onset/split';
import type { Parameters } from '@/core/parameter/parameter';
import { initialValues } from '@/core/parameter/values';
import { RECORDING_INITIAL, SLICE_INITIAL } from '@/core/recording/initial';
import { isLive, LIVE_PARAMETERS } from '@/core/treatment/live';
import { isProcessor, processorOf } from '@/core/treatment/processors';
import { STEP_INITIAL } from '@/core/treatment/step';

export type Fields = Record<string, unknown>;

/** Lists and views of the page that show documents: invalidated when one of a kind has changed. */
export type ShownIn = 'recordings' | 'hits' | 'kits' | 'grooves' | Named | 'every kit';

export interface Kind {
  /** Optional fields, missing in documents made before they existed. */
  readonly initial: Readonly<Fields>;
  /** Fields that are parameters, stored where they differ from their initial values. */
  readonly parameters: ((value: Readonly<Fields>) => Parameters | null) | null;
  /** The document it belongs to, and the field that names it; it is removed with that one. */
  readonly parent: { readonly doc: string; readonly field: string } | null;
  /** Field that names the recording, kit or hit whose view shows it; a document with a parent has the parent's. */
  readonly scope: string;
  /** It is created and removed with its audio, by no edit. */
  readonly lasting: boolean;
  readonly shownIn: readonly ShownIn[];
}

function kind(
  told: Partial<Omit<Kind, 'parameters'>> & { parameters?: Parameters | NonNullable<Kind['parameters']> },
): Kind {
  const { parameters = null, initial = {}, parent = null, scope = 'id', lasting = false, shownIn = [] } = told;
  const of = parameters === null || typeof parameters === 'function' ? parameters : () => parameters;
  return { initial, parameters: of as Kind['parameters'], parent, scope, lasting, shownIn };
}

function parametersOfStep({ processor }: Readonly<Fields>): Parameters | null {
  return isProcessor(processor) ? processorOf(processor).parameters : null;
}

function parametersOfLiveStep({ processor }: Readonly<Fields>): Parameters | null {
  return isLive(processor) ? LIVE_PARAMETERS[processor] : null;
}

/**
 * Every kind of document that edits may change, with all that page and server need to know about it: tables, history,
 * views and the page's cache derive from here. Schemas are in `documents.ts`, which the page does not load; rules
 * between documents in `server/history/rules`.
 */
export const KINDS = {
  recording: kind({ initial: RECORDING_INITIAL, lasting: true, shownIn: ['recordings'] }),
  cut: kind({ parameters: SPLIT_PARAMETERS, lasting: true }),
  slice: kind({ initial: SLICE_INITIAL, scope: 'recordingId', shownIn: ['recordings'] }),
  bookmark: kind({ scope: 'recordingId' }),
  hit: kind({ initial: HIT_INITIAL, shownIn: ['recordings', 'hits', 'every kit'] }),
  step: kind({
    initial: STEP_INITIAL,
    parameters: parametersOfStep,
    parent: { doc: 'hit', field: 'hitId' },
    shownIn: ['hits', 'every kit'],
  }),
  member: kind({
    initial: MEMBER_INITIAL,
    parameters: MEMBER_PARAMETERS,
    parent: { doc: 'hit', field: 'layeredId' },
    shownIn: ['hits', 'every kit'],
  }),
  memberStep: kind({
    initial: STEP_INITIAL,
    parameters: parametersOfStep,
    parent: { doc: 'member', field: 'memberId' },
    shownIn: ['hits', 'every kit'],
  }),
  recordingStep: kind({
    initial: STEP_INITIAL,
    parameters: parametersOfStep,
    parent: { doc: 'recording', field: 'recordingId' },
    shownIn: ['recordings', 'hits', 'every kit'],
  }),
  recipe: kind({ shownIn: ['recipes'] }),
  kit: kind({ initial: KIT_WORDS, parameters: KIT_PARAMETERS, shownIn: ['kits', 'hits'] }),
  pad: kind({
    initial: { role: '', busId: null },
    parameters: PAD_PARAMETERS,
    parent: { doc: 'kit', field: 'kitId' },
    shownIn: ['kits', 'hits'],
  }),
  layer: kind({
    initial: { withHitId: null },
    parameters: LAYER_PARAMETERS,
    parent: { doc: 'pad', field: 'padId' },
    shownIn: ['recordings', 'hits'],
  }),
  padStep: kind({
    initial: STEP_INITIAL,
    parameters: parametersOfLiveStep,
    parent: { doc: 'pad', field: 'padId' },
  }),
  bus: kind({ parameters: BUS_PARAMETERS, parent: { doc: 'kit', field: 'kitId' } }),
  busStep: kind({
    initial: STEP_INITIAL,
    parameters: parametersOfLiveStep,
    parent: { doc: 'bus', field: 'busId' },
  }),
  variation: kind({ parent: { doc: 'pad', field: 'padId' }, shownIn: ['recordings', 'hits'] }),
  plan: kind({ shownIn: ['plans'] }),
  performance: kind({ shownIn: ['performances'] }),
  layout: kind({ initial: { kitValues: {} }, shownIn: ['layouts'] }),
  groove: kind({ parameters: GROOVE_PARAMETERS, shownIn: ['grooves'] }),
  grooveRow: kind({
    parameters: ROW_PARAMETERS,
    parent: { doc: 'groove', field: 'grooveId' },
    shownIn: ['grooves'],
  }),
  grooveNote: kind({
    parameters: NOTE_PARAMETERS,
    parent: { doc: 'grooveRow', field: 'rowId' },
    shownIn: ['grooves'],
  }),
  grooveLane: kind({ parent: { doc: 'groove', field: 'grooveId' } }),
} as const;

/** Kinds of document that belong to no other and are listed whole, by name, and what the list is called. */
export const NAMED = {
  plan: 'plans',
  recipe: 'recipes',
  performance: 'performances',
  layout: 'layouts',
} as const;
export type NamedDoc = keyof typeof NAMED;
type Named = (typeof NAMED)[NamedDoc];
export const NAMED_DOCS = Object.keys(NAMED) as readonly NamedDoc[];

export type DocName = keyof typeof KINDS;
export const DOC_NAMES = Object.keys(KINDS) as [DocName, ...DocName[]];

/** Everything declared about a kind. */
export function kindOf(doc: DocName): Kind {
  return KINDS[doc];
}

/** Kinds that are removed with a document of this kind, and the field that refers to it. */
export function childKinds(doc: DocName): { readonly doc: DocName; readonly field: string }[] {
  return DOC_NAMES.flatMap((name) => {
    const { parent } = kindOf(name);
    return parent?.doc === doc ? [{ doc: name, field: parent.field }] : [];
  });
}

/** A document completed with initial values, as the server will return it. */
export function whole(doc: DocName, value: Readonly<Fields>): Fields {
  const { initial, parameters } = kindOf(doc);
  return { ...initial, ...initialValues(parameters?.(value) ?? {}), ...value };
}
