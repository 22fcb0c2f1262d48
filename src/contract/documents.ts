import { z } from 'zod';
import { Hit } from '@/core/hit/model';
import { Kit, Layer, Pad, Variation } from '@/core/kit/model';
import { Bookmark, Cut, Recording, Slice } from '@/core/recording/model';
import { Plan } from '@/core/recording/plan';

/** Every kind of document that edits may change, with its schema. */
export const DOCUMENTS = {
  recording: Recording,
  cut: Cut,
  slice: Slice,
  bookmark: Bookmark,
  hit: Hit,
  kit: Kit,
  pad: Pad,
  layer: Layer,
  variation: Variation,
  plan: Plan,
} as const;

export const DocName = z.enum([
  'recording',
  'cut',
  'slice',
  'bookmark',
  'hit',
  'kit',
  'pad',
  'layer',
  'variation',
  'plan',
]);
export type DocName = z.infer<typeof DocName>;
export type DocOf<D extends DocName> = z.infer<(typeof DOCUMENTS)[D]>;
/** A document as the server hands it out: with the revision that an edit must name. */
export type Stored<T> = T & { readonly rev: number };
