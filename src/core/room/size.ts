export interface RoomSettings {
  /** A rectangular room with reflections off its walls, or a plate, which is dense at once. */
  readonly kind: 'room' | 'plate';
  /** Time in which the sound falls by 60 dB, in seconds (ISO 3382-1). */
  readonly decayS: number;
  /** The room's longest side, in metres. */
  readonly sizeM: number;
  /** From the sound to the ear, in metres. */
  readonly distanceM: number;
  /** Share of the decay time that high frequencies have, 0..1. */
  readonly tone: number;
  /** 0: the same on both sides; 1: nothing in common. */
  readonly width: number;
}

/** In metres a second. */
export const SPEED_OF_SOUND = 343;
/** The response ends where it has fallen by this much. */
const FLOOR_DB = 66;

/** Seconds until anything comes back. */
export function onsetS({ kind, distanceM }: Pick<RoomSettings, 'kind' | 'distanceM'>): number {
  return kind === 'plate' ? 0 : distanceM / SPEED_OF_SOUND;
}

/** Frames of a room's response. */
export function roomFrames(settings: Pick<RoomSettings, 'kind' | 'distanceM' | 'decayS'>, sampleRate: number): number {
  return Math.ceil((onsetS(settings) + (settings.decayS * FLOOR_DB) / 60) * sampleRate) + 1;
}
