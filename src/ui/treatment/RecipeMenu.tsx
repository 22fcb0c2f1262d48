'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useState } from 'react';
import { type ChainStep, strengthened } from '@/core/treatment/chain';
import { processorOf } from '@/core/treatment/processors';
import { RECIPES } from '@/core/treatment/recipes';
import { useCommands } from '../data/commit';
import { useNamed } from '../data/queries';
import { tell } from '../parts/notice';
import { useStore } from '../parts/store';
import { Amount } from './Amount';
import { Applied } from './Applied';
import { addChain, copiedChain } from './chains';
import { KeepRecipe } from './KeepRecipe';
import { OneStep } from './OneStep';
import { isRecording, type Subject } from './subject';
import type { Targets } from './targets';

interface RecipeMenuProps {
  /** What the steps are added to, worked out when some are chosen. */
  readonly targets: () => Targets;
  /** How many that are. */
  readonly count: number;
  readonly label: string;
  readonly className?: string;
  /** The hit or recording whose steps can be kept as a recipe. */
  readonly keeps?: Subject;
  readonly up?: boolean;
}

/** Half way up the bar a recipe has its usual strength. */
const USUAL = 0.5;

/** Adds a chain of steps to hits or a recording: a recipe with an amount, or the steps copied from elsewhere. */
export function RecipeMenu({ targets, count, label, className, keeps, up = false }: RecipeMenuProps) {
  const { commit } = useCommands();
  const own = useNamed('recipe').data ?? [];
  const copied = useStore(copiedChain);
  const [amount, setAmount] = useState(USUAL);
  const [shown, setShown] = useState<readonly Subject[] | null>(null);
  const add = (name: string, chain: readonly ChainStep[]) => {
    const { subjects, changes } = targets();
    if (subjects.length === 0) return;
    const what = subjects.length === 1 ? subjects[0]?.name : `${subjects.length} hits`;
    // A recording of many sounds takes the steps that have a meaning for it.
    const fitting = subjects.some(isRecording) ? chain.filter(ofRecordings) : chain;
    if (fitting.length < chain.length)
      tell(`Left out, since they shape single sounds: ${told(chain.filter((step) => !fitting.includes(step)))}.`);
    if (fitting.length === 0) return;
    void commit(`added ${name} to ${what}`, [...changes, ...addChain(subjects, fitting, () => crypto.randomUUID())]);
    if (subjects.length > 1) setShown(subjects);
  };
  return (
    <>
      <Popover className="relative">
        <PopoverButton className={className ?? 'quiet-button whitespace-nowrap'} disabled={count === 0}>
          {label}
        </PopoverButton>
        <PopoverPanel
          anchor={up ? 'top start' : 'bottom end'}
          className="z-30 flex max-h-[560px] w-[480px] flex-col rounded-lg border border-edge bg-sheet p-2 shadow-lg [--anchor-gap:6px]"
        >
          {({ close }) => {
            const addAnd = (name: string, chain: readonly ChainStep[]) => () => {
              add(name, chain);
              close();
            };
            return (
              <>
                <Amount amount={amount} onAmount={setAmount} />
                <div className="min-h-0 overflow-y-auto">
                  {RECIPES.map(({ name, help, steps }) => (
                    <Entry key={name} name={name} help={help} onClick={addAnd(name.toLowerCase(), steps(amount))} />
                  ))}
                  {own.map((recipe) => (
                    <Entry
                      key={recipe.id}
                      name={recipe.name}
                      help={recipe.about || told(recipe.steps)}
                      onClick={addAnd(recipe.name, strengthened(recipe.steps, amount / USUAL))}
                      onRemove={() =>
                        void commit(`removed the recipe ${recipe.name}`, [
                          { op: 'remove', doc: 'recipe', id: recipe.id, rev: recipe.rev },
                        ])
                      }
                    />
                  ))}
                  {copied && copied.chain.length > 0 && (
                    <Entry
                      name="Copied steps"
                      help={`the ${copied.chain.length} steps of ${copied.from}`}
                      onClick={addAnd(`the steps of ${copied.from}`, copied.chain)}
                    />
                  )}
                </div>
                <p className="px-2 pt-2 text-[12px] text-soft">
                  They are added as steps, each of which can be changed or taken out later.
                </p>
                {keeps && keeps.steps.length > 0 && <KeepRecipe subject={keeps} recipes={own} />}
                {count > 1 && <OneStep onAdd={(name, step) => addAnd(name, [step])()} />}
              </>
            );
          }}
        </PopoverPanel>
      </Popover>
      {shown && <Applied subjects={shown} onClose={() => setShown(null)} />}
    </>
  );
}

function ofRecordings({ processor, to }: ChainStep): boolean {
  return !processorOf(processor).singleSound && (processor !== 'level' || to === undefined || to === 'gain');
}

/** The steps of a chain in a few words. */
export function told(chain: readonly ChainStep[]): string {
  return chain.map(({ processor }) => processorOf(processor).label.toLowerCase()).join(', ');
}

function Entry({
  name,
  help,
  onClick,
  onRemove,
}: {
  name: string;
  help: string;
  onClick: () => void;
  onRemove?: () => void;
}) {
  return (
    <div className="flex items-baseline rounded hover:bg-selection">
      <button type="button" className="flex min-w-0 flex-1 items-baseline gap-2 px-2 py-1 text-left" onClick={onClick}>
        <span className="w-[136px] flex-none truncate">{name}</span>
        <span className="text-[12px] text-soft">{help}</span>
      </button>
      {onRemove && (
        <button
          type="button"
          className="px-2 text-[12px] text-soft hover:text-madder"
          aria-label={`Remove the recipe ${name}`}
          onClick={onRemove}
        >
          remove
        </button>
      )}
    </div>
  );
}
