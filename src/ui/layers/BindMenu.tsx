import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import Link from 'next/link';
import { type KeyboardEvent, useState } from 'react';
import type { HitView } from '@/contract/views';
import { bindingRecipes } from '@/core/treatment/binding';
import { stepsOf } from '@/core/treatment/chain';
import { RECIPES, type Recipe } from '@/core/treatment/recipes';
import { useCommands } from '../data/commit';
import { Amount } from '../treatment/Amount';
import { addChain } from '../treatment/chains';
import { hitSubject } from '../treatment/subject';
import type { Building } from './use-building';

interface BindMenuProps {
  readonly hit: HitView;
  readonly building: Building;
}

/** Edges of the three bands where the layers do not share the spectrum, in hertz. */
const USUAL_EDGES = [150, 2500] as const;

/** Steps on the sum: recipes are tried one after another at one loudness, and taken. */
export function BindMenu({ hit, building }: BindMenuProps) {
  const { commit } = useCommands();
  const { setTrial, hear } = building;
  const [amount, setAmount] = useState(0.5);
  const [tried, setTried] = useState<number | null>(null);
  const low = hit.edgesHz[0] ?? USUAL_EDGES[0];
  const high = hit.edgesHz.at(-1) ?? USUAL_EDGES[1];
  const recipes = [...bindingRecipes([low, high > low ? high : Math.max(USUAL_EDGES[1], 2 * low)]), ...RECIPES];
  const tryOut = (n: number | null, strength = amount) => {
    setTried(n);
    const recipe = n === null ? undefined : recipes[n];
    if (!recipe) {
      setTrial(null);
      return;
    }
    const of = (one: HitView) => bound(one, recipe, strength);
    setTrial({ name: `bind ${recipe.name} ${strength}`, of, matched: true });
    hear(of(hit));
  };
  const take = () => {
    const recipe = tried === null ? undefined : recipes[tried];
    setTrial(null);
    setTried(null);
    if (!recipe) return;
    const chain = recipe.steps(amount);
    void commit(
      `bound ${hit.name}: ${recipe.name.toLowerCase()}`,
      addChain([hitSubject(hit)], chain, () => crypto.randomUUID()),
    );
  };
  const flip = (event: KeyboardEvent) => {
    const by = event.key === 'ArrowDown' ? 1 : event.key === 'ArrowUp' ? -1 : 0;
    if (by === 0) return;
    event.preventDefault();
    tryOut(tried === null ? 0 : (tried + by + recipes.length) % recipes.length);
  };
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button">Bind</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 flex max-h-[520px] w-[440px] flex-col rounded-lg border border-edge bg-sheet p-2 shadow-lg [--anchor-gap:6px]"
        onKeyDown={flip}
      >
        {({ close }) => (
          <>
            <Amount
              amount={amount}
              onAmount={(next) => {
                setAmount(next);
                if (tried !== null) tryOut(tried, next);
              }}
            />
            <div className="min-h-0 flex-1 overflow-y-auto">
              {recipes.map(({ name, help }, n) => (
                <button
                  key={name}
                  type="button"
                  aria-pressed={n === tried}
                  className={`flex w-full items-baseline gap-2 rounded px-2 py-1 text-left hover:bg-selection ${n === tried ? 'bg-selection' : ''}`}
                  onClick={() => tryOut(n)}
                >
                  <span className="w-[130px] flex-none truncate">{name}</span>
                  <span className="text-[12px] text-soft">{help}</span>
                </button>
              ))}
            </div>
            <div className="mt-2 flex flex-none items-center gap-2 px-2">
              <Link className="text-[12px] text-verdigris underline" href={`/hits/${hit.id}`}>
                All steps of the sum · {hit.steps.length}
              </Link>
              <button
                type="button"
                className="quiet-button ml-auto"
                disabled={tried === null}
                onClick={() => tryOut(null)}
              >
                As it was
              </button>
              <button
                type="button"
                className="next-button"
                disabled={tried === null}
                onClick={() => {
                  take();
                  close();
                }}
              >
                Take it
              </button>
            </div>
            <p className="px-2 pt-1 text-[12px] text-soft">
              ↑ ↓ flip through them at one loudness; each can be changed later.
            </p>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** A hit with a recipe's steps after its own, not stored. */
function bound(hit: HitView, recipe: Recipe, amount: number): HitView {
  const more = stepsOf(hit.id, recipe.steps(amount), () => 'tried').map((step) => ({ ...step, rev: 1, hitId: hit.id }));
  return { ...hit, steps: [...hit.steps, ...more] };
}
