import { useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';
import { useActions } from '../parts/actions';
import { tell } from '../parts/notice';

/** One key opens the treatment of the hit that is chosen on a page; `hitId` is null where none is. */
export function useTreatKey(hitId: string | null | undefined): void {
  const router = useRouter();
  const open = () => {
    if (hitId) router.push(`/hits/${hitId}`);
    else tell('Choose a hit first, or a pad that plays one: this key then opens its treatment.');
  };
  useHotkeys('f4', open, { preventDefault: true });
  useActions([{ name: 'Treat the hit: level, tune, filter …', key: 'F4', run: open }]);
}
