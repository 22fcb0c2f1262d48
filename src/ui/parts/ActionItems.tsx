import { MenuItem } from '@headlessui/react';

/** What an entry of a menu is called, whether it can be done now, and what it does. */
export type ActionItem = readonly [label: string, isOpen: boolean, run: () => void];

/** Entries of a menu that each do something. */
export function ActionItems({ actions }: { actions: readonly ActionItem[] }) {
  return actions.map(([label, isOpen, run]) => (
    <MenuItem key={label} disabled={!isOpen}>
      <button
        type="button"
        className="block w-full truncate rounded px-2 py-1 text-left data-disabled:text-soft data-focus:bg-selection"
        onClick={run}
      >
        {label}
      </button>
    </MenuItem>
  ));
}
