import { Combobox, ComboboxInput, ComboboxOption, ComboboxOptions } from '@headlessui/react';
import { type ReactNode, useState } from 'react';

/** So many are offered for what is typed. */
const MOST_SHOWN = 12;

interface FindInProps<T> {
  readonly label: string;
  readonly placeholder: string;
  readonly items: readonly T[];
  readonly keyOf: (item: T) => string;
  readonly nameOf: (item: T) => string;
  readonly row: (item: T) => ReactNode;
  readonly onPick: (item: T) => void;
  readonly onFocus?: () => void;
  /** The first are offered before anything is typed. */
  readonly immediate?: boolean;
  readonly className?: string;
}

/** Finds one of many by its name. */
export function FindIn<T>(props: FindInProps<T>) {
  const { label, placeholder, items, keyOf, nameOf, row, onPick, onFocus, immediate = false, className = '' } = props;
  const [query, setQuery] = useState('');
  const wanted = query.trim().toLocaleLowerCase('en');
  const named = items.filter((item) => nameOf(item).toLocaleLowerCase('en').includes(wanted));
  const found = wanted === '' && !immediate ? [] : named.slice(0, MOST_SHOWN);
  return (
    <Combobox
      value={null as T | null}
      immediate={immediate}
      onChange={(item) => {
        setQuery('');
        if (item !== null) onPick(item);
      }}
    >
      <ComboboxInput
        aria-label={label}
        className={`h-7 rounded-md border border-line px-2 ${className}`}
        placeholder={placeholder}
        displayValue={() => query}
        onChange={(event) => setQuery(event.target.value)}
        onFocus={onFocus}
      />
      <ComboboxOptions
        anchor="bottom start"
        className="z-30 w-[260px] rounded-lg border border-edge bg-sheet p-1 shadow-lg [--anchor-gap:4px] empty:invisible"
      >
        {found.map((item) => (
          <ComboboxOption
            key={keyOf(item)}
            value={item}
            className="flex cursor-pointer items-center gap-2 rounded px-2 py-1 data-focus:bg-selection"
          >
            {row(item)}
          </ComboboxOption>
        ))}
      </ComboboxOptions>
    </Combobox>
  );
}
