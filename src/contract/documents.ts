import { z } from 'zod';
import { HIT_INITIAL, Hit } from '@/core/hit/model';
import { Kit, LAYER_PARAMETERS, Layer, PAD_PARAMETERS, Pad, Variation } from '@/core/kit/model';
import { SPLIT_PARAMETERS } from '@/core/onset/split';
import type { Parameters } from '@/core/parameter/parameter';
import { initialValues, shapeOf } from '@/core/parameter/values';
import { Bookmark, Cut, RECORDING_INITIAL, Recording, SLICE_INITIAL, Slice } from '@/core/recording/model';
import { Plan } from '@/core/recording/plan';
import { type ProcessorName, processorOf } from '@/core/treatment/processors';
import { STEP_INITIAL, type Step, StepBase } from '@/core/treatment/step';

/** Lists and views of the page that show documents: what is fetched anew when one of a kind has changed. */
export type ShownIn = 'recordings' | 'hits' | 'kits' | 'plans' | 'every kit';

interface Kind {
  readonly schema: z.ZodObject;
  /** Fields that need not be told, and that documents made before they were known do not have. */
  readonly initial: Readonly<Record<string, unknown>>;
  /** Fields that are parameters, stored where they differ from their initial values. */
  readonly parameters: ((value: Readonly<Record<string, unknown>>) => Parameters | null) | null;
  /** The document that it cannot be without, and the field that names it; it goes with that one. */
  readonly parent: { readonly doc: string; readonly field: string } | null;
  /** Field that names the recording, kit or hit whose view shows it; of a document with a parent, the parent's counts. */
  readonly scope: string;
  /** It comes and goes with its audio: no edit makes or removes it. */
  readonly lasting: boolean;
  readonly shownIn: readonly ShownIn[];
}

function kind<S extends z.ZodObject>(
  schema: S,
  told: Partial<Omit<Kind, 'schema' | 'parameters'>> & { parameters?: Parameters | Kind['parameters'] },
) {
  const { parameters = null, initial = {}, parent = null, scope = 'id', lasting = false, shownIn = [] } = told;
  const of = parameters === null || typeof parameters === 'function' ? parameters : () => parameters;
  return { schema, initial, parameters: of, parent, scope, lasting, shownIn };
}

/**
 * Every kind of document that edits may change, each with all that is to be known of it. Tables, history, views and the
 * page's copies follow from here; rules between documents stand in `server/history/rules`.
 */
export const DOCUMENTS = {
  recording: kind(Recording, { initial: RECORDING_INITIAL, lasting: true, shownIn: ['recordings'] }),
  cut: kind(Cut, { parameters: SPLIT_PARAMETERS, lasting: true }),
  slice: kind(Slice, { initial: SLICE_INITIAL, scope: 'recordingId', shownIn: ['recordings'] }),
  bookmark: kind(Bookmark, { scope: 'recordingId' }),
  hit: kind(Hit, { initial: HIT_INITIAL, shownIn: ['recordings', 'hits', 'every kit'] }),
  step: kind(StepBase, {
    initial: STEP_INITIAL,
    parameters: ({ processor }) => stepParameters(processor),
    parent: { doc: 'hit', field: 'hitId' },
    shownIn: ['hits', 'every kit'],
  }),
  kit: kind(Kit, { shownIn: ['kits', 'hits'] }),
  pad: kind(Pad, { parameters: PAD_PARAMETERS, parent: { doc: 'kit', field: 'kitId' }, shownIn: ['kits', 'hits'] }),
  layer: kind(Layer, {
    parameters: LAYER_PARAMETERS,
    parent: { doc: 'pad', field: 'padId' },
    shownIn: ['recordings', 'hits'],
  }),
  variation: kind(Variation, { parent: { doc: 'pad', field: 'padId' }, shownIn: ['recordings', 'hits'] }),
  plan: kind(Plan, { shownIn: ['plans'] }),
} as const satisfies Record<string, Kind>;

export type DocName = keyof typeof DOCUMENTS;
export const DOC_NAMES = Object.keys(DOCUMENTS) as [DocName, ...DocName[]];
export const DocName = z.enum(DOC_NAMES);
export type DocOf<D extends DocName> = D extends 'step' ? Step : z.infer<(typeof DOCUMENTS)[D]['schema']>;
/** A document as the server hands it out: with the revision that an edit must name. */
export type Stored<T> = T & { readonly rev: number };

export type Fields = Record<string, unknown>;

/** Everything that is known of a kind, whichever it is. */
export function kindOf(doc: DocName): Kind {
  return DOCUMENTS[doc];
}

/** Kinds whose documents go with one of this kind, and the field in which they name it. */
export function childKinds(doc: DocName): { readonly doc: DocName; readonly field: string }[] {
  return DOC_NAMES.flatMap((name) => {
    const { parent } = kindOf(name);
    return parent?.doc === doc ? [{ doc: name, field: parent.field }] : [];
  });
}

/** A document with the initial value of every field and parameter that is not told: as the server will have it. */
export function whole(doc: DocName, value: Readonly<Fields>): Fields {
  const { initial, parameters } = kindOf(doc);
  return { ...initial, ...initialValues(parameters?.(value) ?? {}), ...value };
}

const schemas = new Map<Parameters | null, Partial<Record<DocName, z.ZodObject>>>();

/** What a whole document is checked against; of kinds with parameters of their own, those of this value. */
export function schemaFor(doc: DocName, value: Readonly<Fields>): z.ZodObject {
  const { schema, parameters } = kindOf(doc);
  const own = parameters?.(value) ?? null;
  const known = schemas.get(own) ?? {};
  const found = known[doc];
  if (found) return found;
  const made = own ? schema.extend(shapeOf(own)) : schema;
  schemas.set(own, { ...known, [doc]: made });
  return made;
}

function stepParameters(processor: unknown): Parameters | null {
  const known = StepBase.shape.processor.safeParse(processor);
  return known.success ? processorOf(known.data as ProcessorName).parameters : null;
}
