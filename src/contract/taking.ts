/** What becomes of a file: a recording to slice, a hit at once, or by its length and strikes. */
export const TAKE_AS = ['recording', 'hit', 'auto'] as const;
export type TakeAs = (typeof TAKE_AS)[number];

/** What is done to hits on the way in; all of it can be taken back later. */
export const PREPARATIONS = ['dc', 'ends', 'peak', 'loudness', 'root'] as const;
export type Preparation = (typeof PREPARATIONS)[number];

/** Whether preparations go together: a level goes by peak or by loudness, not both. */
export function goTogether(list: readonly Preparation[]): boolean {
  return !(list.includes('peak') && list.includes('loudness'));
}
