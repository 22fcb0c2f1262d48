import type { TreatedHit } from '../hit/key';
import type { StepSound } from '../live/figures';
import { prefixedKey } from '../parameter/prefixed';
import { panGains, velocityPower } from '../play/gains';
import type { KitSound } from '../play/kit-sound';
import { SOURCE_NAMES, TARGET_NAMES } from '../play/moves';
import { FORM_NAMES } from '../play/oscillator';
import {
  FILTER_NAMES,
  type LayerSlot,
  type LayerSound,
  MODE_NAMES,
  type OSCILLATOR_SLOTS,
  type PadSlot,
  type PadSound,
  type STAGE_SLOTS,
  TAKE_ORDER_NAMES,
} from '../play/program';
import { periodSeconds } from '../signal/periods';
import { fromDb, msToFrames, pitchRatio } from '../signal/units';
import { fittedSeconds } from '../stretch/beats';
import type { PadStep } from '../treatment/live';
import { type Route, STRAIGHT } from './buses';
import { slicedLoop } from './fit';
import { noteOf } from './layout';
import type { Layer, Pad } from './model';
import type { EnvelopeName, OscillatorKey, OscillatorName, StageName } from './moving';
import { KIT_INITIAL, type KitValues, type LayerValues, type PadValues } from './parameters';

/** A layer of a pad with its hit. */
export interface LayerWithHit {
  readonly layer: Layer;
  readonly hit: TreatedHit;
}

/** A pad with all that it plays. */
export interface PlayedPad {
  readonly pad: Pad;
  readonly layers: readonly LayerWithHit[];
  /** What all its strokes go through, in order. */
  readonly steps: readonly PadStep[];
}

/** Position of a hit's sound in sample memory (floats to frame 0 of each side, first and last frames), and its gain. */
export interface PooledSound {
  readonly left: number;
  readonly right: number;
  readonly start: number;
  readonly end: number;
  readonly sampleRate: number;
  readonly gain: number;
}

type Slots = readonly (PadSlot | LayerSlot | 'moves' | 'cuts')[];

type Stages<N extends EnvelopeName> = { readonly [K in StageName as `${N}${Capitalize<K>}`]: Slots };
type Forms<N extends OscillatorName> = { readonly [K in OscillatorKey as `${N}${Capitalize<K>}`]: Slots };

/** The slots of an envelope's stages. The end of the fall depends on whether there is a decay. */
function stages<N extends EnvelopeName>(name: N): Stages<N> {
  return {
    [`${name}AttackMs`]: [`${name}Attack`],
    [`${name}HoldMs`]: [`${name}Hold`],
    [`${name}DecayMs`]: [`${name}Decay`, `${name}Sustain`],
    [`${name}Sustain`]: [`${name}Decay`, `${name}Sustain`],
    [`${name}ReleaseMs`]: [`${name}Release`],
  } as unknown as Stages<N>;
}

function forms<N extends OscillatorName>(name: N): Forms<N> {
  return {
    [`${name}Form`]: [`${name}Form`],
    [`${name}Period`]: [`${name}Period`],
    [`${name}RateHz`]: [`${name}Period`],
    [`${name}Strength`]: [`${name}Strength`],
    [`${name}Runs`]: [`${name}Free`],
  } as unknown as Forms<N>;
}

/**
 * The engine's slots that realise each parameter of a pad, and of a layer. The compiler requires every parameter, a
 * test every slot.
 */
