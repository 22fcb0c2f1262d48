import { type Bank, CHUNK, type Interpolation, type Reading, type Samples, STATE_DOUBLES } from './interpolation';
import {
  ENVELOPE_SLOTS,
  envelopesAt,
  type Hands,
  HEARD,
  HEARD_FLOATS,
  heardAt,
  type Played,
  settleDrift,
  settleStroke,
} from './movement';
import { OFFSET_NAMES } from './moves';
import { LAYER, OWN_FLOATS, OWN_LAYER, PAD, takeOwn } from './program';

/** Frames between two looks at what moves a voice, the quicker the shorter: powers of two. */
const [LEAST_STEP, MOST_STEP] = [32, CHUNK] as const;
/** Steps in the shortest time that anything takes: a line from one to the next is then within -70 dB of a fall's curve. */
const STEPS = 64;
/** Frames in which a sounding voice follows a changed program. */
const SETTLE = 960;
const NO_BANK: Bank = { cutoff: 1, taps: 0, rows: 0 };
/** Where a filter's state has g and both k. */
const G = STATE_DOUBLES - 3;

/** What voices play from and by: the programs of all pads, sample memory, and the hands on the controllers. */
export interface Desk {
  readonly rate: number;
  readonly programs: Float64Array;
  readonly memory: Samples;
  readonly reader: Interpolation;
  readonly hands: Hands;
}

/** A sounding layer of a struck pad. Offsets count floats, positions frames of its source, all else engine frames. */
export class Voice implements Reading, Played {
  active = false;
  pad = 0;
  /** The layer of its pad it plays, and what it is played by. */
  layer = 0;
  readonly own = new Float64Array(OWN_FLOATS);
  group = 0;
  /** Index of how it plays; see `MODE_NAMES`. */
  mode = 0;
  bus = 0;
  /** The stroke it belongs to, as the engine counts them, and the seed of that stroke's chances. */
  stroke = 0;
  seed = 0;
  velocity = 127;
  /** Linear gain of its velocity. */
  struck = 1;
  readonly offsets = new Float64Array(OFFSET_NAMES.length);
  delay = 0;
  left = 0;
  right = 0;
  start = 0;
  end = 0;
  reversed = false;
  loopStart = 0;
  loopEnd = 0;
  seam = 0;
  position = 0;
  ratio = 1;
  bend = 0;
  bank = NO_BANK;
  /** Frames since it began to sound. */
  age = 0;
  releasedAt = -1;
  readonly envelopes = new Float64Array(3);
  readonly phases = new Float64Array(2);
  phaseAge = 0;
  driftRatio = 1;
  driftGain = 1;
  attackBy = 1;
  decayBy = 1;
  releaseBy = 1;
  laterMs = 0;

  /** Frames of its steps; its gains, pitch and filter go in a line from one end to the other. */
  step: number = LEAST_STEP;
  /** Whether anything moves it, whether anything does after the step under way, and frames until that ends. */
  moving = false;
  goesOn = false;
  stepLeft = 0;
  /** Age at which an envelope next turns a corner. */
  corner = 0;
  /** What is heard of it, where that goes by the end of the step, and by how much a frame; see `HEARD`. */
  readonly now = new Float64Array(HEARD_FLOATS);
  readonly to = new Float64Array(HEARD_FLOATS);
  readonly by = new Float64Array(HEARD_FLOATS);
  /** What it was off by when its program changed, and remaining frames of following that. */
  readonly off = new Float64Array(HEARD_FLOATS);
  settleLeft = 0;
  /** Frames over which it follows in a line; 0 where it does along a curve. */
  lineOver = 0;

  filter = 0;
  sections = 1;
  readonly state = new Float64Array(STATE_DOUBLES);

  fadeInFrames = 0;
  /** Fade before the end, in engine frames, and in frames of the source. */
  fadeOutFrames = 0;
  fadeOut = 0;
  /** Remaining frames of a running fade-out, or -1 without one. */
  fadeLeft = -1;
  fadeLength = 1;
  /** Its highest sample since this was last set to 0, linear. */
  peak = 0;
}

/** What of a stroke a voice is begun with. */
export interface Struck {
  readonly pad: number;
  readonly velocity: number;
  /** Counted by the engine. */
  readonly stroke: number;
  readonly seed: number;
  /** Engine frame. */
  readonly clock: number;
  /** What it is off its pad's program by. */
  readonly offsets: Float64Array;
  /** Frames of the source to play, or -1 for those of the program. */
  readonly from: number;
  readonly to: number;
}

