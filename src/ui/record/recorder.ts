import * as Comlink from 'comlink';
import type { ImportAnswer } from '@/contract/views';
import type { Phase } from '@/core/capture/capture';
import type { FallenStroke } from '@/core/capture/strokes';
import type { StoredTake, TakePlan } from '@/worker/recorder/take-sender';
import type { RecorderWorker, Told } from '@/worker/recorder.worker';
import { clock } from '../parts/figures';
import { inputNow } from '../parts/input-now';
import { complain, tell, tellInstead } from '../parts/notice';
import { createStore } from '../parts/store';
import type { Played } from '../play/use-keep-playing';
import { openSound } from '../sound/open-sound';
import { METRONOME } from '../sound/sound';
import { startedWorker } from '../sound/started-worker';
import { GrowingTake } from './growing-take';
import { followHeard } from './heard';
import { type InputChoice, labelOf, type OpenedInput, openInput, planOf } from './input';
import { captureSettings } from './settings';

/** `closed`: no input is open; `at once`: an instrument is recorded faster than it is heard. */
export type RecorderPhase = 'closed' | 'opening' | Phase | 'at once';

export interface RecorderState {
  readonly phase: RecorderPhase;
  /** The open input in words. */
  readonly label: string;
  readonly latencyMs: number | null;
  readonly doctored: readonly string[];
  /** The last fault, and what to do. */
  readonly problem: string | null;
  readonly monitors: boolean;
  /** Another tab records too. */
  readonly besides: boolean;
}

const CLOSED: RecorderState = {
  ...{ phase: 'closed', label: '', latencyMs: null, doctored: [], problem: null, monitors: false, besides: false },
};
/** A lock that every recording tab holds, so that they know of each other. */
const LOCK = 'undercroft.recording';
/** Frames held in the page from which on recording ends by itself: some 20 minutes in stereo. */
const MOST_HELD = 60_000_000;

/** Records takes: one a page, whatever is shown of it. */
class Recorder {
  readonly state = createStore<RecorderState>(CLOSED);
  readonly choice = createStore<InputChoice>({ kind: 'device', deviceId: '', name: 'microphone' });
  /** What was told last of the input; null while none is open. */
  readonly told = createStore<Told | null>(null);
  /** The wave and the strokes of the running take, or of the last one. */
  readonly take = new GrowingTake();
  /** Title and number of the next take, and what takes in a row have in common. */
  readonly series = createStore({ title: 'Take', number: 1, sessionId: '' });
  /** Takes of our own output that were stored, with when they ran: what was played meanwhile is kept with them. */
  readonly played = createStore<readonly (Played & { readonly title: string })[]>([]);
  /** The take that was begun last. */
  private begun = { title: '', number: 0 };
  private span: Played = { fromMs: 0, toMs: 0 };
  private input: OpenedInput | null = null;
  /** Whether some of a take waits in the page. */
  private isSending = false;
  private worker: Promise<Comlink.Remote<RecorderWorker>> | null = null;
  private freeLock: (() => void) | null = null;
  private stopHeard: (() => void) | null = null;

  /** Opens the input to see what comes in; nothing is recorded. */
  async listen(): Promise<void> {
    if (this.state.get().phase !== 'closed') return;
    this.set({ ...CLOSED, phase: 'opening' });
    try {
      const choice = this.choice.get();
      const worker = await this.started();
      const input = await openInput(choice, (reason) => void this.gone(reason));
      this.input = input;
      const { from, label, latencyMs, doctored, feed } = input;
      // An instrument in the room is heard; of a microphone that would feed back.
      const monitors = choice.kind === 'drummer';
      input.monitor(monitors);
      const opened = { from, feed };
      const given = 'track' in from ? Comlink.transfer(opened, [from.track]) : opened;
      this.take.begin(await worker.open(given, captureSettings.get()));
      this.set({ phase: 'listening', label, latencyMs, doctored, monitors });
    } catch (error) {
      await this.close();
      this.set({ problem: (error as Error).message });
    }
  }

  /** Begins a take as the settings say; the input is opened for it where it is not. */
  async record(): Promise<void> {
    if (this.state.get().phase === 'closed') await this.listen();
    if (this.state.get().phase !== 'listening') return;
    const worker = await this.started();
    const { begin, countBeats } = captureSettings.get();
    const plan = this.planOf(this.choice.get());
    await this.noteOthers();
    const countS = begin === 'count' ? await countIn(countBeats, plan.tempoBpm ?? DEFAULT_BPM) : 0;
    if (this.choice.get().kind === 'output') this.stopHeard = followHeard((ids) => void worker.hears(ids));
    this.take.begin(this.take.sampleRate);
    await worker.arm(plan, countS);
  }

