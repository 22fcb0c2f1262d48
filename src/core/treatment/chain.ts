import type { Parameters } from '../parameter/parameter';
import { clip } from '../parameter/values';
import { type ProcessorName, processorOf } from './processors';
import { newStep, type Step } from './step';

/** A step without its hit: what a chain that is kept, copied or written in a file holds. */
export interface ChainStep extends Readonly<Record<string, unknown>> {
  readonly processor: ProcessorName;
}

/** A chain as the steps of a hit, in order. */
export function stepsOf(hitId: string, chain: readonly ChainStep[], newId: () => string): Step[] {
  return chain.map(({ processor, ...values }, position) => ({
    ...newStep(hitId, processor, position, values),
    id: newId(),
  }));
}

/**
 * A chain made weaker or stronger: every value that has a neutral one is moved so many times as far from it, within its range;
 * the others stay. A factor of 1 gives the chain itself.
 */
export function strengthened(chain: readonly ChainStep[], factor: number): ChainStep[] {
  return chain.map(
    (step) => ({ ...step, ...moved(processorOf(step.processor).parameters, step, factor) }) as ChainStep,
  );
}

function moved(
  parameters: Parameters,
  values: Readonly<Record<string, unknown>>,
  factor: number,
): Record<string, unknown> {
  const changed: Record<string, unknown> = {};
  for (const [key, p] of Object.entries(parameters)) {
    const value = values[key] ?? p.initial;
    if (p.kind === 'number' && p.neutral !== null && typeof value === 'number') {
      const next = clip(p, p.neutral + (value - p.neutral) * factor);
      if (next !== value) changed[key] = next;
    } else if (p.kind === 'list' && key in values) {
      changed[key] = (value as Record<string, unknown>[]).map((item) => ({ ...item, ...moved(p.item, item, factor) }));
    }
  }
  return changed;
}

/** The steps of a hit as a chain. */
export function chainOf(steps: readonly Step[]): ChainStep[] {
  return steps.map(
    ({ id: _id, hitId: _hit, recordingId: _recording, position: _position, rev: _rev, ...step }) => step as ChainStep,
  );
}
