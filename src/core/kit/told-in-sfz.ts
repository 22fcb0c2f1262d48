import type { Opcodes } from '../format/sfz';
import { noteOf } from './layout';
import type { Pad } from './model';
import { groupOf } from './pad-sound';
import type { PadValues } from './parameters';

/** `printed` into the WAV file, part of another parameter (`with`), or opcodes of its own. */
type Told = 'printed' | { readonly with: keyof PadValues } | ((pad: Pad, volumeDb: number) => Opcodes);

/** Release time of a held pad, as in the engine. */
const RELEASE_S = 0.06;

/** How each parameter of a pad is exported to SFZ; the compiler requires every one. */
const TOLD = {
  note: (pad) => ({ key: noteOf(pad), pitch_keycenter: noteOf(pad) }),
  levelDb: (_, volumeDb) => ({ volume: volumeDb }),
  pan: ({ pan }) => ({ pan: pan * 100 }),
  mode: ({ mode }) =>
    mode === 'held' ? { loop_mode: 'no_loop', ampeg_release: RELEASE_S } : { loop_mode: 'one_shot' },
  chokeGroup: (pad) => {
    const group = groupOf(pad);
    return group > 0 ? { group, off_by: group, off_mode: 'fast' } : {};
  },
  oneVoice: { with: 'chokeGroup' },
  normaliseDbfs: 'printed',
  semitones: 'printed',
  cents: 'printed',
  fadeOutMs: 'printed',
  startMs: 'printed',
} satisfies Record<keyof PadValues, Told>;

/** The opcodes of a pad; `volumeDb` is the part of its level that is not in its WAV file. */
export function opcodesOf(pad: Pad, volumeDb: number): Opcodes {
  const told: readonly Told[] = Object.values(TOLD);
  return Object.assign({}, ...told.map((t) => (typeof t === 'function' ? t(pad, volumeDb) : {})));
}

/** The parameters that are not in a pad's WAV file: its player has to apply them. */
export const LEFT_TO_PLAYER = (Object.keys(TOLD) as (keyof PadValues)[]).filter((key) => TOLD[key] !== 'printed');