  /** Ends the take, or no longer waits for one, and lets the input go. */
  async stop(): Promise<void> {
    if (this.state.get().phase === 'closed') return;
    const worker = await this.started();
    // What sounds at the end still belongs to the take.
    this.stopHeard?.();
    this.stopHeard = null;
    await worker.stop();
    await this.close();
  }

  /** Lets the input go; what was recorded is sent to its end. */
  async close(): Promise<void> {
    this.input?.letGo();
    this.input = null;
    this.stopHeard?.();
    this.stopHeard = null;
    this.freeLock?.();
    this.freeLock = null;
    if (this.worker) await (await this.worker).close();
    this.set({ ...CLOSED, problem: this.state.get().problem });
  }

  /** Records an instrument for so long, faster than it is heard. */
  async atOnce(seconds: number): Promise<void> {
    const choice = this.choice.get();
    if (choice.kind !== 'drummer' && choice.kind !== 'simulated') return;
    if (this.state.get().phase !== 'closed') await this.close();
    this.set({ ...CLOSED, phase: 'at once', label: labelOf(choice) });
    try {
      const worker = await this.started();
      const { sampleRate } = (await openSound()).engine;
      this.take.begin(sampleRate);
      await worker.atOnce(this.planOf(choice), planOf(choice), seconds, sampleRate, captureSettings.get());
      this.set({ ...CLOSED });
    } catch (error) {
      this.set({ ...CLOSED, problem: (error as Error).message });
    }
  }

  choose(choice: InputChoice): void {
    const before = this.choice.get();
    this.choice.set(choice);
    const { phase } = this.state.get();
    if (choice.kind === 'drummer' && before.kind === 'drummer' && choice.rhythm === before.rhythm) {
      void this.worker?.then((worker) => worker.turn(choice.speed));
      return;
    }
    if (phase === 'listening') void this.close().then(() => this.listen());
  }

  monitor(isOn: boolean): void {
    this.input?.monitor(isOn);
    this.set({ monitors: isOn });
  }

  settle(): void {
    void this.worker?.then((worker) => worker.set(captureSettings.get()));
  }

  resetMeter(): void {
    void this.worker?.then((worker) => worker.resetMeter());
  }

  /** Stores a stroke of the take as a recording of its own: up to the next one, or as far as it goes by now. */
  async keepStroke({ frame }: FallenStroke): Promise<ImportAnswer | null> {
    const { strokes, frames, sampleRate } = this.take;
    const next = strokes.find((other) => other.frame > frame)?.frame;
    const to = Math.min(next ?? frames, frame + LONGEST_STROKE_S * sampleRate, frames);
    return (await this.started()).keepStroke(Math.max(0, frame - BEFORE_ATTACK), to);
  }

  private set(state: Partial<RecorderState>): void {
    this.state.set({ ...this.state.get(), ...state });
    this.tellStatus();
  }

  /** What every page shows of it. */
  private tellStatus(): void {
    const { phase, label } = this.state.get();
    const told = this.told.get();
    if (phase === 'closed') {
      inputNow.set(this.isSending ? { text: 'Storing a take …', isRecording: true } : null);
      return;
    }
    const seconds = told ? Math.floor(told.frames / told.sampleRate) : 0;
    const text = phase === 'recording' || phase === 'at once' ? `Recording ${clock(seconds)}` : PHASES[phase];
    const before = inputNow.get();
    const now = `${text} · ${label}`;
    if (before?.text !== now) inputNow.set({ text: now, isRecording: isRecording({ phase }) || phase === 'at once' });
  }

  private planOf(choice: InputChoice): TakePlan {
    const series = this.series.get();
    const sessionId = series.sessionId || crypto.randomUUID();
    // The take before may not be stored yet.
    const { begun } = this;
    const number = begun.title === series.title ? Math.max(series.number, begun.number + 1) : series.number;
    this.begun = { title: series.title, number };
    this.series.set({ ...series, sessionId, number });
    return {
      ...{ sessionId, number, title: `${series.title} ${number}`, tempoBpm: null },
      source: {
        input: choice.kind,
        label: (this.state.get().label || labelOf(choice)).slice(0, 300),
        latencyMs: this.state.get().latencyMs,
      },
      heard: choice.kind === 'simulated' ? [choice.recording.id] : [],
    };
  }

