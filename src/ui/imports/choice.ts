import { goTogether, PREPARATIONS, TAKE_AS } from '@/contract/taking';
import type { ImportChoice } from './queue';

const KEY = 'undercroft.import';

/** Import settings, as the person last chose them. */
export function readChoice(): ImportChoice {
  try {
    const { takeAs, prepare } = JSON.parse(localStorage.getItem(KEY) ?? '') as ImportChoice;
    if (TAKE_AS.includes(takeAs) && prepare.every((one) => PREPARATIONS.includes(one)) && goTogether(prepare))
      return { takeAs, prepare };
  } catch {
    // Nothing was stored, or it is of another version.
  }
  return { takeAs: 'auto', prepare: [] };
}

export function keepChoice(choice: ImportChoice): void {
  localStorage.setItem(KEY, JSON.stringify(choice));
}
