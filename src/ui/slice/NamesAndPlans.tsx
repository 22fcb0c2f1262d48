'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { X } from 'lucide-react';
import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { CutView, RecordingView } from '@/contract/views';
import type { PadSettings } from '@/core/kit/model';
import { PLANNED_PARAMETERS } from '@/core/kit/parameters';
import { DEFAULT_PATTERN, freeName } from '@/core/naming/names';
import { carriedSplit, SPLIT_PARAMETERS, type Split } from '@/core/onset/split';
import type { Parameter } from '@/core/parameter/parameter';
import { filled, firstSet, sparse } from '@/core/parameter/values';
import type { Plan } from '@/core/recording/plan';
import { useCommands } from '../data/commit';
import { useNamed } from '../data/queries';
import { ChoiceLine } from '../parts/ChoiceLine';
import { NumberField } from '../parts/NumberField';
import { TextField } from '../parts/TextField';
import { TreatAll } from '../treatment/TreatAll';

type OnSplit = (set: Partial<Split>, done: boolean) => void;

interface Props {
  readonly view: CutView;
  readonly split: Split;
  readonly onSplit: OnSplit;
}

/** Naming of what is cut here, settings of its pads, and named cutting plans. */
export function NamesAndPlans({ view, split, onSplit }: Props) {
  return (
    <Popover className="relative flex">
      <PopoverButton className="quiet-button whitespace-nowrap px-2">Plan …</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 mt-1 max-h-[560px] w-[360px] overflow-auto rounded-lg border border-edge bg-sheet p-4 shadow-lg"
      >
        {({ close }) => (
          <>
            <TreatAll recording={view.recording} />
            <Plans view={view} split={split} onSplit={onSplit} close={close} />
            <PadParameters view={view} />
            <Pattern recording={view.recording} />
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function Plans({ view, split, onSplit, close }: Props & { close: () => void }) {
  const { commit } = useCommands();
  const { data: plans = [] } = useNamed('plan');
  const [name, setName] = useState('');
  const { cut } = view;
  const keep = () => {
    if (!cut || name.trim() === '') return;
    const free = freeName(name.trim(), new Set(plans.map((p) => p.name)));
    const { id: _id, rev: _rev, pad, ...settings } = { ...cut, ...split };
    const value = { name: free, split: sparse(SPLIT_PARAMETERS, carriedSplit(settings)), pad };
    void commit(`kept the cutting plan ${free}`, [{ op: 'create', doc: 'plan', id: crypto.randomUUID(), value }]);
    setName('');
  };
  const use = async (plan: Stored<Plan>) => {
    if (!cut) return;
    await commit(`new pads as in the plan ${plan.name}`, [
      { op: 'update', doc: 'cut', id: cut.id, rev: cut.rev, set: { pad: plan.pad } },
    ]);
    onSplit(filled(SPLIT_PARAMETERS, plan.split), true);
    close();
  };
  return (
    <section aria-label="Cutting plans">
      <h2 className="font-head font-semibold text-[15px]">Cutting plans</h2>
      {plans.length === 0 && (
        <p className="mt-1 text-[12px] text-soft">
          A plan keeps this way of splitting, and what new pads get, to be used again on any recording.
        </p>
      )}
      {plans.map((plan) => (
        <div key={plan.id} className="flex items-center gap-2 border-line border-b py-1">
          <button
            type="button"
            className="min-w-0 flex-1 truncate rounded text-left hover:text-verdigris"
            title="Split this recording by the plan"
            onClick={() => void use(plan)}
          >
            {plan.name}
            <span className="ml-2 text-[12px] text-soft">{summaryOf(plan)}</span>
          </button>
          <button
            type="button"
            aria-label={`Remove the plan ${plan.name}`}
            className="h-6 w-6 rounded text-soft hover:text-ink"
            onClick={() =>
              void commit(`removed the cutting plan ${plan.name}`, [
                { op: 'remove', doc: 'plan', id: plan.id, rev: plan.rev },
              ])
            }
          >
            <X size={14} aria-hidden className="mx-auto" />
          </button>
        </div>
      ))}
      <div className="mt-2 flex gap-2">
        <input
          aria-label="Name of the new plan"
          className="min-w-0 flex-1 rounded border border-line px-2 py-1"
          maxLength={120}
          placeholder="Keep these settings as …"
          value={name}
          onChange={(event) => setName(event.target.value)}
          onKeyDown={(event) => event.key === 'Enter' && keep()}
        />
        <button type="button" className="quiet-button" disabled={!cut || name.trim() === ''} onClick={keep}>
          Keep
        </button>
      </div>
    </section>
  );
}

/** A plan in a few words. */
function summaryOf({ split: stored, pad }: Plan): string {
  const split = filled(SPLIT_PARAMETERS, stored);
  const how = {
    attack: `attack, ${Math.round(split.sensitivity * 100)} %`,
    silence: split.thresholdDb === null ? 'silence by room tone' : `silence under ${split.thresholdDb} dBFS`,
    grid: `grid of ${split.noteValue}`,
    marks: 'file’s marks',
  }[split.method];
  const count = Object.keys(pad).length;
  return count === 0 ? how : `${how}; ${count} pad ${count === 1 ? 'parameter' : 'parameters'}`;
}

/** Settings of new pads for sounds of this recording; unticked ones keep their initial values. */
function PadParameters({ view }: { view: CutView }) {
  const { commit } = useCommands();
  const { cut } = view;
  if (!cut) return null;
  const { pad } = cut;
  const set = (next: PadSettings) =>
    void commit('set what new pads get', [{ op: 'update', doc: 'cut', id: cut.id, rev: cut.rev, set: { pad: next } }]);
  const without = (key: keyof PadSettings) => {
    const { [key]: _gone, ...rest } = pad;
    set(rest);
  };
  return (
    <fieldset className="mt-4">
      <legend className="font-head font-semibold text-[15px]">New pads from here get</legend>
      {(Object.keys(PLANNED_PARAMETERS) as (keyof PadSettings)[]).map((key) => (
        <Planned
          key={key}
          name={key}
          value={pad[key]}
          onSet={(value) => set({ ...pad, [key]: value })}
          onTake={() => without(key)}
        />
      ))}
    </fieldset>
  );
}

interface PlannedProps {
  readonly name: keyof PadSettings;
  /** Undefined where the initial value applies. */
  readonly value: PadSettings[keyof PadSettings];
  readonly onSet: (value: unknown) => void;
  readonly onTake: () => void;
}

/** One parameter of new pads, ticked where it is set. */
function Planned({ name, value, onSet, onTake }: PlannedProps) {
  const p: Parameter = PLANNED_PARAMETERS[name];
  const on = value !== undefined;
  return (
    <div className="flex items-center gap-2">
      <input
        type="checkbox"
        aria-label={`Set ${p.said} of new pads`}
        checked={on}
        onChange={() => (on ? onTake() : onSet(firstSet(p)))}
      />
      <span className={`flex-1 ${on ? '' : 'text-soft'}`}>
        {p.kind === 'number' ? (
          <NumberField
            of={p}
            value={(value as number | undefined) ?? null}
            empty={p.none?.label ?? String(p.initial)}
            onCommit={onSet}
            onClear={onTake}
          />
        ) : (
          <ChoiceLine of={p} value={(value ?? p.initial) as string} onChoose={onSet} />
        )}
      </span>
    </div>
  );
}

/** The naming pattern for hits of this recording. */
function Pattern({ recording }: { recording: RecordingView }) {
  const { commit } = useCommands();
  const { id, rev } = recording;
  return (
    <section className="mt-4">
      <h2 className="font-head font-semibold text-[15px]">New hits from here are named</h2>
      <TextField
        label="Name pattern"
        className="figure mt-1 w-full border border-line px-2 py-1"
        maxLength={80}
        value={recording.pattern}
        placeholder={DEFAULT_PATTERN}
        mayBeEmpty
        onCommit={(pattern) =>
          void commit('changed how new hits are named', [{ op: 'update', doc: 'recording', id, rev, set: { pattern } }])
        }
      />
      <p className="mt-1 text-[12px] text-soft">
        <span className="figure">{'{family}'}</span>, <span className="figure">{'{source}'}</span> and{' '}
        <span className="figure">{'{number}'}</span> are filled in, the number as wide as the largest, so that names
        sort; a name that is taken gets the next number. A slice that has a name of its own keeps it.
      </p>
    </section>
  );
}