/** Starts a voice for a layer of a struck pad, whose program begins at float `at`. */
export function beginVoice(v: Voice, desk: Desk, struck: Struck, layer: number, at: number): void {
  const { rate, reader } = desk;
  const { own } = v;
  takeOwn(desk.programs, at, layer, own);
  v.active = true;
  v.pad = struck.pad;
  v.layer = layer;
  v.stroke = struck.stroke;
  v.seed = struck.seed;
  v.velocity = struck.velocity;
  v.offsets.set(struck.offsets);
  const power = own[PAD.velocityPower] as number;
  v.struck = power === 0 ? 1 : (v.velocity / 127) ** power;
  v.left = own[OWN_LAYER + LAYER.left] as number;
  v.right = own[OWN_LAYER + LAYER.right] as number;
  v.start = struck.from >= 0 ? struck.from : (own[OWN_LAYER + LAYER.start] as number);
  v.end = struck.to >= 0 ? struck.to : (own[OWN_LAYER + LAYER.end] as number);
  v.reversed = own[OWN_LAYER + LAYER.reversed] === 1;
  v.bus = own[PAD.bus] as number;
  v.delay = own[OWN_LAYER + LAYER.delay] as number;
  v.filter = own[PAD.filter] as number;
  v.age = 0;
  v.releasedAt = -1;
  v.stepLeft = 0;
  v.settleLeft = 0;
  v.fadeLeft = -1;
  v.peak = 0;
  v.phaseAge = 0;
  v.state.fill(0);
  settleStroke(v);
  const later = (v.laterMs / 1000) * rate * (own[OWN_LAYER + LAYER.ratio] as number);
  v.position = Math.min(v.end, Math.max(v.start, v.start + Math.round(later)));
  v.phases[0] = own[PAD.lfo1Free] === 1 ? struck.clock / (own[PAD.lfo1Period] as number) : 0;
  v.phases[1] = own[PAD.lfo2Free] === 1 ? struck.clock / (own[PAD.lfo2Period] as number) : 0;
  followShape(v);
  v.moving = heardAt(v, desk.hands, 0, rate, v.to);
  arrive(v, reader);
}

/** What a voice takes from its program at once, whenever that changes. */
function followShape(v: Voice): void {
  const { own } = v;
  v.mode = own[PAD.mode] as number;
  v.group = own[PAD.chokeGroup] as number;
  const loops = v.mode >= 2;
  v.loopStart = loops ? (own[OWN_LAYER + LAYER.loopStart] as number) : 0;
  v.loopEnd = loops ? (own[OWN_LAYER + LAYER.loopEnd] as number) : 0;
  v.seam = own[OWN_LAYER + LAYER.seam] as number;
  v.sections = own[PAD.sections] as number;
  settleDrift(v);
  v.fadeInFrames = own[PAD.fadeInFrames] as number;
  v.fadeOutFrames = own[PAD.fadeOutFrames] as number;
  v.step = paceOf(v);
}

/** The longest step in which nothing that moves the voice gets far. */
function paceOf(v: Voice): number {
  const { own } = v;
  let step: number = MOST_STEP;
  if (v.releasedAt >= 0) {
    const release = releaseFrames(v);
    while (step > LEAST_STEP && step * STEPS > release) step >>= 1;
    return step;
  }
  const moves = own[PAD.moveCount] as number;
  for (let n = 0; n < 3; n++) {
    const at = ENVELOPE_SLOTS[n] as number;
    const isUsed = n === 0 || moves > 0 || own[n === 1 ? PAD.filterOctaves : PAD.pitchSemitones] !== 0;
    if (!isUsed) continue;
    const attack = own[at] as number;
    const decay = own[at + 2] as number;
    if (attack > 0) while (step > LEAST_STEP && step * STEPS > attack) step >>= 1;
    if (decay > 0) while (step > LEAST_STEP && step * STEPS > decay) step >>= 1;
  }
  if (moves === 0) return step;
  const period = Math.min(own[PAD.lfo1Period] as number, own[PAD.lfo2Period] as number);
  while (step > LEAST_STEP && step * STEPS > period) step >>= 1;
  return step;
}

/** Ends a step: what is heard is exactly what it went to. */
export function arrive(v: Voice, reader: Interpolation): void {
  v.now.set(v.to);
  v.by.fill(0);
  v.bend = 0;
  v.ratio = v.to[HEARD.ratio] as number;
  v.bank = reader.bankFor(v.to, HEARD.ratio);
  v.fadeOut = v.fadeOutFrames * v.ratio;
  v.state[G] = v.to[HEARD.g] as number;
  v.state[G + 1] = v.to[HEARD.k1] as number;
  v.state[G + 2] = v.to[HEARD.k2] as number;
}

