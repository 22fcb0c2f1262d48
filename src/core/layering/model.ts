import { z } from 'zod';
import { Id } from '../model';
import { shapeOf } from '../parameter/schema';
import { MEMBER_PARAMETERS, MOST_EDGES, OUT_DB } from './parameters';

/** Edges between bands in hertz, in rising order. */
export const EdgesHz = z
  .array(z.number().min(20).max(16_000))
  .max(MOST_EDGES)
  .refine((edges) => edges.every((hz, i) => i === 0 || hz > (edges[i - 1] as number)), 'Edges are in rising order.');

/** One of the hits that a layered hit is the sum of. */
export const Member = z.object({
  id: Id,
  /** The layered hit. */
  layeredId: Id,
  /** The hit that sounds; any hit but one that contains the layered hit. */
  hitId: Id,
  /** Order among the layers, lowest first. */
  position: z.number().min(-1e6).max(1e6),
  /** Its level in each band between the layered hit's edges, in dB; bands that are not told have 0. */
  bandsDb: z.array(z.number().min(OUT_DB).max(0)).max(MOST_EDGES + 1),
  ...shapeOf(MEMBER_PARAMETERS),
});
export type Member = z.infer<typeof Member>;
