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
/** Buses of a kit, from 1 on; the last two get what pads send to the kit's room and its echo. Bus 0 is what is heard. */
export const KIT_BUSES = 32;
export const ROOM_BUS = KIT_BUSES - 1;
export const ECHO_BUS = KIT_BUSES;
/** What of the engine is heard instead of one pad or bus: everything, or only what goes through no bus. */
export const [ALL, STRAIGHT_OUT] = [-1, -2] as const;
/** Programs of the engine: those of the pads, then those of the buses. */
export const PROGRAMS = MAX_PADS + KIT_BUSES;

/** The place of a bus among the programs. */
export function programOfBus(bus: number): number {
  return MAX_PADS + bus - 1;
}
