import { createStore } from '../parts/store';
import type { Instrument } from './door';

/** Which strokes choose the pad that they play; the others leave the chosen one. */
export type Choosing = 'pointer' | 'every' | 'none';

export const CHOOSING: readonly (readonly [Choosing, string])[] = [
  ['pointer', 'by the pointer'],
  ['every', 'by anything'],
  ['none', 'none: keep the chosen pad'],
];
const KEY = 'undercroft.choosing';

export const choosing = createStore<Choosing>('pointer');

/** Takes up the browser's setting. */
export function readChoosing(): void {
  const stored = localStorage.getItem(KEY);
  if (CHOOSING.some(([value]) => value === stored)) choosing.set(stored as Choosing);
}

export function setChoosing(rule: Choosing): void {
  localStorage.setItem(KEY, rule);
  choosing.set(rule);
}

/** Whether a stroke chooses its pad. */
export function chooses(by: Instrument): boolean {
  const rule = choosing.get();
  return rule === 'every' || (rule === 'pointer' && by === 'pointer');
}
