import { goTogether, PREPARATIONS, TAKE_AS } from '@/contract/taking';
import type { ImportChoice } from './queue';

const KEY = 'undercroft.import';

/** How files come in unless something else is asked: as the person last chose. */
export function readChoice(): ImportChoice {
  try {
    const { takeAs, prepare } = JSON.parse(localStorage.getItem(KEY) ?? '') as ImportChoice;
    if (TAKE_AS.includes(takeAs) && prepare.every((one) => PREPARATIONS.includes(one)) && goTogether(prepare))
      return { takeAs, prepare };
  } catch {
    // Nothing was kept, or what was kept is of another version.
  }
  return { takeAs: 'auto', prepare: [] };
}

export function keepChoice(choice: ImportChoice): void {
  localStorage.setItem(KEY, JSON.stringify(choice));
}
