import type { Opcodes } from '../format/sfz';
import { FULL_VELOCITY_DB } from '../play/gains';
import { PERIODS } from '../signal/periods';
import { followsTempo } from './fit';
import { noteOf } from './layout';
import type { Pad } from './model';
import { SOURCES, TARGETS } from './moving';
import type { PlayedPad } from './pad-sound';
import { PAD_INITIAL, type PadValues } from './parameters';

/** What of a pad is not in its files, and what a file's print and the kit give. */
interface Telling {
  readonly pad: Pad;
  /** The part of the pad's level that is not in its WAV file. */
  readonly volumeDb: number;
  readonly tempoBpm: number;
  /** The loop in frames of the WAV file, both ends inside it; null without one. */
  readonly loop: { readonly start: number; readonly end: number } | null;
}

/** `printed` into the WAV file, part of another parameter (`with`), or opcodes of its own. */
type Told = 'printed' | { readonly with: keyof PadValues } | ((of: Telling) => Opcodes);

const SECONDS = 1000;
const CENTS = 1200;

/** Stages of an envelope as opcodes; nothing where it does nothing. */
function stages(name: 'level' | 'filter' | 'pitch', opcode: 'ampeg' | 'fileg' | 'pitcheg') {
  return ({ pad }: Telling): Opcodes => {
    const falls = pad[`${name}DecayMs`] !== null || pad[`${name}Sustain`] !== null;
    const timed = [
      ['attack', pad[`${name}AttackMs`]],
      ['hold', pad[`${name}HoldMs`]],
      ['decay', falls ? pad[`${name}DecayMs`] : null],
    ] as const;
    const told = timed.flatMap(([stage, ms]) => (ms ? [[`${opcode}_${stage}`, ms / SECONDS] as const] : []));
    const sustain = falls ? [[`${opcode}_sustain`, 100 * (pad[`${name}Sustain`] ?? 0)] as const] : [];
    const release = pad.mode === 'one-shot' ? [] : [[`${opcode}_release`, pad[`${name}ReleaseMs`] / SECONDS] as const];
    return Object.fromEntries([...told, ...sustain, ...release]);
  };
}

