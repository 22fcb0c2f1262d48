import type { StepSound } from '../live/figures';
import type { PadSound } from '../play/program';
import type { BusStep, PadStep } from '../treatment/live';
import type { Bus, Pad } from './model';

/** A pad's program with other values than its own, its sounds being where they are. */
export type PadProgram = (pad: Pad, steps: readonly PadStep[]) => PadSound;
/** What the engine does on a bus with other values than its own. */
export type BusProgram = (bus: Bus, steps: readonly BusStep[]) => readonly StepSound[];

/** How the programs of a kit come of its values, for pads by position and buses by their place in the engine. */
export interface Programs {
  readonly pad: (position: number) => PadProgram | null;
  readonly bus: (place: number) => BusProgram | null;
}

/** Those of a kit of which nothing can be moved. */
export const NO_PROGRAMS: Programs = { pad: () => null, bus: () => null };
