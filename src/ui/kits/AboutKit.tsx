'use client';

import type { Stored } from '@/contract/documents';
import type { Kit } from '@/core/kit/model';
import { LONGEST_NAME } from '@/core/naming/names';
import { TextArea, TextField } from '../parts/TextField';

const FIELD = 'min-w-0 flex-1 border border-transparent px-1 hover:border-line';
const LINE = 'flex h-[26px] items-center gap-2 border-line border-b';
const NAME = 'w-[88px] flex-none';
const LONGEST_ABOUT = 600;
const LONGEST_NOTES = 6000;

/** What the kit says of itself: it is found by these words, and they go along where it is handed on. */
export function AboutKit({ kit, onSet }: { kit: Stored<Kit>; onSet: (said: string, fields: Partial<Kit>) => void }) {
  const rows = [
    ['Author', kit.author, 'nobody yet', LONGEST_NAME, (author: string) => onSet('author', { author })],
    [
      'Words',
      kit.words.join(', '),
      'dry, cellar, slow …',
      LONGEST_ABOUT,
      (typed: string) => onSet('words', { words: wordsOf(typed) }),
    ],
    [
      'Description',
      kit.about,
      'what it is, in a sentence',
      LONGEST_ABOUT,
      (about: string) => onSet('description', { about }),
    ],
  ] as const;
  return (
    <section aria-label="About the kit" className="mt-2">
      <h2 className="font-semibold text-[12px] text-soft">About</h2>
      {rows.map(([name, value, placeholder, most, set]) => (
        <div key={name} className={LINE}>
          <span className={NAME}>{name}</span>
          <TextField
            label={`${name} of the kit`}
            value={value}
            maxLength={most}
            mayBeEmpty
            placeholder={placeholder}
            className={FIELD}
            onCommit={set}
          />
        </div>
      ))}
      <TextArea
        label="Notes on the kit"
        value={kit.notes}
        maxLength={LONGEST_NOTES}
        placeholder="Notes"
        className="mt-1 h-[54px] w-full resize-none rounded border border-line bg-transparent px-1 text-[12px]"
        onCommit={(notes) => onSet('notes', { notes })}
      />
    </section>
  );
}

/** Words as they are typed, parted by commas; each once. */
function wordsOf(typed: string): string[] {
  const words = typed.split(',').map((word) => word.trim().slice(0, 40));
  return [...new Set(words.filter((word) => word !== ''))].slice(0, 24);
}
