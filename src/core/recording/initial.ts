import type { Recording, Slice } from './model';

/** Initial values of fields that were added to recordings later. */
export const RECORDING_INITIAL = {
  pattern: '',
  supplied: false,
  origins: [] as Recording['origins'],
} satisfies Partial<Recording>;

/** Initial values of a slice. */
export const SLICE_INITIAL = {
  family: null,
  name: '',
  locked: false,
  keepFrame: null,
  shelf: null,
  also: [],
} satisfies Partial<Slice>;
