import { prefixedKey } from '../parameter/prefixed';
import { OSCILLATOR_KEYS, STAGES, type StageName } from './moving';
import { PAD_PARAMETERS, type PadValues } from './parameters';

const STAGE_NAMES = Object.keys(STAGES) as StageName[];

/** A pad's parameters of one value each, in groups, for the table of all pads; lists have editors of their own. */
export const PAD_GROUPS = {
  Plays: ['mode', 'voices', 'chokeGroup', 'chokeMs', 'note', 'takeOrder', 'muted', 'alone'],
  Sound: [
    'levelDb',
    'pan',
    'width',
    'semitones',
    'cents',
    'velocityDb',
    'driftCents',
    'driftDb',
    'normaliseDbfs',
    'roomSendDb',
    'echoSendDb',
  ],
  Filter: [
    'filter',
    'slope',
    'cutoffHz',
    'resonance',
    'filterOctaves',
    ...STAGE_NAMES.map((s) => prefixedKey('filter', s)),
  ],
  Level: STAGE_NAMES.map((stage) => prefixedKey('level', stage)),
  Pitch: ['pitchSemitones', ...STAGE_NAMES.map((stage) => prefixedKey('pitch', stage))],
  Sample: [
    'startMs',
    'endMs',
    'fadeInMs',
    'fadeOutMs',
    'reversed',
    'loopStartMs',
    'loopEndMs',
    'seamMs',
    'fit',
    'loopBpm',
  ],
  LFOs: (['lfo1', 'lfo2'] as const).flatMap((lfo) => OSCILLATOR_KEYS.map((key) => prefixedKey(lfo, key))),
} as const satisfies Record<string, readonly (keyof PadValues)[]>;
export type PadGroup = keyof typeof PAD_GROUPS;
export const PAD_GROUP_NAMES = Object.keys(PAD_GROUPS) as readonly PadGroup[];

/** A pad's parameters that stand in no group: those that are lists. */
export const UNGROUPED = (Object.keys(PAD_PARAMETERS) as (keyof PadValues)[]).filter(
  (key) => !Object.values(PAD_GROUPS).some((keys: readonly string[]) => keys.includes(key)),
);
