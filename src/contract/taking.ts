/** What a file becomes: a recording to slice, a hit at once, or either by its length and strikes. */
export const TAKE_AS = ['recording', 'hit', 'auto'] as const;
export type TakeAs = (typeof TAKE_AS)[number];

/** Preparations of imported hits; all can be undone later. */
export const PREPARATIONS = ['dc', 'ends', 'peak', 'loudness', 'root'] as const;
export type Preparation = (typeof PREPARATIONS)[number];

/** Whether preparations can be combined: a level is set by peak or by loudness, not both. */
export function goTogether(list: readonly Preparation[]): boolean {
  return !(list.includes('peak') && list.includes('loudness'));
}
