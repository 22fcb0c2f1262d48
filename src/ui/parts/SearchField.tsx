import type { Ref } from 'react';

/** A field to search a list by typing; Escape leaves it, what was typed stays. */
export function SearchField({
  label,
  value,
  onChange,
  field,
}: {
  label: string;
  value: string;
  onChange: (value: string) => void;
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
      onKeyDown={(event) => event.key === 'Escape' && event.currentTarget.blur()}
    />
  );
}
