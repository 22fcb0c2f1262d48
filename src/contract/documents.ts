import { z } from 'zod';
import { Groove, GrooveLane, GrooveNote, GrooveRow } from '@/core/groove/model';
import { Hit } from '@/core/hit/model';
import { Bus, Kit, Layer, Layout, Pad, Variation } from '@/core/kit/model';
import { Member } from '@/core/layering/model';
import { Performance } from '@/core/midi/performance';
import type { Parameters } from '@/core/parameter/parameter';
import { shapeOf } from '@/core/parameter/schema';
import { Bookmark, Cut, Recording, Slice } from '@/core/recording/model';
import { Plan } from '@/core/recording/plan';
import type { BusStep, PadStep } from '@/core/treatment/live';
import { BusStepBase, MemberStepBase, PadStepBase, Recipe, RecordingStepBase, StepBase } from '@/core/treatment/model';
import type { HitStep, MemberStep, RecordingStep } from '@/core/treatment/step';
import { DOC_NAMES, type Fields, kindOf, type DocName as Name } from './kinds';

/** Schemas of documents by kind; for kinds with parameters of their own, the fields that all have. */
const SCHEMAS = {
  recording: Recording,
  cut: Cut,
  slice: Slice,
  bookmark: Bookmark,
  hit: Hit,
  step: StepBase,
  member: Member,
  memberStep: MemberStepBase,
  recordingStep: RecordingStepBase,
  recipe: Recipe,
  kit: Kit,
  pad: Pad,
  layer: Layer,
  padStep: PadStepBase,
  bus: Bus,
  busStep: BusStepBase,
  variation: Variation,
  plan: Plan,
  performance: Performance,
  layout: Layout,
  groove: Groove,
  grooveRow: GrooveRow,
  grooveNote: GrooveNote,
  grooveLane: GrooveLane,
} as const satisfies Record<Name, z.ZodObject>;

export const DocName = z.enum(DOC_NAMES);
export type DocName = Name;
export type DocOf<D extends DocName> = D extends 'step'
  ? HitStep
  : D extends 'recordingStep'
    ? RecordingStep
    : D extends 'memberStep'
      ? MemberStep
      : D extends 'padStep'
        ? PadStep
        : D extends 'busStep'
          ? BusStep
          : z.infer<(typeof SCHEMAS)[D]>;
/** A document as the server returns it: with the revision that an edit must name. */
export type Stored<T> = T & { readonly rev: number };

/** The fields that every document of a kind has. */
export function fieldsOf(doc: DocName): z.ZodObject {
  return SCHEMAS[doc];
}

const known = new Map<Parameters | null, Partial<Record<DocName, z.ZodObject>>>();

/** The schema of a whole document; for kinds with parameters of their own, including those of this value. */
export function schemaFor(doc: DocName, value: Readonly<Fields>): z.ZodObject {
  const own = kindOf(doc).parameters?.(value) ?? null;
  const made = known.get(own) ?? {};
  const found = made[doc];
  if (found) return found;
  const schema = own ? SCHEMAS[doc].extend(shapeOf(own)) : SCHEMAS[doc];
  known.set(own, { ...made, [doc]: schema });
  return schema;
}
