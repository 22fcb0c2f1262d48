import type { Family } from '../family';
import { sparse } from '../parameter/values';
import { KIT_PADS } from '../play/limits';
import { noteOf, noteOfPlace } from './layout';
import type { LayoutPlace, Pad } from './model';
import { ROLE_PARAMETERS } from './parameters';

type Role = readonly [note: number, name: string, family: Family];

/** The percussion key map of General MIDI Level 1 (MIDI Association RP-003), with the family that each sounds like. */
const GENERAL_MIDI: readonly Role[] = [
  [35, 'Acoustic bass drum', 'kick'],
  [36, 'Bass drum 1', 'kick'],
  [37, 'Side stick', 'rim'],
  [38, 'Acoustic snare', 'snare'],
  [39, 'Hand clap', 'clap'],
  [40, 'Electric snare', 'snare'],
  [41, 'Low floor tom', 'tom'],
  [42, 'Closed hi-hat', 'closed hat'],
  [43, 'High floor tom', 'tom'],
  [44, 'Pedal hi-hat', 'closed hat'],
  [45, 'Low tom', 'tom'],
  [46, 'Open hi-hat', 'open hat'],
  [47, 'Low-mid tom', 'tom'],
  [48, 'Hi-mid tom', 'tom'],
  [49, 'Crash cymbal 1', 'cymbal'],
  [50, 'High tom', 'tom'],
  [51, 'Ride cymbal 1', 'cymbal'],
  [52, 'Chinese cymbal', 'cymbal'],
  [53, 'Ride bell', 'cymbal'],
  [54, 'Tambourine', 'percussion'],
  [55, 'Splash cymbal', 'cymbal'],
  [56, 'Cowbell', 'percussion'],
  [57, 'Crash cymbal 2', 'cymbal'],
  [58, 'Vibraslap', 'percussion'],
  [59, 'Ride cymbal 2', 'cymbal'],
  [60, 'Hi bongo', 'percussion'],
  [61, 'Low bongo', 'percussion'],
  [62, 'Mute hi conga', 'percussion'],
  [63, 'Open hi conga', 'percussion'],
  [64, 'Low conga', 'percussion'],
  [65, 'High timbale', 'percussion'],
  [66, 'Low timbale', 'percussion'],
  [67, 'High agogo', 'percussion'],
  [68, 'Low agogo', 'percussion'],
  [69, 'Cabasa', 'percussion'],
  [70, 'Maracas', 'percussion'],
  [71, 'Short whistle', 'percussion'],
  [72, 'Long whistle', 'percussion'],
  [73, 'Short guiro', 'percussion'],
  [74, 'Long guiro', 'percussion'],
  [75, 'Claves', 'percussion'],
  [76, 'Hi wood block', 'percussion'],
  [77, 'Low wood block', 'percussion'],
  [78, 'Mute cuica', 'percussion'],
  [79, 'Open cuica', 'percussion'],
  [80, 'Mute triangle', 'percussion'],
  [81, 'Open triangle', 'percussion'],
];

/** Notes that cut one another off: the exclusive classes of General MIDI Level 2 (MIDI Association RP-024; from memory). */
const EXCLUSIVE: readonly (readonly number[])[] = [
  [42, 44, 46],
  [71, 72],
  [73, 74],
  [78, 79],
  [80, 81],
];

/** The percussion of General MIDI, each role on the place whose note it has. */
export function generalMidiLayout(): LayoutPlace[] {
  const places = new Map(Array.from({ length: KIT_PADS }, (_, position) => [noteOfPlace(position), position]));
  return GENERAL_MIDI.map(([note, role, family]) => {
    const group = EXCLUSIVE.findIndex((notes) => notes.includes(note)) + 1;
    const settings = group > 0 ? { chokeGroup: group } : {};
    return { position: places.get(note) as number, role, family, note: null, settings };
  });
}

/** Rising semitones from a note on, from the first place of the lowest row: as many as there are notes, at most `count`. */
export function chromaticLayout(from: number, count: number, nameOf: (note: number) => string): LayoutPlace[] {
  return Array.from({ length: Math.max(0, Math.min(count, 128 - from)) }, (_, position) => {
    const note = from + position;
    const own = noteOfPlace(position) === note ? null : note;
    return { position, role: nameOf(note), family: 'tonal', note: own, settings: {} };
  });
}

/** The layout of a kit: what each pad is, by its role or else its name, and on wish how it plays. */
export function layoutOf(pads: readonly Pad[], withSettings: boolean): LayoutPlace[] {
  const taken = new Set<string>();
  return pads.map((pad) => {
    const wanted = pad.role || pad.name;
    let role = wanted;
    for (let n = 2; taken.has(role); n++) role = `${wanted} ${n}`;
    taken.add(role);
    const settings = withSettings ? sparse(ROLE_PARAMETERS, pad) : {};
    const { position, family, note } = pad;
    return { position, role, family, note, settings } as LayoutPlace;
  });
}

/** The pad of a role: the one that has it, else the substitute that plays its note, else one of its family that sounds. */
export function padOfRole<P extends Pad>(
  place: LayoutPlace,
  pads: readonly P[],
): { readonly pad: P; readonly isSubstitute: boolean } | null {
  const own = pads.find(({ role }) => role === place.role);
  if (own) return { pad: own, isSubstitute: false };
  const note = place.note ?? noteOfPlace(place.position);
  const other =
    pads.find((pad) => noteOf(pad) === note) ?? pads.find(({ family }) => family !== null && family === place.family);
  return other ? { pad: other, isSubstitute: true } : null;
}