export const HEARD_BY = {
  levelDb: ['gain'],
  normaliseDbfs: ['gain'],
  pan: ['pan'],
  width: ['width'],
  semitones: ['ratio'],
  cents: ['ratio'],
  filter: ['filter'],
  slope: ['sections'],
  cutoffHz: ['cutoffHz'],
  resonance: ['resonance'],
  roomSendDb: ['roomSend'],
  echoSendDb: ['echoSend'],
  driftCents: ['driftCents'],
  driftDb: ['driftDb'],
  velocityDb: ['velocityPower'],
  startMs: ['start', 'loopStart', 'seam'],
  endMs: ['end', 'loopEnd', 'seam'],
  fadeInMs: ['fadeInFrames'],
  fadeOutMs: ['fadeOutFrames'],
  reversed: ['reversed'],
  loopStartMs: ['loopStart', 'seam'],
  loopEndMs: ['loopEnd'],
  seamMs: ['seam'],
  mode: ['mode'],
  chokeGroup: ['chokeGroup'],
  chokeMs: ['chokeFrames'],
  voices: ['voices'],
  takeOrder: ['takeOrder'],
  note: ['note'],
  muted: ['gain'],
  // Of a kit's pads together; see `asKitHas`.
  alone: [],
  ...stages('level'),
  ...stages('filter'),
  ...stages('pitch'),
  filterOctaves: ['filterOctaves'],
  pitchSemitones: ['pitchSemitones'],
  ...forms('lfo1'),
  ...forms('lfo2'),
  moves: ['moves'],
  fit: ['bySlices', 'stretch', 'loopFrames', 'cuts', 'loopEnd', 'seam'],
  loopBpm: ['stretch', 'loopFrames'],
  cuts: ['cuts'],
} as const satisfies Record<keyof PadValues, Slots>;

export const LAYER_HEARD_BY = {
  levelDb: ['gain'],
  pan: ['panLeft', 'panRight'],
  lowVelocity: ['lowVelocity'],
  highVelocity: ['highVelocity'],
  semitones: ['ratio'],
  cents: ['ratio'],
  offsetMs: ['delay'],
  inverted: ['gain'],
  isTake: ['take'],
} as const satisfies Record<keyof LayerValues, Slots>;

/** The take that a layer belongs under; see `Layer`. */
type LayerOfPad = Pick<Layer, 'hitId' | 'withHitId' | 'isTake'>;

/**
 * The takes of a pad: the layers of which a stroke plays one. Where none is marked as a take, the first layer is the only
 * one.
 */
export function takesOf<L extends { readonly layer: LayerOfPad }>(layers: readonly L[]): readonly L[] {
  const marked = layers.filter(({ layer }) => layer.isTake);
  return marked.length > 0 ? marked : layers.slice(0, 1);
}

/** The layers that sound under one of a pad's takes: that take, and all that are not takes, but for those under another. */
export function soundingUnder<L extends { readonly layer: LayerOfPad }>(layers: readonly L[], take: L): readonly L[] {
  const takes = new Set(takesOf(layers));
  const { hitId } = take.layer;
  return layers.filter(
    (one) => one === take || (!takes.has(one) && (one.layer.withHitId === null || one.layer.withHitId === hitId)),
  );
}

/** The layers that can sound at all: those under a take that the pad does not have are silent. */
export function soundingLayers<L extends { readonly layer: LayerOfPad }>(layers: readonly L[]): readonly L[] {
  const takes = new Set(takesOf(layers).map(({ layer }) => layer.hitId));
  return layers.filter(({ layer }) => layer.isTake || layer.withHitId === null || takes.has(layer.withHitId));
}

/** Frames of an envelope's stages at the engine's rate, as the engine has them. */
function stagesOf<N extends EnvelopeName>(pad: PadValues, name: N, rate: number) {
  const value = (key: StageName) => pad[prefixedKey(name, key)] as number | null;
  const frames = (key: StageName) => msToFrames(value(key) ?? 0, rate);
  const [decayMs, sustain] = [value('decayMs'), value('sustain')];
  // With a sustain but no decay, the level drops to it when the hold ends.
  const falls = decayMs !== null || sustain !== null;
  return {
    [`${name}Attack`]: frames('attackMs'),
    [`${name}Hold`]: frames('holdMs'),
    [`${name}Decay`]: falls ? frames('decayMs') : -1,
    [`${name}Sustain`]: falls ? (sustain ?? 0) : 1,
    [`${name}Release`]: Math.max(1, frames('releaseMs')),
  } as { readonly [S in (typeof STAGE_SLOTS)[number] as `${N}${S}`]: number };
}