/** Breaks off a step: the next one begins from what is heard at this moment. */
function breakOff(v: Voice): void {
  v.now[HEARD.ratio] = v.ratio;
  v.now[HEARD.g] = v.state[G] as number;
  v.now[HEARD.k1] = v.state[G + 1] as number;
  v.now[HEARD.k2] = v.state[G + 2] as number;
  v.stepLeft = 0;
  v.moving = true;
}

/** Sets out for where a voice is at the end of its next step. */
export function beginStep(v: Voice, { reader, hands, rate }: Desk): void {
  const step = v.settleLeft > 0 ? LEAST_STEP : v.step;
  findCorner(v);
  const until = Math.min((Math.floor(v.age / step) + 1) * step, Math.ceil(v.corner));
  const frames = Math.max(1, until - v.age);
  v.goesOn = heardAt(v, hands, v.age + frames, rate, v.to);
  if (v.settleLeft > 0) {
    v.settleLeft = Math.max(0, v.settleLeft - frames);
    const rest = v.lineOver > 0 ? v.settleLeft / v.lineOver : smooth(v.settleLeft / SETTLE);
    if (rest > 0) for (let i = 0; i < HEARD_FLOATS; i++) v.to[i] = (v.to[i] as number) + (v.off[i] as number) * rest;
  }
  v.stepLeft = frames;
  for (let i = 0; i < HEARD_FLOATS; i++) v.by[i] = ((v.to[i] as number) - (v.now[i] as number)) / frames;
  v.bend = v.by[HEARD.ratio] as number;
  if (v.bend !== 0) v.bank = reader.bankFor(v.bend > 0 ? v.to : v.now, HEARD.ratio);
  v.fadeOut = v.fadeOutFrames * (v.to[HEARD.ratio] as number);
}

/** 0 at 0 and 1 at 1, with neither slope nor bend at its ends (quintic). */
function smooth(x: number): number {
  return x * x * x * (x * (6 * x - 15) + 10);
}

/** Finds the age at which an envelope next turns a corner. */
function findCorner(v: Voice): void {
  const { own, age } = v;
  v.corner = Number.POSITIVE_INFINITY;
  if (v.releasedAt >= 0) {
    const end = v.releasedAt + releaseFrames(v);
    if (age < end) v.corner = end;
    return;
  }
  for (let n = 0; n < 3; n++) {
    const at = ENVELOPE_SLOTS[n] as number;
    const isLevel = n === 0;
    const attack = (own[at] as number) * (isLevel ? v.attackBy : 1);
    const decay = own[at + 2] as number;
    if (age < attack) v.corner = Math.min(v.corner, attack);
    if (age < attack || decay < 0) continue;
    const held = attack + (own[at + 1] as number);
    const end = held + (isLevel ? decay * v.decayBy : decay);
    if (age < end) v.corner = Math.min(v.corner, age < held ? held : end);
  }
}

export function releaseFrames(v: Voice): number {
  return (v.own[PAD.levelRelease] as number) * v.releaseBy;
}

/**
 * Lets a sounding voice follow its pad's changed program, which begins at float `at`: within 20 ms along a curve, or in a line
 * over so many frames.
 */
export function followProgram(v: Voice, { programs, hands, rate }: Desk, at: number, lineOver = 0): void {
  takeOwn(programs, at, v.layer, v.own);
  followShape(v);
  breakOff(v);
  heardAt(v, hands, v.age, rate, v.to);
  for (let i = 0; i < HEARD_FLOATS; i++) v.off[i] = (v.now[i] as number) - (v.to[i] as number);
  v.lineOver = lineOver;
  v.settleLeft = lineOver > 0 ? lineOver : SETTLE;
}

/** Lets a held or looping voice go; one-shots sound on. */
export function releaseVoice(v: Voice): void {
  if (v.mode === 0 || v.releasedAt >= 0) return;
  envelopesAt(v, v.age, v.envelopes);
  breakOff(v);
  v.releasedAt = v.age;
  v.step = paceOf(v);
}

/** Starts a fade-out, or shortens a running one; the gain continues from where it is, so nothing clicks. */
export function fade(voice: Voice, frames: number): void {
  if (voice.fadeLeft < 0) {
    voice.fadeLeft = frames;
    voice.fadeLength = frames;
  } else if (voice.fadeLeft > frames) {
    voice.fadeLength = (voice.fadeLength * frames) / voice.fadeLeft;
    voice.fadeLeft = frames;
  }
}
