import { Prepare, TakeAs } from '@/contract/imports';
import type { ImportChoice } from './queue';

const KEY = 'undercroft.import';

/** How files come in unless something else is asked: as the person last chose. */
export function readChoice(): ImportChoice {
  try {
    const kept = JSON.parse(localStorage.getItem(KEY) ?? '') as ImportChoice;
    return { takeAs: TakeAs.parse(kept.takeAs), prepare: Prepare.parse(kept.prepare) };
  } catch {
    return { takeAs: 'auto', prepare: [] };
  }
}

export function keepChoice(choice: ImportChoice): void {
  localStorage.setItem(KEY, JSON.stringify(choice));
}
