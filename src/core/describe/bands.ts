/** Edges in Hz of broad bands about an octave wide, used for texture and coherence. The last entry is the upper end. */
export const BROAD_EDGES_HZ = [80, 300, 700, 1500, 3000, 5000, 8000, 12000, 16000] as const;
export const BROAD_BANDS = BROAD_EDGES_HZ.length - 1;
