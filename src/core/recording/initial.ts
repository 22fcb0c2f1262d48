import type { Recording, Slice } from './model';

/** A recording as it arrives, in what has been added since the first ones did. */
export const RECORDING_INITIAL = { pattern: '' } satisfies Partial<Recording>;

/** A slice as it is made when nothing else is said of it. */
export const SLICE_INITIAL = {
  family: null,
  name: '',
  locked: false,
  keepFrame: null,
  shelf: null,
  also: [],
} satisfies Partial<Slice>;
