import { Menu, MenuButton, MenuItems } from '@headlessui/react';
import { ChevronDown } from 'lucide-react';
import { type ComponentType, memo } from 'react';

interface ToolMenuProps {
  readonly label: string;
  readonly width: string;
  readonly isAtEnd?: boolean;
  /** Its entries: they read what they work on themselves, so that a closed menu need not be drawn anew. */
  readonly Entries: ComponentType;
}

/** A menu of the line of tools. */
export const ToolMenu = memo(function ToolMenu({ label, width, isAtEnd = false, Entries }: ToolMenuProps) {
  return (
    <Menu>
      <MenuButton className="quiet-button inline-flex items-center gap-1 whitespace-nowrap">
        {label} <ChevronDown size={12} aria-hidden />
      </MenuButton>
      <MenuItems
        anchor={isAtEnd ? 'bottom end' : 'bottom start'}
        className={`z-40 mt-1 ${width} rounded-lg border border-edge bg-sheet p-1 shadow-lg outline-none`}
      >
        <Entries />
      </MenuItems>
    </Menu>
  );
});
