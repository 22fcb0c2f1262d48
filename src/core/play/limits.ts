/** Most layers of a pad: for validation, page and engine. */
export const MAX_LAYERS = 8;
/** Places of a kit: one for each MIDI note. Engine pads beyond them are for auditioning. */
export const KIT_PADS = 128;
export const MAX_PADS = KIT_PADS + 32;