function oscillatorOf<N extends OscillatorName>(pad: PadValues, name: N, rate: number, tempoBpm: number) {
  const value = (key: OscillatorKey) => pad[prefixedKey(name, key)];
  const seconds = periodSeconds(value('period') as string, tempoBpm) ?? 1 / (value('rateHz') as number);
  return {
    [`${name}Form`]: FORM_NAMES.indexOf(value('form') as (typeof FORM_NAMES)[number]),
    [`${name}Period`]: seconds * rate,
    [`${name}Strength`]: value('strength') as number,
    [`${name}Free`]: value('runs') === 'free' ? 1 : 0,
  } as { readonly [S in (typeof OSCILLATOR_SLOTS)[number] as `${N}${S}`]: number };
}

/** The linear gain of a send. */
function sent({ muted }: PadValues, db: number | null): number {
  return db === null || muted ? 0 : fromDb(db);
}

/** What applies to all pads of a kit: its seed comes of its id, unless it has one. */
export function kitSound(
  kitId: string,
  { evenVelocity, velocityCurve, seed: own }: KitValues & { readonly seed?: number | null },
): KitSound {
  let seed = own ?? 0;
  if (own === undefined || own === null)
    for (const char of kitId) seed = (Math.imul(seed, 31) + (char.codePointAt(0) as number)) & 0xffffff;
  // At either end of the curve a stroke of half the velocity is four times as far along.
  return { seed, evenVelocity: evenVelocity ?? 0, velocityExponent: 4 ** -velocityCurve };
}

/**
 * A pad's program at `engineRate`. `soundOf` gives the position of each hit's sound; layers that are not loaded yet are
 * left out. `normaliseGain` is the result of `normaliseGain()` for the pad, `steps` that of `liveSteps()`, `route` that of `routeOf()`.
 */
