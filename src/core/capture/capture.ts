import { type Audio, peakOf, toMono } from '../signal/audio';
import { fromDb } from '../signal/units';
import { GrowingColumns } from './growing';
import { History } from './history';
import { InputMeter, type MeterReading } from './meter';
import { type CaptureSettings, takenChannels } from './parameters';
import { type HeardRoom, hearRoom, quietStretch } from './room';
import { type FallenStroke, StrokesAsTheyFall } from './strokes';
import { type InputFault, InputWatch } from './warnings';

/** `listening`: the input is open; `counting` and `waiting`: a take is about to begin. */
export type Phase = 'listening' | 'counting' | 'waiting' | 'recording';

/** Kept of the input: enough for what is kept before a take, for the room tone, and for a stroke laid on a pad. */
const HISTORY_S = 12;
/** Seconds kept before the first beat after a count-in, since players often come early. */
const BEFORE_COUNT_S = 0.25;
/** The room is not looked for so shortly before a take begins: the first stroke may be in it. */
const BEFORE_STROKE_S = 0.1;
/** Over the loudest sample of the room is loud, and the least and the most that it may be taken to be. */
const OVER_ROOM_DB = 12;
const LEAST_LOUD = fromDb(-54);
const MOST_LOUD = fromDb(-12);

/** Receives a take. */
export interface TakeSink {
  begin(sampleRate: number, channelCount: number): void;
  /** The next frames, one array a channel; the receiver may keep but not change them. */
  take(channels: readonly Float32Array[]): void;
  end(room: HeardRoom | null): void;
}

/** What was added to the take since the last call: wave columns, and strokes at frames of the take. */
export interface Grown {
  readonly columns: Float32Array;
  readonly strokes: readonly FallenStroke[];
}

/**
 * An input that is listened to and recorded: what begins and ends a take, what goes into it, and what is told of it meanwhile.
 * Whatever the source is, its blocks come in by `add`.
 */
export class Capture {
  phase: Phase = 'listening';
  /** Frames of the running take, or of the last one. */
  frames = 0;
  /** The room before the take; null where it was not heard. */
  room: HeardRoom | null = null;
  private readonly history: History;
  private meter: InputMeter;
  private readonly watch: InputWatch;
  private strokes: StrokesAsTheyFall;
  private columns = new GrowingColumns();
  private grown: { columns: Float32Array[]; strokes: FallenStroke[] } = { columns: [], strokes: [] };
  private countLeft = 0;
  private loud = LEAST_LOUD;
  private lastLoud: number | null = null;
  private channelCount: number;
  /** Whether a stroke has fallen in the take. */
  private isStruck = false;

  constructor(
    readonly sampleRate: number,
    inputChannels: 1 | 2,
    private settings: CaptureSettings,
    private readonly sink: TakeSink,
  ) {
    this.channelCount = settings.channels === 'all' ? inputChannels : 1;
    this.history = new History(HISTORY_S * sampleRate);
    this.meter = new InputMeter(sampleRate, this.channelCount);
    this.watch = new InputWatch(sampleRate);
    this.strokes = new StrokesAsTheyFall(sampleRate);
  }

  /** Changes the settings; the channels of a running take stay. */
  set(settings: CaptureSettings): void {
    const { channels } = this.settings;
    this.settings = this.phase === 'recording' ? { ...settings, channels } : settings;
  }

  /** Takes in what came from the input: blocks of one length for each channel. */
  add(block: readonly Float32Array[]): void {
    const channels = takenChannels(block, this.settings.channels);
    const count = channels[0]?.length ?? 0;
    if (count === 0) return;
    if (channels.length !== this.channelCount) this.begins(channels.length);
    this.history.add(channels);
    this.meter.add(channels);
    this.watch.add(toMono({ sampleRate: this.sampleRate, channels }));
    switch (this.phase) {
      case 'recording':
        this.record(channels);
        break;
      case 'counting':
        this.countLeft -= count;
        if (this.countLeft <= 0) this.begin(BEFORE_COUNT_S, -this.countLeft);
        break;
      case 'waiting': {
        const first = firstOver(channels, this.loud);
        if (first !== null) this.begin(this.settings.beforeS, count - first);
        break;
      }
      case 'listening':
        break;
    }
  }

  /** Begins a take as the settings say; `countS` is the length of the count-in. */
  arm(countS: number): void {
    if (this.phase !== 'listening') return;
    this.loud = this.loudness();
    this.watch.reset();
    switch (this.settings.begin) {
      case 'now':
        this.begin(0, 0);
        break;
      case 'count':
        this.countLeft = Math.round(countS * this.sampleRate);
        this.phase = 'counting';
        break;
      case 'loud':
        this.phase = 'waiting';
        break;
    }
  }

