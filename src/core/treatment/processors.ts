import type { Parameters } from '../parameter/parameter';
import { attack } from './attack';
import { bands } from './bands';
import { channels } from './channels';
import { clicks } from './clicks';
import { compressor } from './compressor';
import { dc } from './dc';
import { echo } from './echo';
import { envelope } from './envelope';
import { equaliser } from './equaliser';
import { fades } from './fades';
import { gate } from './gate';
import { length } from './length';
import { level } from './level';
import { limiter } from './limiter';
import { noise } from './noise';
import type { Processor } from './processor';
import { reverse } from './reverse';
import { room } from './room';
import { saturation } from './saturation';
import { tempo } from './tempo';
import { trim } from './trim';
import { tune } from './tune';

/** Every processor by the name stored in steps, in the order offered. */
export const PROCESSORS = {
  equaliser,
  tune,
  trim,
  length,
  tempo,
  fades,
  envelope,
  gate,
  attack,
  compressor,
  bands,
  saturation,
  limiter,
  noise,
  clicks,
  room,
  echo,
  level,
  reverse,
  channels,
  dc,
} as const;
export type ProcessorName = keyof typeof PROCESSORS;
export const PROCESSOR_NAMES = Object.keys(PROCESSORS) as [ProcessorName, ...ProcessorName[]];

export function isProcessor(name: unknown): name is ProcessorName {
  return typeof name === 'string' && Object.hasOwn(PROCESSORS, name);
}

/** A processor of unspecified parameters: its values have been validated by its own declarations. */
export function processorOf(name: ProcessorName): Processor<Parameters> {
  return PROCESSORS[name] as unknown as Processor<Parameters>;
}
