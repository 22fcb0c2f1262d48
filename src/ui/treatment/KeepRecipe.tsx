'use client';

import { useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { Change } from '@/contract/edits';
import { chainOf } from '@/core/treatment/chain';
import type { Recipe } from '@/core/treatment/model';
import { useCommands } from '../data/commit';
import { tell } from '../parts/notice';
import type { Subject } from './subject';

/** Keeps the steps of a hit or a recording as a recipe; a name that is known replaces that recipe's steps. */
export function KeepRecipe({ subject, recipes }: { subject: Subject; recipes: readonly Stored<Recipe>[] }) {
  const { commit } = useCommands();
  const [name, setName] = useState('');
  const [about, setAbout] = useState('');
  const wanted = name.trim();
  const known = recipes.find((recipe) => recipe.name.toLocaleLowerCase('en') === wanted.toLocaleLowerCase('en'));
  const keep = () => {
    const steps = chainOf(subject.steps);
    const said = about.trim();
    const change: Change = known
      ? {
          op: 'update',
          doc: 'recipe',
          id: known.id,
          rev: known.rev,
          set: { steps, ...(said === '' ? {} : { about: said }) },
        }
      : { op: 'create', doc: 'recipe', id: crypto.randomUUID(), value: { name: wanted, about: said, steps } };
    void commit(`${known ? 'changed' : 'kept'} the recipe ${wanted}`, [change]);
    tell(`“${wanted}” ${known ? 'has these steps now' : 'is kept as a recipe'}.`);
    setName('');
    setAbout('');
  };
  return (
    <form
      className="mt-2 flex flex-none items-center gap-2 border-line border-t px-2 pt-2 text-[12px]"
      onSubmit={(event) => {
        event.preventDefault();
        if (wanted !== '') keep();
      }}
    >
      <input
        className="w-[128px] rounded border border-line px-1"
        aria-label="Name of a recipe of these steps"
        placeholder={`Keep these ${subject.steps.length} as …`}
        maxLength={120}
        value={name}
        onChange={(event) => setName(event.target.value)}
      />
      <input
        className="min-w-0 flex-1 rounded border border-line px-1"
        aria-label="What the recipe does"
        placeholder={known?.about || 'what it does, in words'}
        maxLength={300}
        value={about}
        onChange={(event) => setAbout(event.target.value)}
      />
      <button type="submit" className="quiet-button" disabled={wanted === ''}>
        {known ? 'Replace' : 'Keep'}
      </button>
    </form>
  );
}