  /** Ends the take, or no longer waits for one. */
  stop(): void {
    const { phase } = this;
    this.phase = 'listening';
    if (phase !== 'recording') return;
    for (const stroke of this.strokes.finish()) this.note(stroke);
    // Where nothing was heard before the take the room may be heard in it.
    this.room ??= this.roomIn(this.history.last(Math.min(this.frames, this.history.frames)));
    this.sink.end(this.room);
  }

  /** What is told of the input now. */
  get reading(): MeterReading {
    return this.meter.reading;
  }

  get faults(): InputFault[] {
    return this.watch.faults(this.meter.reading);
  }

  /** Forgets held peaks and what clipped. */
  resetMeter(): void {
    this.meter.reset();
  }

  /** Columns and strokes since the last call. */
  takeGrown(): Grown {
    const { columns, strokes } = this.grown;
    this.grown = { columns: [], strokes: [] };
    const all = new Float32Array(columns.reduce((sum, { length }) => sum + length, 0));
    let at = 0;
    for (const some of columns) {
      all.set(some, at);
      at += some.length;
    }
    return { columns: all, strokes };
  }

  /** Frames [from, to) of the running take, or of the one that has just ended; null where they are no longer kept. */
  heard(from: number, to: number): Audio | null {
    const ago = this.frames - from;
    if (ago > this.history.frames || to > this.frames || to <= from) return null;
    const channels = this.history.last(ago).map((channel) => channel.subarray(0, to - from));
    return { sampleRate: this.sampleRate, channels };
  }

  /** Goes over to another number of channels. */
  private begins(channelCount: number): void {
    this.channelCount = channelCount;
    this.history.clear();
    this.meter = new InputMeter(this.sampleRate, channelCount);
  }

  /** Begins a take so long before what is `ago` frames past. */
  private begin(beforeS: number, ago: number): void {
    const { history, sampleRate } = this;
    const before = history.last(history.frames).map((x) => x.subarray(0, Math.max(0, history.frames - ago)));
    this.room = this.roomIn(before.map((x) => x.subarray(0, Math.max(0, x.length - BEFORE_STROKE_S * sampleRate))));
    const first = history.last(ago + Math.round(beforeS * sampleRate));
    this.phase = 'recording';
    this.frames = 0;
    this.lastLoud = null;
    this.isStruck = false;
    this.strokes = new StrokesAsTheyFall(sampleRate);
    this.columns = new GrowingColumns();
    this.grown = { columns: [], strokes: [] };
    this.sink.begin(sampleRate, this.channelCount);
    if ((first[0]?.length ?? 0) > 0) this.record(first);
  }

  private record(channels: readonly Float32Array[]): void {
    const { sampleRate } = this;
    const mono = toMono({ sampleRate, channels: [...channels] });
    this.frames += mono.length;
    this.sink.take(channels);
    this.grown.columns.push(this.columns.add(mono));
    for (const stroke of this.strokes.add(mono)) this.note(stroke);
    if (peakOf(channels) >= this.loud) this.lastLoud = this.frames;
    const { stopAfterS } = this.settings;
    if (stopAfterS !== null && this.lastLoud !== null && this.frames - this.lastLoud >= stopAfterS * sampleRate)
      this.stop();
  }

  private note(stroke: FallenStroke): void {
    if (!this.room && !this.isStruck) {
      const before = this.heard(0, Math.round(stroke.frame - BEFORE_STROKE_S * this.sampleRate));
      this.room = before && hearRoom(before);
    }
    this.isStruck = true;
    this.watch.struck(stroke.peak);
    this.grown.strokes.push(stroke);
  }

  /** The level of a sample, linear, from which on the input is loud. */
  private loudness(): number {
    const { loudDb } = this.settings;
    if (loudDb !== null) return fromDb(loudDb);
    const audio = { sampleRate: this.sampleRate, channels: this.history.last(this.history.frames) };
    const quiet = quietStretch(audio);
    if (!quiet) return LEAST_LOUD;
    const room = peakOf(audio.channels, quiet.start, quiet.end) * fromDb(OVER_ROOM_DB);
    return Math.max(LEAST_LOUD, Math.min(MOST_LOUD, room));
  }

  private roomIn(channels: Float32Array[]): HeardRoom | null {
    return (channels[0]?.length ?? 0) === 0 ? null : hearRoom({ sampleRate: this.sampleRate, channels });
  }
}

/** The first frame at which a channel reaches a level; null where none does. */
function firstOver(channels: readonly Float32Array[], level: number): number | null {
  let first: number | null = null;
  for (const channel of channels) {
    const at = channel.findIndex((x) => Math.abs(x) >= level);
    if (at >= 0) first = Math.min(first ?? at, at);
  }
  return first;
}