/** How each parameter of a pad is exported to SFZ; the compiler requires every one. */
const TOLD = {
  note: ({ pad }) => ({ key: noteOf(pad), pitch_keycenter: noteOf(pad) }),
  levelDb: ({ volumeDb }) => ({ volume: volumeDb }),
  pan: ({ pad }) => ({ pan: pad.pan * 100 }),
  mode: ({ pad, loop }) => {
    if (pad.mode === 'one-shot') return { loop_mode: 'one_shot' };
    if (pad.mode === 'held' || !loop) return { loop_mode: 'no_loop' };
    return { loop_mode: 'loop_continuous', loop_start: loop.start, loop_end: loop.end };
  },
  chokeGroup: ({ pad: { chokeGroup } }) =>
    chokeGroup > 0 ? { group: chokeGroup, off_by: chokeGroup, off_mode: 'fast' } : {},
  // Version 2; the format's fast mode takes 6 ms.
  chokeMs: ({ pad }) =>
    pad.chokeGroup > 0 && pad.chokeMs !== PAD_INITIAL.chokeMs
      ? { off_mode: 'time', off_time: pad.chokeMs / SECONDS }
      : {},
  voices: ({ pad: { voices } }) => (voices === null ? {} : { note_polyphony: voices }),
  velocityDb: ({ pad }) => ({ amp_veltrack: (100 * pad.velocityDb) / FULL_VELOCITY_DB }),
  driftDb: ({ pad: { driftDb } }) => (driftDb > 0 ? { amp_random: driftDb } : {}),
  driftCents: ({ pad: { driftCents } }) => (driftCents > 0 ? { pitch_random: driftCents } : {}),
  filter: ({ pad: { filter, slope } }) => {
    if (filter === 'off') return {};
    const steep = slope === 24 && (filter === 'low' || filter === 'high');
    const kinds = { low: 'lpf', high: 'hpf', band: 'bpf', notch: 'brf' } as const;
    return { fil_type: `${kinds[filter]}_${steep ? 4 : 2}p` };
  },
  slope: { with: 'filter' },
  cutoffHz: ({ pad }) => (pad.filter === 'off' ? {} : { cutoff: pad.cutoffHz }),
  // Decibels over the flattest response.
  resonance: ({ pad }) =>
    pad.filter === 'off' ? {} : { resonance: Math.min(40, Math.max(0, 20 * Math.log10(pad.resonance * Math.SQRT2))) },
  levelAttackMs: stages('level', 'ampeg'),
  levelHoldMs: { with: 'levelAttackMs' },
  levelDecayMs: { with: 'levelAttackMs' },
  levelSustain: { with: 'levelAttackMs' },
  levelReleaseMs: { with: 'levelAttackMs' },
  filterOctaves: (of) =>
    of.pad.filterOctaves === 0 || of.pad.filter === 'off'
      ? {}
      : { fileg_depth: of.pad.filterOctaves * CENTS, ...stages('filter', 'fileg')(of) },
  filterAttackMs: { with: 'filterOctaves' },
  filterHoldMs: { with: 'filterOctaves' },
  filterDecayMs: { with: 'filterOctaves' },
  filterSustain: { with: 'filterOctaves' },
  filterReleaseMs: { with: 'filterOctaves' },
  pitchSemitones: (of) =>
    of.pad.pitchSemitones === 0
      ? {}
      : { pitcheg_depth: of.pad.pitchSemitones * 100, ...stages('pitch', 'pitcheg')(of) },
  pitchAttackMs: { with: 'pitchSemitones' },
  pitchHoldMs: { with: 'pitchSemitones' },
  pitchDecayMs: { with: 'pitchSemitones' },
  pitchSustain: { with: 'pitchSemitones' },
  pitchReleaseMs: { with: 'pitchSemitones' },
  moves: (of) => Object.assign({}, ...movesOf(of).map(({ opcodes }) => opcodes ?? {})),
  lfo1Form: { with: 'moves' },
  lfo1Period: { with: 'moves' },
  lfo1RateHz: { with: 'moves' },
  lfo1Strength: { with: 'moves' },
  lfo1Runs: { with: 'moves' },
  lfo2Form: { with: 'moves' },
  lfo2Period: { with: 'moves' },
  lfo2RateHz: { with: 'moves' },
  lfo2Strength: { with: 'moves' },
  lfo2Runs: { with: 'moves' },
  // What is heard while one works on the kit.
  muted: () => ({}),
  alone: () => ({}),
  // What comes together outside the pads: SFZ has no buses.
  roomSendDb: () => ({}),
  echoSendDb: () => ({}),
  // Each take is a region of its own.
  takeOrder: () => ({}),
  loopStartMs: { with: 'mode' },
  loopEndMs: { with: 'mode' },
  seamMs: 'printed',
  width: 'printed',
  normaliseDbfs: 'printed',
  semitones: 'printed',
  cents: 'printed',
  startMs: 'printed',
  endMs: 'printed',
  fadeInMs: 'printed',
  fadeOutMs: 'printed',
  reversed: 'printed',
  fit: 'printed',
  loopBpm: { with: 'fit' },
  cuts: { with: 'fit' },
} as const satisfies Record<keyof PadValues, Told>;

/** The opcodes of a pad's region. */
export function opcodesOf(of: Telling): Opcodes {
  const told: readonly Told[] = Object.values(TOLD);
  return Object.assign({}, ...told.map((t) => (typeof t === 'function' ? t(of) : {})));
}

/** The parameters that are not in a pad's WAV file: its player has to apply them. */
export const LEFT_TO_PLAYER = (Object.keys(TOLD) as (keyof PadValues)[]).filter((key) => TOLD[key] !== 'printed');

/** A pad without what is left to its player: as it is printed. */
export function printedPad(pad: Pad): Pad {
  const neutral = Object.fromEntries(LEFT_TO_PLAYER.map((key) => [key, PAD_INITIAL[key]]));
  // Where it loops the print ends.
  const { note, loopStartMs, loopEndMs } = pad;
  return { ...pad, ...neutral, driftCents: 0, driftDb: 0, note, loopStartMs, loopEndMs };
}

/** Whether a pad's strokes go through what a player has not, so that they are printed with all that shapes them. */
export function isPrintedWhole({ pad, steps }: Pick<PlayedPad, 'pad' | 'steps'>): boolean {
  return followsTempo(pad) || steps.some(({ active }) => active);
}

/** What is left to the player of a pad whose strokes are printed whole. */
const AFTER_WHOLE = [
  'note',
  'chokeGroup',
  'chokeMs',
  'voices',
  'velocityDb',
  'driftCents',
  'driftDb',
  'takeOrder',
] as const;

/** A pad whose strokes are printed whole, with all that shapes them, as its player sees it. */
export function playedWhole(pad: Pad): Pad {
  const { id, kitId, position, name, family } = pad;
  const kept = Object.fromEntries(AFTER_WHOLE.map((key) => [key, pad[key]]));
  return { ...PAD_INITIAL, ...kept, id, kitId, position, name, family } as Pad;
}

/** The same pad as it is printed. */
export function printedWhole(pad: Pad): Pad {
  const { chokeGroup, velocityDb, driftCents, driftDb } = { ...PAD_INITIAL, velocityDb: 0, driftCents: 0, driftDb: 0 };
  return { ...pad, chokeGroup, velocityDb, driftCents, driftDb };
}

