import type { Parameters } from '../parameter/parameter';
import { channels } from './channels';
import { dc } from './dc';
import { fades } from './fades';
import { level } from './level';
import type { Processor } from './processor';
import { reverse } from './reverse';

/** Every processor by the name stored in steps, in the order offered. */
export const PROCESSORS = { level, fades, dc, channels, reverse } as const;
export type ProcessorName = keyof typeof PROCESSORS;
export const PROCESSOR_NAMES = Object.keys(PROCESSORS) as [ProcessorName, ...ProcessorName[]];

export function isProcessor(name: unknown): name is ProcessorName {
  return typeof name === 'string' && Object.hasOwn(PROCESSORS, name);
}

/** A processor of unspecified parameters: its values have been validated by its own declarations. */
export function processorOf(name: ProcessorName): Processor<Parameters> {
  return PROCESSORS[name] as unknown as Processor<Parameters>;
}
