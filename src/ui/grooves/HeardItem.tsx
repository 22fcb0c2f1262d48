import { MenuItem } from '@headlessui/react';
import { type ReactNode, useEffect } from 'react';

interface HeardItemProps {
  /** Has it heard when it is gone over. */
  readonly onHear: () => void;
  readonly onLeave: () => void;
  readonly onTake: () => void;
  readonly children: ReactNode;
}

/** An entry of a menu that is heard when the keys or the pointer come to it, and taken when it is pressed. */
export function HeardItem({ onHear, onLeave, onTake, children }: HeardItemProps) {
  return (
    <MenuItem>
      {({ focus }) => (
        <button
          type="button"
          className={`flex w-full items-baseline gap-3 rounded px-2 py-[3px] text-left ${focus ? 'bg-selection' : ''}`}
          onClick={onTake}
        >
          <Hearing isOn={focus} onHear={onHear} onLeave={onLeave} />
          {children}
        </button>
      )}
    </MenuItem>
  );
}

function Hearing({ isOn, onHear, onLeave }: Pick<HeardItemProps, 'onHear' | 'onLeave'> & { isOn: boolean }) {
  // biome-ignore lint/correctness/useExhaustiveDependencies: heard once when it is come to
  useEffect(() => {
    if (!isOn) return;
    onHear();
    return onLeave;
  }, [isOn]);
  return null;
}
