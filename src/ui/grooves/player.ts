import type { GrooveView } from '@/contract/views';
import { TICKS_PER_QUARTER } from '@/core/groove/model';
import { beatsOf, type Stretch, scoreOf } from '@/core/groove/score';
import { barTicks, meterAt } from '@/core/groove/time';
import type { Pad } from '@/core/kit/model';
import { MOST_STROKES } from '@/core/play/score';
import { kitNow } from '../pads/kit-context';
import { tell } from '../parts/notice';
import { createStore } from '../parts/store';
import { METRONOME, openSound, type Sound } from '../sound/sound';

/** Before the first stroke, so that it is not late. */
const LEAD_S = 0.03;
/** By then the engine has begun what it was told to play, or was told to stop. */
const TAKEN_UP_S = 0.3;
/** So long before the first beat a stroke is meant for it. */
const EARLY_S = 0.25;

interface Playing {
  readonly stretch: Stretch;
  readonly framesPerTick: number;
}

/**
 * Plays a groove in the engine, whose frames are its only clock. What is changed is heard from the next stroke on, in time:
 * another stretch too.
 */
export class GroovePlayer {
  readonly running = createStore(false);
  /** Whether the beats are heard, and whether a bar of them is before the first. */
  readonly metronome = createStore(false);
  readonly countsIn = createStore(false);
  private sound: Sound | null = null;
  /** Engine frame at which the first lap begins. */
  private begins = 0;
  private now: Playing | null = null;
  private wanted: { view: GrooveView; pads: readonly Pad[]; stretch: Stretch } | null = null;

  /** What is to be played; changes at once where it runs. */
  set(view: GrooveView, pads: readonly Pad[], stretch: Stretch, barStart: (tick: number) => number): void {
    this.wanted = { view, pads, stretch };
    const before = this.now;
    if (!this.isOwn() || !before || !this.sound) return;
    const { engine } = this.sound;
    const tick = this.tickAt(engine.frame);
    this.hand();
    const { framesPerTick } = this.now as Playing;
    const isSame = before.stretch.from === stretch.from && before.stretch.to === stretch.to;
    if ((isSame && before.framesPerTick === framesPerTick) || tick === null) return;
    // What is heard now goes on where it lies in the new stretch, else at the same beat of its first bar.
    const isInside = tick >= stretch.from && tick < stretch.to;
    const passed = isInside ? tick - stretch.from : (tick - barStart(tick)) % (stretch.to - stretch.from);
    engine.play(engine.frame - passed * framesPerTick, false);
  }

  /** Another kit is under the hands, or its pads have changed. */
  changeKit(pads: readonly Pad[]): void {
    if (!this.wanted) return;
    this.wanted = { ...this.wanted, pads };
    if (this.isOwn()) this.hand();
  }

  async play(): Promise<void> {
    this.sound = await openSound();
    if (!this.wanted) return;
    this.sound.audition.stop();
    if (this.metronome.get() || this.countsIn.get()) await this.sound.prepareMetronome();
    const { engine } = this.sound;
    this.hand();
    const begins = engine.frame + Math.round(LEAD_S * engine.sampleRate);
    this.begins = begins + (this.countsIn.get() ? this.countIn(begins) : 0);
    engine.play(this.begins);
    this.running.set(true);
  }

  /** The metronome goes on or stops at once. */
  async setMetronome(isOn: boolean): Promise<void> {
    this.metronome.set(isOn);
    if (isOn) await this.sound?.prepareMetronome();
    if (this.isOwn()) this.hand();
  }

  /** Strikes the beats of a bar like the first that is played; gives how long it is, in frames. */
  private countIn(begins: number): number {
    if (!this.wanted || !this.sound || !this.now) return 0;
    const { view } = this.wanted;
    const { engine } = this.sound;
    const meter = { ...meterAt(view.groove, 0), bar: 0 };
    const bar = { bpm: view.groove.bpm, bars: 1, meters: [meter] };
    const length = barTicks(meter);
    for (const { at, velocity } of beatsOf(bar, { from: 0, to: length }, METRONOME, engine.sampleRate))
      engine.strike(METRONOME, velocity, Math.round(begins + at));
    return length * this.now.framesPerTick;
  }

  stop(): void {
    if (this.isOwn()) this.sound?.engine.stopScore();
    this.now = null;
    this.running.set(false);
  }

  /** The tick that is heard now; null while nothing is. Notices when something else has taken the score. */
  heardTick(): number | null {
    if (!this.now || !this.sound) return null;
    const { engine } = this.sound;
    const isStopped = engine.lapBegan === null && engine.frame > this.begins + TAKEN_UP_S * engine.sampleRate;
    if (!this.isOwn() || isStopped) {
      this.stop();
      return null;
    }
    return this.tickHeardAt(engine.frame);
  }

  /** The tick that was heard when the engine was at a frame; null while nothing runs. */
  tickHeardAt(frame: number): number | null {
    if (!this.isOwn() || !this.sound) return null;
    const { engine } = this.sound;
    const heard = frame - engine.latency * engine.sampleRate;
    // A stroke on the first beat comes a little before it more often than not.
    const isEarly = heard < this.begins && heard > this.begins - EARLY_S * engine.sampleRate;
    return this.tickAt(isEarly ? this.begins : heard);
  }

  private isOwn(): boolean {
    return this.now !== null && this.sound?.engine.scoreOwner === this;
  }

  private tickAt(frame: number): number | null {
    const began = this.sound?.engine.lapBegan ?? null;
    // In the count no lap has begun.
    if (!this.now || began === null || frame < this.begins) return null;
    const { stretch, framesPerTick } = this.now;
    const length = stretch.to - stretch.from;
    const passed = (frame - began) / framesPerTick;
    return stretch.from + (((passed % length) + length) % length);
  }

  private hand(): void {
    if (!this.wanted || !this.sound) return;
    const { view, pads, stretch } = this.wanted;
    const { engine } = this.sound;
    const { strokes, length } = scoreOf(view.groove, view.rows, view.notes, pads, stretch, engine.sampleRate);
    const beats = this.metronome.get() ? beatsOf(view.groove, stretch, METRONOME, engine.sampleRate) : [];
    const all = [...strokes, ...beats];
    if (all.length > MOST_STROKES)
      tell(
        `It has ${all.length} strokes; the first ${MOST_STROKES} are heard. Play fewer bars, or make rolls shorter.`,
      );
    all.sort((a, b) => a.at - b.at);
    engine.setScore(all.slice(0, MOST_STROKES), length, this);
    const framesPerTick = (60 * engine.sampleRate) / (view.groove.bpm * TICKS_PER_QUARTER);
    this.now = { stretch, framesPerTick };
  }
}

/** The page's player: a groove goes on while another page is open, with the kit that is under the hands. */
export const player = new GroovePlayer();
kitNow.subscribe(() => player.changeKit(kitNow.get()?.pads ?? []));
