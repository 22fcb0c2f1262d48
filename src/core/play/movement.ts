import { CHANCE_UNIT, seedOf } from './chance';
import { fallen, readEnvelope, STAGE, STAGE_FLOATS } from './envelope';
import { panLeft, panRight } from './gains';
import { CONTROLLERS, FIRST_CHANGING, OFFSET, SOURCE, SOURCE_NAMES, TARGET, TARGET_NAMES } from './moves';
import { readOscillator } from './oscillator';
import { LAYER, MOVE_FLOATS, MOVES_AT, OWN_LAYER, PAD, STAGE_SLOTS } from './program';

/** Indices of what is heard of a voice at a moment: gains, source frames a frame, width, and the filter's g and both k. */
export const HEARD = { gainLeft: 0, gainRight: 1, ratio: 2, width: 3, g: 4, k1: 5, k2: 6 } as const;
export const HEARD_FLOATS = 7;

/** What moves every voice alike: controllers 0 to 1 by number, and pressure by pad. */
export interface Hands {
  readonly controllers: Float64Array;
  readonly pressure: Float64Array;
}

export function newHands(pads: number): Hands {
  return { controllers: new Float64Array(128), pressure: new Float64Array(pads) };
}

/** What of a voice decides how it moves. */
export interface Played {
  readonly pad: number;
  /** What it is played by; see `takeOwn`. */
  readonly own: Float64Array;
  readonly seed: number;
  readonly velocity: number;
  readonly struck: number;
  /** What its stroke is off its pad's program by; see `OFFSET`. */
  readonly offsets: Float64Array;
  /** Age at which it was let go, or -1, and the three envelopes then. */
  readonly releasedAt: number;
  readonly envelopes: Float64Array;
  /** Phases of both oscillators in periods, and the age they are of. */
  readonly phases: Float64Array;
  phaseAge: number;
  readonly driftRatio: number;
  readonly driftGain: number;
  /** Factors of the level envelope's times. */
  readonly attackBy: number;
  readonly decayBy: number;
  readonly releaseBy: number;
}

type OfStroke = 'driftRatio' | 'driftGain' | 'attackBy' | 'decayBy' | 'releaseBy';
/** A voice whose stroke is being settled; it begins so many ms later in its sound. */
type Settled = Omit<Played, OfStroke> & { [K in OfStroke]: number } & { laterMs: number };

// Each kind of chance of a stroke has a number of its own.
const [CHANCE, DRIFT, DRIFT_CENTS, DRIFT_DB, FIRST_FORM] = [1, 2, 3, 4, 5] as const;

const sources = new Float64Array(SOURCE_NAMES.length);
const targets = new Float64Array(TARGET_NAMES.length);
const stages = new Float64Array(STAGE_FLOATS);
/** Level, filter and pitch envelope of the voice at hand. */
const envelopes = new Float64Array(3);

/** Quality factors of the sections of a Butterworth filter of the fourth order. */
const [FLAT_1, FLAT_2] = [1 / (2 * Math.cos(Math.PI / 8)), 1 / (2 * Math.cos((3 * Math.PI) / 8))] as const;
/** Share of the sample rate up to which a filter goes. */
const HIGHEST = 0.49;
const LOWEST_HZ = 5;

/** Settles a stroke's own sources; the others stay for `move`. */
function settle(v: Played): void {
  sources[SOURCE.velocity] = v.velocity / 127;
  sources[SOURCE.note] = ((v.own[PAD.note] as number) - 60) / 60;
  sources[SOURCE.drift] = 2 * CHANCE_UNIT * seedOf(v.seed, DRIFT) - 1;
  sources[SOURCE.chance] = seedOf(v.seed, CHANCE) * CHANCE_UNIT;
}

/**
 * What its stroke settles of a voice: the times of its level envelope, its beginning, and its drift. Sources that go on
 * changing do not move these.
 */
export function settleStroke(v: Settled): void {
  settle(v);
  targets.fill(0);
  const moves = v.own[PAD.moveCount] as number;
  for (let i = 0; i < moves; i++) {
    const at = MOVES_AT + i * MOVE_FLOATS;
    const source = v.own[at] as number;
    const target = v.own[at + 1] as number;
    if (source < FIRST_CHANGING)
      targets[target] = (targets[target] as number) + (sources[source] as number) * (v.own[at + 2] as number);
  }
  v.attackBy = 2 ** (targets[TARGET.attack] as number);
  v.decayBy = 2 ** (targets[TARGET.decay] as number);
  v.releaseBy = 2 ** (targets[TARGET.release] as number);
  v.laterMs = (targets[TARGET.start] as number) + (v.offsets[OFFSET.start] as number);
  settleDrift(v);
}

/** Its pad's drift, at most so many cents and decibels to either side. */
export function settleDrift(v: Settled): void {
  const cents = v.own[PAD.driftCents] as number;
  const db = v.own[PAD.driftDb] as number;
  v.driftRatio = cents === 0 ? 1 : 2 ** ((cents * (2 * CHANCE_UNIT * seedOf(v.seed, DRIFT_CENTS) - 1)) / 1200);
  v.driftGain = db === 0 ? 1 : 10 ** ((db * (2 * CHANCE_UNIT * seedOf(v.seed, DRIFT_DB) - 1)) / 20);
}

