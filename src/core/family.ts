/** The kinds of drum sound, in the order of the pads' rows. */
export const FAMILIES = [
  'kick',
  'tom',
  'snare',
  'rim',
  'clap',
  'closed hat',
  'open hat',
  'cymbal',
  'percussion',
  'tonal',
  'voice',
  'effect',
] as const;
export type Family = (typeof FAMILIES)[number];
