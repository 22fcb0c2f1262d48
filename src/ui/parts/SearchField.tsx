import type { Ref } from 'react';

/** A search field of a list. Enter and down-arrow go to the first result; Escape leaves it without clearing. */
export function SearchField({
  label,
  value,
  onChange,
  onFirst,
  field,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
  /** Moves the focus to the list's first row. */
  onFirst: () => void;
  field: Ref<HTMLInputElement>;
}) {
  return (
    <input
      ref={field}
      type="search"
      aria-label={label}
      placeholder="Search  ( / )"
      className="h-7 w-[190px] rounded-md border border-line px-2"
      value={value}
      onChange={(event) => onChange(event.target.value)}
      onKeyDown={(event) => {
        if (event.key !== 'Escape' && event.key !== 'Enter' && event.key !== 'ArrowDown') return;
        // The browser would clear the field on Escape.
        event.preventDefault();
        event.stopPropagation();
        event.currentTarget.blur();
        if (event.key !== 'Escape') onFirst();
      }}
    />
  );
}