/** Writes the envelope of a voice at an age that is the `n`th of the three. */
function envelopeInto(v: Played, n: number, age: number, to: Float64Array): void {
  const at = ENVELOPE_SLOTS[n] as number;
  const isLevel = n === 0;
  if (v.releasedAt >= 0) {
    const frames = (v.own[at + 4] as number) * (isLevel ? v.releaseBy : 1);
    const since = age - v.releasedAt;
    to[n] = frames > since ? (v.envelopes[n] as number) * fallen(since / frames) : 0;
    return;
  }
  const decay = v.own[at + 2] as number;
  stages[STAGE.attack] = (v.own[at] as number) * (isLevel ? v.attackBy : 1);
  stages[STAGE.hold] = v.own[at + 1] as number;
  stages[STAGE.decay] = isLevel && decay > 0 ? decay * v.decayBy : decay;
  stages[STAGE.sustain] = v.own[at + 3] as number;
  stages[STAGE.age] = age;
  readEnvelope(stages, to, n);
}

/** The three envelopes of a voice at an age, into `to`. */
export function envelopesAt(v: Played, age: number, to: Float64Array): void {
  for (let n = 0; n < 3; n++) envelopeInto(v, n, age, to);
}

/** Whether an envelope goes on changing after an age. */
function changes(v: Played, at: number, n: number, age: number): boolean {
  if (v.releasedAt >= 0) return true;
  const attack = (v.own[at] as number) * (n === 0 ? v.attackBy : 1);
  const decay = v.own[at + 2] as number;
  if (decay < 0) return age < attack;
  return age < attack + (v.own[at + 1] as number) + (n === 0 ? decay * v.decayBy : decay);
}

/** Advances an oscillator to an age, whose value is a source. */
function turnOscillator(v: Played, at: number, n: number, age: number): void {
  const octaves = targets[n === 0 ? TARGET.lfo1Rate : TARGET.lfo2Rate] as number;
  const period = (v.own[at + 1] as number) * (octaves === 0 ? 1 : 2 ** -octaves);
  const phase = (v.phases[n] as number) + (age - v.phaseAge) / period;
  v.phases[n] = phase;
  const more = targets[n === 0 ? TARGET.lfo1Strength : TARGET.lfo2Strength] as number;
  const strength = Math.min(1, Math.max(0, (v.own[at + 2] as number) + more));
  const to = n === 0 ? SOURCE.lfo1 : SOURCE.lfo2;
  readOscillator(v.own[at] as number, v.phases, n, v.seed + FIRST_FORM + n, sources, to);
  sources[to] = strength * (sources[to] as number);
}

/** Where the stages of the envelopes begin in a program: level, filter, pitch. */
export const ENVELOPE_SLOTS = [PAD.levelAttack, PAD.filterAttack, PAD.pitchAttack] as const;
const OSCILLATOR_SLOTS = [PAD.lfo1Form, PAD.lfo2Form] as const;
// The stages of an envelope lie one after another.
if (PAD.levelRelease - PAD.levelAttack !== STAGE_SLOTS.length - 1) throw new Error('An envelope lies in one piece.');

/**
 * What is heard of a voice at an age, into `to`: everything that moves it taken together. Gives whether it goes on
 * changing after that. Depends on the age alone, however often it is asked; allocates nothing.
 */
export function heardAt(v: Played, hands: Hands, age: number, rate: number, to: Float64Array): boolean {
  const moves = v.own[PAD.moveCount] as number;
  const filterOctaves = v.own[PAD.filterOctaves] as number;
  const pitchSemitones = v.own[PAD.pitchSemitones] as number;
  let goesOn = v.releasedAt >= 0 || changes(v, PAD.levelAttack, 0, age);
  envelopes.fill(0);
  envelopeInto(v, 0, age, envelopes);
  const isFiltered = (v.own[PAD.filter] as number) > 0;
  const bends = moves > 0 || (filterOctaves !== 0 && isFiltered);
  if (bends) envelopeInto(v, 1, age, envelopes);
  if (moves > 0 || pitchSemitones !== 0) envelopeInto(v, 2, age, envelopes);
  const level = envelopes[0] as number;
  const filter = envelopes[1] as number;
  const pitch = envelopes[2] as number;
  if (filterOctaves !== 0 && isFiltered) goesOn ||= changes(v, PAD.filterAttack, 1, age);
  if (pitchSemitones !== 0) goesOn ||= changes(v, PAD.pitchAttack, 2, age);
  if (moves > 0) {
    sources[SOURCE.levelEnvelope] = level;
    sources[SOURCE.filterEnvelope] = filter;
    sources[SOURCE.pitchEnvelope] = pitch;
    goesOn = move(v, hands, age) || goesOn;
  }
  const moved = moves > 0;
  const db = (moved ? (targets[TARGET.level] as number) : 0) + (v.offsets[OFFSET.level] as number);
  const gain =
    (v.own[PAD.gain] as number) *
    (v.own[OWN_LAYER + LAYER.gain] as number) *
    v.struck *
    v.driftGain *
    level *
    (db === 0 ? 1 : 10 ** (db / 20));
  const pan =
    (v.own[PAD.pan] as number) + (moved ? (targets[TARGET.pan] as number) : 0) + (v.offsets[OFFSET.pan] as number);
  const held = Math.max(-1, Math.min(1, pan));
  to[HEARD.gainLeft] = gain * (v.own[OWN_LAYER + LAYER.panLeft] as number) * panLeft(held);
  to[HEARD.gainRight] = gain * (v.own[OWN_LAYER + LAYER.panRight] as number) * panRight(held);
  const cents =
    (moved ? (targets[TARGET.tune] as number) : 0) + 100 * pitchSemitones * pitch + (v.offsets[OFFSET.tune] as number);
  to[HEARD.ratio] = (v.own[OWN_LAYER + LAYER.ratio] as number) * v.driftRatio * (cents === 0 ? 1 : 2 ** (cents / 1200));
  const width = (v.own[PAD.width] as number) + (moved ? (targets[TARGET.width] as number) : 0);
  to[HEARD.width] = Math.max(0, width);
  if (isFiltered) filterAt(v.own, v.offsets, moved, rate, to);
  return goesOn;
}