  /** Holds the lock of recording tabs, and tells where another one holds it too. */
  private async noteOthers(): Promise<void> {
    const { held = [] } = (await navigator.locks?.query()) ?? {};
    const besides = held.some(({ name }) => name === LOCK);
    this.set({ besides });
    if (besides) tell('Another tab is recording too. Both takes are kept, each under its own number.');
    void navigator.locks?.request(
      LOCK,
      { mode: 'shared' },
      () =>
        new Promise<void>((resolve) => {
          this.freeLock = resolve;
        }),
    );
  }

  private async gone(reason: string): Promise<void> {
    await this.stop();
    this.set({ problem: reason });
    complain(reason);
  }

  private async started(): Promise<Comlink.Remote<RecorderWorker>> {
    this.worker ??= startedWorker<RecorderWorker>(
      () => new Worker(new URL('../../worker/recorder.worker.ts', import.meta.url)),
      (worker) =>
        worker.listen(
          Comlink.proxy((told: Told) => this.hear(told)),
          Comlink.proxy((take: StoredTake) => this.keep(take)),
          Comlink.proxy((message: string, runs: boolean) => this.fail(message, runs)),
        ),
    );
    return this.worker;
  }

  /** A take that cannot be stored is not recorded further. */
  private fail(message: string, runs: boolean): void {
    complain(`A take could not be stored: ${message}`);
    if (runs) void this.stop();
  }

  private hear(told: Told): void {
    const before = this.told.get();
    this.isSending = told.sending.held > 0;
    const { phase } = this.state.get();
    if (told.phase === 'recording' && before?.phase !== 'recording') {
      this.take.begin(told.sampleRate);
      this.span = { fromMs: performance.now(), toMs: Number.POSITIVE_INFINITY };
    }
    if (told.phase !== 'recording' && before?.phase === 'recording')
      this.span = { ...this.span, toMs: performance.now() };
    this.take.add(told.columns, told.strokes, told.frames);
    this.told.set(told);
    this.tellStatus();
    if (phase !== 'closed' && phase !== 'opening' && phase !== 'at once' && phase !== told.phase)
      this.set({ phase: told.phase });
    // It ended by itself: after silence.
    if (before?.phase === 'recording' && told.phase === 'listening' && phase === 'recording') void this.stop();
    const { trouble, held } = told.sending;
    if (trouble !== null && trouble !== before?.sending.trouble) tellInstead('take', trouble, { error: true });
    if (held > MOST_HELD && told.phase === 'recording') {
      void this.stop();
      complain(
        'The take was ended: more of it waits in this page than it can hold. Leave the page open until it is stored.',
      );
    }
  }

  private keep(take: StoredTake): void {
    this.isSending = false;
    this.tellStatus();
    if (take.input === 'output') this.played.set([...this.played.get(), { ...this.span, title: take.answer.title }]);
    const series = this.series.get();
    if (series.number === take.number) this.series.set({ ...series, number: take.number + 1 });
    if (take.answer.duplicate)
      tell(`This take is the same as “${take.answer.title}” to the last sample; it is kept once.`);
  }
}

const PHASES: Readonly<Record<RecorderPhase, string>> = {
  ...{ closed: '', opening: 'Opening the input', listening: 'The input is open', counting: 'Counting in' },
  ...{ waiting: 'Waiting for sound', recording: '', 'at once': '' },
};
const DEFAULT_BPM = 100;
const LONGEST_STROKE_S = 6;
/** Kept before a stroke that is laid on a pad, in frames: its first half wave is whole. */
const BEFORE_ATTACK = 12;
/** Clicks are scheduled so much ahead. */
const AHEAD_S = 0.1;

/** Clicks a count-in; returns how long it is in seconds, from now on. */
async function countIn(beats: number, bpm: number): Promise<number> {
  const sound = await openSound();
  await sound.prepareMetronome();
  const { engine } = sound;
  const first = engine.frame + AHEAD_S * engine.sampleRate;
  for (let beat = 0; beat < beats; beat++)
    engine.strike(METRONOME, beat === 0 ? 127 : 90, Math.round(first + (beat * 60 * engine.sampleRate) / bpm));
  return AHEAD_S + (beats * 60) / bpm + engine.latency;
}

export const recorder = new Recorder();

/** Whether a take is running or about to. */
export function isRecording({ phase }: Pick<RecorderState, 'phase'>): boolean {
  return phase === 'recording' || phase === 'waiting' || phase === 'counting';
}