type Move = Pad['moves'][number];

/** Each thing that moves a pad, with its opcodes; null where the format has none. */
function movesOf(of: Telling): { readonly move: Move; readonly opcodes: Opcodes | null }[] {
  return of.pad.moves.filter(({ depth }) => depth !== 0).map((move) => ({ move, opcodes: opcodesOfMove(move, of) }));
}

const CC = { wheel: 1, breath: 2, foot: 4, expression: 11, brightness: 74 } as const;

function opcodesOfMove({ source, target, depth }: Move, of: Telling): Opcodes | null {
  const cents = target === 'cutoff' ? depth * CENTS : depth;
  if (source === 'velocity') {
    if (target === 'cutoff') return within(cents, 9600) && { fil_veltrack: cents };
    if (target === 'tune') return within(cents, 9600) && { pitch_veltrack: cents };
    return null;
  }
  if (source === 'pressure') return target === 'cutoff' ? within(cents, 9600) && { cutoff_chanaft: cents } : null;
  if (source in CC) {
    const cc = CC[source as keyof typeof CC];
    if (target === 'cutoff') return within(cents, 9600) && ({ [`cutoff_cc${cc}`]: cents } as Opcodes);
    if (target === 'level') return within(depth, 48) && ({ [`gain_cc${cc}`]: depth } as Opcodes);
    return null;
  }
  if (source !== 'lfo1' && source !== 'lfo2') return null;
  return opcodesOfOscillator(source, target, depth, of);
}

function within(value: number, most: number): true | null {
  return Math.abs(value) <= most ? true : null;
}

/** Version 1 has one sine for each of level, pitch and filter; more, and other forms, are of version 2. */
function opcodesOfOscillator(
  source: 'lfo1' | 'lfo2',
  target: Move['target'],
  depth: number,
  of: Telling,
): Opcodes | null {
  const { pad, tempoBpm } = of;
  const period = PERIODS.find(([, label]) => label === pad[`${source}Period`])?.[0];
  const hz = period === undefined ? pad[`${source}RateHz`] : tempoBpm / 60 / period;
  const by = depth * pad[`${source}Strength`];
  const waves: Partial<Record<string, number>> = { triangle: 0, sine: 1, square: 3, falling: 7, rising: 6 };
  const wave = waves[pad[`${source}Form`]];
  const targets = { level: 'volume', tune: 'pitch', cutoff: 'cutoff', pan: 'pan' } as const;
  const name = targets[target as keyof typeof targets];
  if (!name || wave === undefined || hz > 20) return null;
  const amount = target === 'cutoff' ? by * CENTS : target === 'pan' ? by * 100 : by;
  const alone =
    pad.moves.filter((m) => m.target === target && m.source.startsWith('lfo') && m.depth !== 0).length === 1;
  const v1 = { level: ['amplfo', 10], tune: ['pitchlfo', CENTS], cutoff: ['fillfo', CENTS] } as const;
  const simple = v1[target as keyof typeof v1];
  if (alone && wave === 1 && simple && Math.abs(amount) <= simple[1])
    return { [`${simple[0]}_freq`]: hz, [`${simple[0]}_depth`]: amount } as Opcodes;
  const n = source === 'lfo1' ? 1 : 2;
  return { [`lfo${n}_freq`]: hz, [`lfo${n}_wave`]: wave, [`lfo${n}_${name}`]: amount } as Opcodes;
}

/** What of a pad with so many sounds its SFZ file cannot say, in words; empty where it says everything. */
export function unsaidInSfz(pad: Pad, sounds: { takes: number; layers: number }, tempoBpm: number): string[] {
  const { takes, layers } = sounds;
  const loops = pad.mode === 'looped' || pad.mode === 'switched';
  const of = { pad, volumeDb: 0, tempoBpm, loop: null };
  const lost = movesOf(of).flatMap(({ move, opcodes }) =>
    opcodes ? [] : [`${SOURCES[move.source]} moving ${TARGETS[move.target].label.toLowerCase()}`],
  );
  return [
    ...lost,
    ...(loops && layers > 1 ? ['a loop of several layers: it sounds once'] : []),
    ...(pad.mode === 'switched' ? ['a stroke that ends the loop: it loops while held'] : []),
    ...(takes > 1 && pad.takeOrder === 'at random' ? ['that no random take comes twice in a row'] : []),
    ...(['lfo1', 'lfo2'] as const).flatMap((lfo) =>
      pad.moves.some(({ source }) => source === lfo) && pad[`${lfo}Runs`] === 'free'
        ? [`an LFO ${lfo.slice(3)} that runs on beneath the strokes`]
        : [],
    ),
  ];
}
