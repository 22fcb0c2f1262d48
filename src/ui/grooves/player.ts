import type { Change } from '@/contract/edits';
import type { GrooveView, KitView } from '@/contract/views';
import { changesOf } from '@/core/groove/changes';
import { TICKS_PER_QUARTER } from '@/core/groove/model';
import { beatsOf, type Stretch, scoreOf } from '@/core/groove/score';
import { barTicks, meterAt } from '@/core/groove/time';
import { MOST_STROKES } from '@/core/play/score';
import { applyToGroove } from '../data/apply';
import { kitNow } from '../pads/kit-context';
import { tell } from '../parts/notice';
import { createStore } from '../parts/store';
import { openSound } from '../sound/open-sound';
import { METRONOME, type Sound } from '../sound/sound';
import { strokesBeneath } from './beneath';
import { beneath, compared } from './beneath-store';

/** Before the first stroke, so that it is not late. */
const LEAD_S = 0.03;
/** By then the engine has begun what it was told to play, or was told to stop. */
const TAKEN_UP_S = 0.3;
/** So long before the first beat a stroke is meant for it. */
const EARLY_S = 0.25;
/** Pads that are set up within so long are taken up together. */
const TOGETHER_MS = 30;

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
  private followed = false;
  /** Engine frame at which the first lap begins. */
  private begins = 0;
  private now: Playing | null = null;
  private wanted: { readonly view: GrooveView; readonly kit: KitView | null; readonly stretch: Stretch } | null = null;

  /** What is to be played; changes at once where it runs. */
  set(view: GrooveView, kit: KitView | null, stretch: Stretch, barStart: (tick: number) => number): void {
    this.wanted = { view, kit, stretch };
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
  changeKit(kit: KitView | null): void {
    if (!this.wanted) return;
    this.wanted = { ...this.wanted, kit };
    this.renew();
  }

  /** Hands what is to be played over again, where it runs: something it depends on has changed. */
  renew(): void {
    if (this.isOwn()) this.hand();
  }

  /** Has changes heard while a hand is at them; what is set or taken next goes before them. */
  preview(changes: readonly Change[]): void {
    if (this.wanted && this.isOwn()) this.hand(applyToGroove(this.wanted.view, changes));
  }

  /** Has changes of the groove heard at once, before the page shows them. */
  take(changes: readonly Change[]): void {
    if (!this.wanted || !this.isOwn()) return;
    this.wanted = { ...this.wanted, view: applyToGroove(this.wanted.view, changes) };
    this.hand();
  }

  async play(): Promise<void> {
    this.sound = await openSound();
    if (!this.wanted) return;
    this.followPrograms(this.sound);
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
    this.renew();
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

  /** Lanes change programs from what they are: when a pad has been set up anew, the score is too. */
  private followPrograms({ prepared }: Sound): void {
    if (this.followed) return;
    this.followed = true;
    let due = 0;
    prepared.subscribe(() => {
      if (!this.isOwn() || !this.wanted?.view.lanes.some(({ points }) => points.length > 0)) return;
      clearTimeout(due);
      due = window.setTimeout(() => this.renew(), TOGETHER_MS);
    });
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

  private hand(view = this.wanted?.view): void {
    if (!this.wanted || !view || !this.sound) return;
    const { kit, stretch } = this.wanted;
    const { groove, rows, notes, lanes } = view;
    const { engine, programs } = this.sound;
    const { sampleRate } = engine;
    const { strokes, length } = scoreOf(groove, rows, notes, kit?.pads ?? [], stretch, sampleRate);
    const under = beneath.get();
    const which = under ? compared.get() : 'kit';
    const all = [
      ...(which === 'recording' ? [] : strokes),
      ...(this.metronome.get() ? beatsOf(groove, stretch, METRONOME, sampleRate) : []),
      ...(under && which !== 'kit' ? strokesBeneath(under, groove, stretch, sampleRate) : []),
    ];
    if (all.length > MOST_STROKES)
      tell(
        `It has ${all.length} strokes; the first ${MOST_STROKES} are heard. Play fewer bars, or make rolls shorter.`,
      );
    all.sort((a, b) => a.at - b.at);
    const moved = kit ? changesOf(groove, lanes, rows, kit, programs, stretch, strokes, sampleRate) : null;
    if (moved?.isCut) tell('Its lanes have more points than can be played at once. Play fewer bars, or empty a lane.');
    engine.setScore(all.slice(0, MOST_STROKES), length, this, moved?.changes ?? []);
    const framesPerTick = (60 * sampleRate) / (groove.bpm * TICKS_PER_QUARTER);
    this.now = { stretch, framesPerTick };
  }
}

/** The page's player: a groove goes on while another page is open, with the kit that is under the hands. */
export const player = new GroovePlayer();
kitNow.subscribe(() => player.changeKit(kitNow.get()));
for (const store of [beneath, compared]) store.subscribe(() => player.renew());