/** The filter's figures, moved by its envelope and by what else moves it. */
function filterAt(own: Float64Array, offsets: Float64Array, moved: boolean, rate: number, to: Float64Array): void {
  const octaves =
    (own[PAD.filterOctaves] as number) * (envelopes[1] as number) +
    (moved ? (targets[TARGET.cutoff] as number) : 0) +
    (offsets[OFFSET.cutoff] as number);
  const hz = (own[PAD.cutoffHz] as number) * (octaves === 0 ? 1 : 2 ** octaves);
  to[HEARD.g] = Math.tan((Math.PI * Math.min(HIGHEST * rate, Math.max(LOWEST_HZ, hz))) / rate);
  const sharper = moved ? (targets[TARGET.resonance] as number) : 0;
  const plain = own[PAD.resonance] as number;
  const q = Math.min(100, Math.max(0.3, sharper === 0 ? plain : plain * 2 ** sharper));
  const isPass = (own[PAD.filter] as number) <= 2;
  if (own[PAD.sections] === 1 || !isPass) {
    to[HEARD.k1] = 1 / q;
    to[HEARD.k2] = 1 / q;
    return;
  }
  // Of a steep filter the first section stays flat and the second one resonates: together flat at 0.71.
  to[HEARD.k1] = 1 / FLAT_1;
  to[HEARD.k2] = 1 / (FLAT_2 * q * Math.SQRT2);
}

/** Sums what moves each target; gives whether any of it goes on changing. */
function move(v: Played, hands: Hands, age: number): boolean {
  settle(v);
  sources[SOURCE.pressure] = hands.pressure[v.pad] as number;
  sources[SOURCE.wheel] = hands.controllers[CONTROLLERS.wheel] as number;
  sources[SOURCE.breath] = hands.controllers[CONTROLLERS.breath] as number;
  sources[SOURCE.foot] = hands.controllers[CONTROLLERS.foot] as number;
  sources[SOURCE.expression] = hands.controllers[CONTROLLERS.expression] as number;
  sources[SOURCE.brightness] = hands.controllers[CONTROLLERS.brightness] as number;
  targets.fill(0);
  let goesOn = false;
  const count = v.own[PAD.moveCount] as number;
  // What moves the oscillators comes first: they are sources themselves, the first also of the second.
  for (let turn = 0; turn < 3; turn++) {
    if (turn === 1) turnOscillator(v, OSCILLATOR_SLOTS[0], 0, age);
    if (turn === 2) {
      turnOscillator(v, OSCILLATOR_SLOTS[1], 1, age);
      v.phaseAge = age;
    }
    for (let i = 0; i < count; i++) {
      const at = MOVES_AT + i * MOVE_FLOATS;
      const source = v.own[at] as number;
      const target = v.own[at + 1] as number;
      if (turnOf(target) !== turn) continue;
      // Later oscillators do not move earlier ones, nor any itself.
      if (source === SOURCE.lfo1 && turn === 0) continue;
      if (source === SOURCE.lfo2 && turn < 2) continue;
      targets[target] = (targets[target] as number) + (sources[source] as number) * (v.own[at + 2] as number);
      if (source < FIRST_CHANGING) continue;
      const n = source - FIRST_CHANGING;
      goesOn ||= n > 2 || changes(v, ENVELOPE_SLOTS[n] as number, n, age);
    }
  }
  return goesOn;
}

/** The turn in which a target is moved: the oscillators' first. */
function turnOf(target: number): number {
  if (target === TARGET.lfo1Rate || target === TARGET.lfo1Strength) return 0;
  return target === TARGET.lfo2Rate || target === TARGET.lfo2Strength ? 1 : 2;
}