export function padSound(
  pad: Pad,
  layers: readonly LayerWithHit[],
  engineRate: number,
  soundOf: (hit: TreatedHit) => PooledSound | null,
  normaliseGain: number,
  tempoBpm: number = KIT_INITIAL.tempoBpm,
  steps: readonly StepSound[] = [],
  route: Route = STRAIGHT,
): PadSound {
  const sounds: LayerSound[] = [];
  const loaded = soundingLayers(layers).flatMap((one) => {
    const sound = soundOf(one.hit);
    return sound ? [{ ...one, sound }] : [];
  });
  const earliest = Math.min(0, ...loaded.map(({ layer }) => layer.offsetMs));
  const takes = takesOf(loaded);
  const stretches = loaded.map(({ sound }) => stretchOf(pad, sound, tempoBpm));
  const first = stretches[0];
  const seconds = first ? (first.end - first.start) / (loaded[0]?.sound.sampleRate ?? engineRate) : 0;
  const loop = slicedLoop(pad, seconds, engineRate, tempoBpm);
  for (const [i, { layer, sound }] of loaded.entries()) {
    const pitch = pitchRatio(pad.semitones + layer.semitones, pad.cents + layer.cents);
    const { left: panLeft, right: panRight } = panGains(layer.pan);
    const isTake = layer.isTake || layer === takes[0]?.layer;
    const under = isTake ? -1 : loaded.findIndex(({ layer: { hitId } }) => hitId === layer.withHitId);
    sounds.push({
      left: sound.left,
      right: sound.right,
      ...(stretches[i] as ReturnType<typeof stretchOf>),
      // A loop by its slices is repeated by the engine, not by its voices.
      ...(loop && { loopStart: 0, loopEnd: 0, seam: 0 }),
      rate: sound.sampleRate / engineRate,
      reversed: pad.reversed ? 1 : 0,
      ratio: (sound.sampleRate / engineRate) * pitch,
      panLeft,
      panRight,
      lowVelocity: layer.lowVelocity,
      highVelocity: layer.highVelocity,
      gain: fromDb(layer.levelDb) * sound.gain * (layer.inverted ? -1 : 1),
      delay: Math.round(msToFrames(layer.offsetMs - earliest, engineRate)),
      take: isTake ? 1 : 0,
      underTake: under,
    });
  }
  return {
    gain: pad.muted ? 0 : fromDb(pad.levelDb) * normaliseGain,
    pan: pad.pan,
    width: pad.width,
    mode: MODE_NAMES.indexOf(pad.mode),
    bus: route.bus,
    roomSend: route.room ? sent(pad, pad.roomSendDb) : 0,
    echoSend: route.echo ? sent(pad, pad.echoSendDb) : 0,
    chokeGroup: pad.chokeGroup,
    chokeFrames: Math.max(1, msToFrames(pad.chokeMs, engineRate)),
    voices: pad.voices ?? 0,
    takeOrder: TAKE_ORDER_NAMES.indexOf(pad.takeOrder),
    fadeInFrames: msToFrames(pad.fadeInMs, engineRate),
    fadeOutFrames: msToFrames(pad.fadeOutMs, engineRate),
    note: noteOf(pad),
    velocityPower: velocityPower(pad.velocityDb),
    driftCents: pad.driftCents,
    driftDb: pad.driftDb,
    filter: FILTER_NAMES.indexOf(pad.filter),
    sections: pad.slope === 24 ? 2 : 1,
    cutoffHz: pad.cutoffHz,
    resonance: pad.resonance,
    filterOctaves: pad.filterOctaves,
    pitchSemitones: pad.pitchSemitones,
    ...stagesOf(pad, 'level', engineRate),
    ...stagesOf(pad, 'filter', engineRate),
    ...stagesOf(pad, 'pitch', engineRate),
    ...oscillatorOf(pad, 'lfo1', engineRate, tempoBpm),
    ...oscillatorOf(pad, 'lfo2', engineRate, tempoBpm),
    bySlices: loop ? 1 : 0,
    stretch: loop?.stretch ?? 1,
    loopFrames: loop?.loopFrames ?? 0,
    cuts: loop?.cuts ?? [],
    layers: sounds,
    moves: pad.moves.map(({ source, target, depth }) => ({
      source: SOURCE_NAMES.indexOf(source),
      target: TARGET_NAMES.indexOf(target),
      depth,
    })),
    steps,
  };
}

/** Frames of a loop at the kit's tempo, to its last whole beat. */
function wholeBeats(frames: number, sampleRate: number, tempoBpm: number): number {
  return Math.round(fittedSeconds(frames / sampleRate, tempoBpm, tempoBpm) * sampleRate);
}

/** Which frames of a sound a pad plays and repeats; backwards they are counted from the end. */
function stretchOf(pad: PadValues, { start, end, sampleRate }: PooledSound, tempoBpm: number) {
  const cut = (ms: number) => Math.round(msToFrames(ms, sampleRate));
  const isBack = pad.reversed;
  const from = Math.min(end, start + cut(isBack ? pad.endMs : pad.startMs));
  const to = Math.max(from, end - cut(isBack ? pad.startMs : pad.endMs));
  const loopEnd =
    pad.loopEndMs !== null
      ? Math.min(to, from + cut(pad.loopEndMs))
      : pad.fit === 'stretched'
        ? Math.min(to, from + wholeBeats(to - from, sampleRate, tempoBpm))
        : to;
  const loopStart = Math.min(Math.max(from, loopEnd - 1), from + cut(pad.loopStartMs ?? 0));
  const seam = Math.min(cut(pad.seamMs), loopEnd - loopStart, to - from);
  return { start: from, end: to, loopStart, loopEnd, seam };
}
