/** Longest performance that is kept, in seconds. */
export const LONGEST_PERFORMANCE_S = 600;
