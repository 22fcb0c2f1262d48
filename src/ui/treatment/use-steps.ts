import { useMemo } from 'react';
import type { Change } from '@/contract/edits';
import { initialValues } from '@/core/parameter/values';
import { POINT } from '@/core/treatment/equaliser';
import { type ProcessorName, processorOf } from '@/core/treatment/processors';
import type { Step } from '@/core/treatment/step';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { between, placeForNew } from './chains';
import type { StepDoc, StoredStep, Subject } from './subject';

export interface StepEdits {
  /** Adds a step, by default before those at the end that set the level; returns its id. */
  readonly add: (processor: ProcessorName, values?: Readonly<Record<string, unknown>>) => string;
  readonly remove: (step: StoredStep) => void;
  readonly toggle: (step: StoredStep) => void;
  /** Moves a step to the place of another one. */
  readonly move: (stepId: string, overId: string) => void;
  /** Values being turned: seen and heard, not stored. Null gives them up. */
  readonly preview: (step: StoredStep, values: Readonly<Record<string, unknown>> | null) => void;
  readonly set: (step: StoredStep, said: string, values: Readonly<Record<string, unknown>>) => void;
}

/** What has steps of its own. */
type Stepped = Pick<Subject, 'owner' | 'name' | 'steps'> & { readonly doc: StepDoc };

/** Edits of a subject's steps; each is one step of undo. */
export function useSteps(subject: Stepped): StepEdits {
  const { commit } = useCommands();
  return useMemo(() => {
    const { steps, doc, owner, name } = subject;
    const nameOf = (step: Step) => processorOf(step.processor).label.toLowerCase();
    const update = (label: string, step: StoredStep, set: Readonly<Record<string, unknown>>) => {
      const change: Change = { op: 'update', doc, id: step.id, rev: step.rev, set: { ...set } };
      void commit(`${label} of ${name}`, [change]);
      dropDraft(doc, step.id);
    };
    return {
      add: (processor, values = firstValues(processor, doc)) => {
        const id = crypto.randomUUID();
        const value = { ...owner, processor, position: placeForNew(steps, processor), ...values };
        void commit(`added ${nameOf(value as unknown as Step)} to ${name}`, [{ op: 'create', doc, id, value }]);
        return id;
      },
      remove: (step) =>
        void commit(`removed ${nameOf(step)} from ${name}`, [{ op: 'remove', doc, id: step.id, rev: step.rev }]),
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
      preview: (step, values) => (values ? setDraft(doc, step.id, values) : dropDraft(doc, step.id)),
      set: (step, said, values) => update(`changed the ${said} of the ${nameOf(step)}`, step, values),
    };
  }, [subject, commit]);
}

/** Values of a new step that can be seen or heard at once. */
export function firstValues(processor: ProcessorName, doc: StepDoc): Readonly<Record<string, unknown>> {
  if (processor === 'equaliser') return { points: [{ ...initialValues(POINT), frequencyHz: 200 }] };
  if (processor === 'fades') return { inMs: 2, outMs: 10 };
  if (processor === 'level' && doc !== 'recordingStep') return { to: 'true-peak' };
  return {};
}
