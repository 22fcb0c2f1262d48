/** Names of the processors that carry sound from the audio thread to a worker, and from a worker to it. */
export const CAPTURE = 'undercroft-capture';
export const FEED = 'undercroft-feed';
/** The file of both. */
export const CAPTURE_WORKLET = '/engine/capture.js';
