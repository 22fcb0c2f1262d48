import { BUS_FLOATS, CHUNK, type Interpolation } from './interpolation';
import { HEARD } from './movement';
import { PAD } from './program';
import { arrive, beginStep, type Desk, releaseFrames, type Voice } from './voice';

/**
 * Adds the next `count` frames of a voice, at most a chunk, to a bus of the reader's, and deactivates it at its end.
 * Independent of how frames are divided into calls.
 */
export function mixVoice(v: Voice, desk: Desk, bus: number, count: number): void {
  const { reader, memory } = desk;
  const { frames } = reader;
  const wait = Math.min(v.delay, count);
  v.delay -= wait;
  let i = wait;
  while (i < count && v.active) {
    if (v.moving && v.stepLeft === 0) beginStep(v, desk);
    const chunk = Math.min(count - i, v.moving ? v.stepLeft : CHUNK);
    reader.read(memory, v, chunk);
    if (v.filter > 0) reader.filter(v.state, v.by, HEARD.g, chunk, v.filter, v.sections);
    if (v.now[HEARD.width] !== 1 || v.by[HEARD.width] !== 0) widen(v, frames, chunk);
    const steady = steadyFrames(v, chunk);
    if (steady > 0) mixSteady(v, reader, bus, i, steady);
    if (steady < chunk) mixFading(v, reader, bus, i, steady, chunk);
    v.age += chunk;
    i += chunk;
    if (v.moving) {
      v.stepLeft -= chunk;
      if (v.stepLeft === 0) {
        arrive(v, reader);
        v.moving = v.goesOn || v.settleLeft > 0;
      }
    }
    v.active = !isOver(v);
  }
}

/** Scales the difference of the sides. */
function widen(v: Voice, frames: Float32Array, count: number): void {
  const by = v.by[HEARD.width] as number;
  let width = v.now[HEARD.width] as number;
  for (let n = 0; n < count; n++) {
    const left = frames[2 * n] as number;
    const right = frames[2 * n + 1] as number;
    const side = (width * (left - right)) / 2;
    frames[2 * n] = (left + right) / 2 + side;
    frames[2 * n + 1] = (left + right) / 2 - side;
    width += by;
  }
  v.now[HEARD.width] = width;
}

function mixSteady(v: Voice, reader: Interpolation, bus: number, at: number, count: number): void {
  const { by, bend } = v;
  reader.mix(v.now, by, HEARD.gainLeft, count, bus, at);
  if (reader.peak > v.peak) v.peak = reader.peak;
  let { position, ratio } = v;
  for (let n = 0; n < count; n++) {
    position += ratio;
    ratio += bend;
  }
  v.position = position;
  v.ratio = ratio;
}

/** The same where a fade runs or the end may come. */
function mixFading(v: Voice, reader: Interpolation, bus: number, at: number, from: number, count: number): void {
  const { now, by } = v;
  const { frames, buses } = reader;
  for (let n = from; n < count && !hasEnded(v); n++) {
    const gain = fadedGain(v, v.age + n);
    const l = (frames[2 * n] as number) * (now[HEARD.gainLeft] as number) * gain;
    const r = (frames[2 * n + 1] as number) * (now[HEARD.gainRight] as number) * gain;
    const to = bus * BUS_FLOATS + 2 * (at + n);
    buses[to] = (buses[to] as number) + l;
    buses[to + 1] = (buses[to + 1] as number) + r;
    v.peak = Math.max(v.peak, Math.abs(l), Math.abs(r));
    now[HEARD.gainLeft] = (now[HEARD.gainLeft] as number) + (by[HEARD.gainLeft] as number);
    now[HEARD.gainRight] = (now[HEARD.gainRight] as number) + (by[HEARD.gainRight] as number);
    v.position += v.ratio;
    v.ratio += v.bend;
  }
}

function isLooped({ loopStart, loopEnd }: Voice): boolean {
  return loopEnd > loopStart;
}

function hasEnded(v: Voice): boolean {
  return v.fadeLeft === 0 || (v.position >= v.end && !isLooped(v));
}

/** Frames of the next `count` that a voice certainly sounds at full level, before a fade begins or it ends. */
function steadyFrames(v: Voice, count: number): number {
  if (v.fadeLeft >= 0 || v.age < v.fadeInFrames) return 0;
  if (isLooped(v)) return count;
  // One frame less, because positions accumulate rounding.
  const fastest = Math.max(v.ratio, v.ratio + v.bend * count);
  return Math.max(0, Math.min(count, Math.floor((v.end - v.fadeOut - v.position) / fastest) - 1));
}

function isOver(v: Voice): boolean {
  if (hasEnded(v)) return true;
  if (v.releasedAt >= 0) return v.age >= v.releasedAt + releaseFrames(v);
  // Its level envelope has come down to nothing.
  const { own } = v;
  const decay = own[PAD.levelDecay] as number;
  if (decay < 0 || own[PAD.levelSustain] !== 0) return false;
  const attack = (own[PAD.levelAttack] as number) * v.attackBy;
  return v.age >= attack + (own[PAD.levelHold] as number) + decay * v.decayBy;
}

/** The fade gain of a voice's frame at an age; advances a running fade-out. */
function fadedGain(v: Voice, age: number): number {
  const remaining = v.end - v.position;
  let gain = !isLooped(v) && remaining < v.fadeOut ? remaining / v.fadeOut : 1;
  if (age < v.fadeInFrames) gain *= age / v.fadeInFrames;
  if (v.fadeLeft > 0) {
    gain *= v.fadeLeft / v.fadeLength;
    v.fadeLeft--;
  }
  return gain;
}
