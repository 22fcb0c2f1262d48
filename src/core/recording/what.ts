/** Kind of recording; null where nobody has said. */
export const WHATS = ['song', 'loop', 'take', 'one-shot', 'other'] as const;
export type What = (typeof WHATS)[number];
