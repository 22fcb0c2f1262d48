import { useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';
import { useActions } from '../parts/actions';
import { tell } from '../parts/notice';

/**
 * One key opens the treatment of the hit that is chosen on a page; `hitId` is null where none is. `make` makes a hit of what
 * is chosen and returns its id, or null where nothing is.
 */
export function useTreatKey(hitId: string | null | undefined, make?: () => string | null): void {
  const router = useRouter();
  const open = () => {
    const id = hitId ?? make?.();
    if (id) router.push(`/hits/${id}`);
    else tell('Choose a hit, a slice or a pad that plays one first: this key then opens its treatment.');
  };
  useHotkeys('f4', open, { preventDefault: true });
  useActions([{ name: 'Treat the hit: level, tune, filter …', key: 'F4', run: open }]);
}
