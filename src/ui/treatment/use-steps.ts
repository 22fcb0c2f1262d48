import { useMemo } from 'react';
import type { Change } from '@/contract/edits';
import type { HitView } from '@/contract/views';
import { initialValues } from '@/core/parameter/values';
import { POINT } from '@/core/treatment/equaliser';
import { type ProcessorName, processorOf } from '@/core/treatment/processors';
import type { Step } from '@/core/treatment/step';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { between, placeForNew } from './chains';

type StoredStep = HitView['steps'][number];

export interface StepEdits {
  /** Adds a step, by default before those at the end that set the level; returns its id. */
  readonly add: (processor: ProcessorName) => string;
  readonly remove: (step: StoredStep) => void;
  readonly toggle: (step: StoredStep) => void;
  /** Moves a step to the place of another one. */
  readonly move: (stepId: string, overId: string) => void;
  /** Values being turned: seen and heard, not stored. Null gives them up. */
  readonly preview: (step: StoredStep, values: Readonly<Record<string, unknown>> | null) => void;
  readonly set: (step: StoredStep, said: string, values: Readonly<Record<string, unknown>>) => void;
}

/** Edits of a hit's steps; each is one step of undo. */
export function useSteps(hit: HitView): StepEdits {
  const { commit } = useCommands();
  return useMemo(() => {
    const { steps } = hit;
    const nameOf = (step: Step) => processorOf(step.processor).label.toLowerCase();
    const update = (label: string, step: StoredStep, set: Readonly<Record<string, unknown>>) => {
      const change: Change = { op: 'update', doc: 'step', id: step.id, rev: step.rev, set: { ...set } };
      void commit(`${label} of ${hit.name}`, [change]);
      dropDraft('step', step.id);
    };
    return {
      add: (processor) => {
        const id = crypto.randomUUID();
        const value = { hitId: hit.id, processor, position: placeForNew(steps, processor), ...firstValues(processor) };
        void commit(`added ${nameOf(value as unknown as Step)} to ${hit.name}`, [
          { op: 'create', doc: 'step', id, value },
        ]);
        return id;
      },
      remove: (step) =>
        void commit(`removed ${nameOf(step)} from ${hit.name}`, [
          { op: 'remove', doc: 'step', id: step.id, rev: step.rev },
        ]),
      toggle: (step) =>
        update(`switched ${step.active ? 'off' : 'on'} the ${nameOf(step)}`, step, { active: !step.active }),
      move: (stepId, overId) => {
        const from = steps.findIndex((step) => step.id === stepId);
        const to = steps.findIndex((step) => step.id === overId);
        const step = steps[from];
        if (!step || to < 0 || from === to) return;
        const rest = steps.filter((s) => s !== step);
        update(`moved the ${nameOf(step)}`, step, { position: between(rest[to - 1], rest[to]) });
      },
      preview: (step, values) => (values ? setDraft('step', step.id, values) : dropDraft('step', step.id)),
      set: (step, said, values) => update(`changed the ${said} of the ${nameOf(step)}`, step, values),
    };
  }, [hit, commit]);
}

/** Values of a new step that can be seen or heard at once. */
function firstValues(processor: ProcessorName): Readonly<Record<string, unknown>> {
  if (processor === 'equaliser') return { points: [{ ...initialValues(POINT), frequencyHz: 200 }] };
  if (processor === 'fades') return { inMs: 1, outMs: 10 };
  if (processor === 'level') return { to: 'true-peak' };
  return {};
}
