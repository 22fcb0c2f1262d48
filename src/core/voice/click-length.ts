/** How long the click of the metronome is, in seconds. */
export const CLICK_S = 0.05;
