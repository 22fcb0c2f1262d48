/** Most steps that a pad or a bus has, and a strip: a bus's level is one of its own. */
export const MAX_STEPS = 6;
export const STRIP_STEPS = MAX_STEPS + 1;
/** Most points of an equaliser that runs live, and the filter sections of the steepest of them. */
export const MAX_POINTS = 8;
export const POINT_SECTIONS = 4;
/** Frames of the blocks, counted by the engine's clock, at whose ends strips rest and rooms convolve. */
export const BLOCK = 128;
