/** Most sounds that a stroke plays at once: the layers of a pad that are not takes, or the one take. */
export const MAX_TOGETHER = 8;
/** Most sounds of a pad, its takes included: for validation, page and engine. */
export const MAX_LAYERS = 32;
/** Most things that move a pad's sound. */
export const MAX_MOVES = 16;
/** Most slices by which a pad plays a loop. */
export const MAX_CUTS = 128;
/** Places of a kit: one for each MIDI note. Engine pads beyond them are for auditioning. */
export const KIT_PADS = 128;
export const MAX_PADS = KIT_PADS + 32;
