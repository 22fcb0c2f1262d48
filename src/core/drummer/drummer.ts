import type { Family } from '../family';
import { seededRandom } from '../signal/random';
import { fromDb } from '../signal/units';
import { renderVoice } from '../voice/render';
import { DRUMS, type DrummerRhythm, type DrumName, STEP_VELOCITIES } from './rhythms';

/** Slowest and fastest that the crank turns it: at the slowest each stroke dies away before the next one. */
export const [SLOWEST, FASTEST] = [0.1, 2] as const;

/** How far its tempo wanders, how late a stroke may be whatever the speed, and how much strokes differ. */
const WANDER = 0.012;
const WANDER_PACE = 0.15;
const UNEVEN_S = 0.004;
const VELOCITY_SHARE = 0.06;
/** An open hat is cut by the next stroke of a hat within so long. */
const CUT_S = 0.006;
const LEVEL = fromDb(-7);

/** A stroke that the drummer has played. */
export interface DrummerStroke {
  readonly drum: DrumName;
  readonly family: Family;
  readonly note: number;
  /** Frame at which it begins. */
  readonly frame: number;
  readonly velocity: number;
}

interface Sounding {
  readonly drum: DrumName;
  readonly samples: Float32Array;
  at: number;
  /** Frames of its fade that are left; -1 while nothing cuts it. */
  fadeLeft: number;
}

/**
 * A clockwork drummer without a clock out: it repeats a rhythm of overlapping strokes, no two of them the same, at the speed of
 * its crank, which may be turned while it plays. The same seed and the same turns give the same sound.
 */
export class Drummer {
  /** Share of full speed. */
  speed = 1;
  readonly strokes: DrummerStroke[] = [];
  private readonly random: () => number;
  private readonly steps: number;
  private readonly sounding: Sounding[] = [];
  private readonly waiting: { readonly drum: DrumName; readonly frame: number; readonly velocity: number }[] = [];
  private clock = 0;
  private nextStep = 0;
  private stepFrame = 0;
  private wander = 0;
  private struck = 0;

  constructor(
    private readonly rhythm: DrummerRhythm,
    private readonly sampleRate: number,
    private readonly seed: number,
    leadSeconds = 0,
  ) {
    this.random = seededRandom(seed);
    this.steps = Math.max(...Object.values(rhythm.drums).map(({ length }) => length));
    this.stepFrame = leadSeconds * sampleRate;
  }

  /** Frames of a lap at a speed, without wander. */
  lapFrames(speed: number): number {
    return (this.steps * 60 * this.sampleRate) / (this.rhythm.bpm * this.rhythm.perBeat * speed);
  }

  /** Plays the next frames; no longer strikes once `isOver`, and rings out. */
  read(frames: number, isOver = false): Float32Array {
    const out = new Float32Array(frames);
    const end = this.clock + frames;
    if (!isOver) while (this.stepFrame < end) this.takeStep();
    for (let at = this.clock; at < end; ) {
      const due = this.waiting[0];
      const until = due && due.frame < end ? Math.max(at, due.frame) : end;
      this.mix(out, at - this.clock, until - at);
      at = until;
      if (due && due.frame <= at && due.frame < end) {
        this.waiting.shift();
        if (!isOver) this.strike(due.drum, due.frame, due.velocity);
      }
    }
    this.clock = end;
    return out;
  }

  /** Whether anything still rings. */
  get rings(): boolean {
    return this.sounding.length > 0;
  }

  private takeStep(): void {
    const { rhythm, sampleRate } = this;
    const speed = Math.min(FASTEST, Math.max(SLOWEST, this.speed));
    for (const [drum, text] of Object.entries(rhythm.drums) as [DrumName, string][]) {
      const hard = STEP_VELOCITIES[text[this.nextStep % text.length] ?? '.'];
      const [late, more] = [this.random(), this.random()];
      if (hard === undefined) continue;
      const frame = Math.round(this.stepFrame + UNEVEN_S * late * sampleRate);
      const velocity = Math.max(1, Math.min(127, Math.round(hard * (1 + VELOCITY_SHARE * (2 * more - 1)))));
      this.waiting.push({ drum, frame, velocity });
    }
    this.waiting.sort((a, b) => a.frame - b.frame);
    this.wander += WANDER_PACE * (WANDER * (2 * this.random() - 1) * 3 - this.wander);
    this.stepFrame += (60 * sampleRate * (1 + this.wander)) / (rhythm.bpm * rhythm.perBeat * speed);
    this.nextStep = (this.nextStep + 1) % this.steps;
  }

  private strike(drum: DrumName, frame: number, velocity: number): void {
    const { family, note, voice } = DRUMS[drum];
    const { channels } = renderVoice(voice, velocity, this.seed * 7919 + this.struck++, this.sampleRate);
    if (drum === 'hat' || drum === 'open')
      for (const one of this.sounding)
        if (one.drum === 'open' && one.fadeLeft < 0) one.fadeLeft = Math.round(CUT_S * this.sampleRate);
    this.sounding.push({ drum, samples: channels[0] as Float32Array, at: 0, fadeLeft: -1 });
    this.strokes.push({ drum, family, note, frame, velocity });
  }

  private mix(out: Float32Array, from: number, count: number): void {
    const cut = Math.round(CUT_S * this.sampleRate);
    for (const one of this.sounding) {
      const most = Math.min(count, one.samples.length - one.at);
      for (let i = 0; i < most; i++) {
        const gain = one.fadeLeft < 0 ? 1 : Math.max(0, one.fadeLeft--) / cut;
        out[from + i] = (out[from + i] as number) + LEVEL * gain * (one.samples[one.at + i] as number);
        if (one.fadeLeft === 0) {
          one.at = one.samples.length;
          break;
        }
      }
      if (one.fadeLeft !== 0) one.at += most;
    }
    for (let i = this.sounding.length - 1; i >= 0; i--) {
      const one = this.sounding[i] as Sounding;
      if (one.at >= one.samples.length) this.sounding.splice(i, 1);
    }
  }
}

/** What the drummer plays of a rhythm in some laps, until it has died away; begins after so many seconds of nothing. */
export function playDrummer(
  rhythm: DrummerRhythm,
  speed: number,
  laps: number,
  seed: number,
  sampleRate: number,
  leadSeconds = 0.5,
): { readonly samples: Float32Array; readonly strokes: readonly DrummerStroke[] } {
  const drummer = new Drummer(rhythm, sampleRate, seed, leadSeconds);
  drummer.speed = speed;
  const frames = Math.round(leadSeconds * sampleRate + laps * drummer.lapFrames(speed)) - Math.round(0.02 * sampleRate);
  const blocks = [drummer.read(frames)];
  while (drummer.rings) blocks.push(drummer.read(Math.round(sampleRate / 10), true));
  const samples = new Float32Array(blocks.reduce((sum, { length }) => sum + length, 0));
  let at = 0;
  for (const block of blocks) {
    samples.set(block, at);
    at += block.length;
  }
  return { samples, strokes: drummer.strokes };
}
