import type { SampleEncoding } from '../core/format/pcm';
import { type Audio, peakOf, silence } from '../core/signal/audio';
import { seededRandom } from '../core/signal/random';
import { VOICE_FAMILY, VOICES, type VoiceName } from './voices';

/** A true onset of a demo recording: kept beside it for the tests. */
export interface TruthEntry {
  readonly frame: number;
  readonly voice: VoiceName;
  readonly family: string;
  readonly level: number;
}

export interface DemoRecording {
  readonly title: string;
  readonly fileName: string;
  readonly notes: string;
  readonly encoding: SampleEncoding;
  readonly audio: Audio;
  readonly truth: readonly TruthEntry[];
  readonly family: 'loop' | 'takes' | 'song';
}

/** A strike: when in seconds, which voice, how loud, where between left (-1) and right (1). */
export interface Strike {
  readonly seconds: number;
  readonly voice: VoiceName;
  readonly level: number;
  readonly pan?: number;
}

/** Sums strikes onto silence; an open hat is cut by the next hat, as on the instrument. */
export function play(
  strikes: readonly Strike[],
  seconds: number,
  sampleRate: number,
  channelCount: 1 | 2,
  seed: number,
): { audio: Audio; truth: TruthEntry[] } {
  const audio = silence(Math.round(seconds * sampleRate), channelCount, sampleRate);
  const truth: TruthEntry[] = [];
  const sorted = [...strikes].sort((a, b) => a.seconds - b.seconds);
  for (const [n, strike] of sorted.entries()) {
    const frame = Math.round(strike.seconds * sampleRate);
    const sound = VOICES[strike.voice](sampleRate, strike.level, seed * 1000 + n);
    const cutBy =
      strike.voice === 'open hat' ? sorted.slice(n + 1).find((s) => s.voice.endsWith('hat'))?.seconds : undefined;
    const cutAt = cutBy === undefined ? sound.length : Math.round((cutBy - strike.seconds) * sampleRate);
    const fade = Math.round(0.006 * sampleRate);
    const pan = strike.pan ?? 0;
    for (const [c, channel] of audio.channels.entries()) {
      const gain = channelCount === 1 ? 1 : c === 0 ? Math.min(1, 1 - pan) : Math.min(1, 1 + pan);
      for (let i = 0; i < sound.length && frame + i < channel.length; i++) {
        const left = cutAt + fade - i;
        if (left <= 0) break;
        const choke = left < fade ? left / fade : 1;
        channel[frame + i] = (channel[frame + i] as number) + gain * choke * (sound[i] as number);
      }
    }
    truth.push({ frame, voice: strike.voice, family: VOICE_FAMILY[strike.voice], level: strike.level });
  }
  return { audio, truth };
}

export function scaleToPeak(audio: Audio, peak: number): void {
  const now = peakOf(audio.channels);
  const gain = now > 0 ? peak / now : 1;
  for (const channel of audio.channels)
    for (let i = 0; i < channel.length; i++) channel[i] = (channel[i] as number) * gain;
}

export function addNoise(audio: Audio, level: number, seed: number): void {
  for (const [c, channel] of audio.channels.entries()) {
    const random = seededRandom(seed + c);
    let smooth = 0;
    for (let i = 0; i < channel.length; i++) {
      smooth += 0.2 * (random() * 2 - 1 - smooth);
      channel[i] = (channel[i] as number) + level * smooth * 2;
    }
  }
}

/** Strikes from rows of text: one character a step, `X` loud, `x` middling, `o` soft, `.` none. */
function rows(bpm: number, stepsPerBeat: number, lines: readonly [VoiceName, string, number?][]): Strike[] {
  const step = 60 / bpm / stepsPerBeat;
  const levels: Record<string, number> = { X: 0.95, x: 0.6, o: 0.22 };
  return lines.flatMap(([voice, text, pan]) =>
    [...text.replaceAll(' ', '')].flatMap((char, i) =>
      levels[char] === undefined
        ? []
        : [{ seconds: i * step, voice, level: levels[char] as number, ...(pan === undefined ? {} : { pan }) }],
    ),
  );
}

function humanise(strikes: readonly Strike[], seed: number, spreadMs: number, lead: number): Strike[] {
  const random = seededRandom(seed);
  return strikes.map((s) => ({
    ...s,
    seconds: Math.max(0, s.seconds + lead + ((random() - 0.5) * 2 * spreadMs) / 1000),
    level: s.level * (0.9 + 0.2 * random()),
  }));
}

function sluiceLoop(): DemoRecording {
  const strikes = humanise(
    rows(94, 4, [
      ['kick', 'X.....x. ..X..... X.....x. .xX.....'],
      ['snare', '....X... ....X..o ....X... ....X...', 0.05],
      ['closed hat', '..x...x. ..x...x. ..x...x. ..x.....', 0.3],
      ['open hat', '........ ........ ........ ......x.', 0.3],
      ['high tom', '........ ........ ........ .....x..', -0.3],
    ]),
    11,
    3,
    0.02,
  );
  const { audio, truth } = play(strikes, (8 * 60) / 94 + 0.3, 44100, 2, 1);
  scaleToPeak(audio, 0.89);
  return {
    title: 'Sluice loop',
    fileName: 'sluice-loop.wav',
    notes: 'The house drummer, two bars, dry. 94 BPM.',
    encoding: 's24',
    audio,
    truth,
    family: 'loop',
  };
}

function headraceLoop(): DemoRecording {
  const step = 60 / 168 / 4;
  const base = rows(168, 4, [
    ['kick', 'X..x..X. ..x.X... X..x..X. ..x.X... X..x..X. ..x.X... X..x..X. x.x.X...'],
    ['tight snare', '....X..o .o..X..o ....X..o .o..X.o. ....X..o .o..X..o ....X..o .oxxXxXX', 0.05],
    ['closed hat', 'x.x.x.x. x.x.x... x.x.x.x. x.x.x... x.x.x.x. x.x.x... x.x.x.x. x.x.....', 0.35],
    ['open hat', '........ ......x. ........ ......x. ........ ......x. ........ ........', 0.35],
    ['crash', 'x....... ........ ........ ........ x....... ........ ........ ........', -0.4],
    ['low tom', '........ ........ ........ ........ ........ ........ ........ ....x.x.', -0.35],
  ]);
  const flams: Strike[] = [20, 52].map((s) => ({ seconds: s * step - 0.032, voice: 'tight snare', level: 0.4 }));
  const strikes = humanise([...base, ...flams], 23, 2, 0.05);
  const { audio, truth } = play(strikes, 16 * (60 / 168) + 0.8, 48000, 2, 2);
  scaleToPeak(audio, 0.93);
  return {
    title: 'Headrace loop',
    fileName: 'headrace-loop.wav',
    notes: 'Four busy bars with ghost notes, flams and an open hat that rings over. 168 BPM.',
    encoding: 's24',
    audio,
    truth,
    family: 'loop',
  };
}

function sackFloorTakes(): DemoRecording {
  const random = seededRandom(77);
  const order: VoiceName[] = [
    'thud',
    'clank',
    'shaker',
    'thud',
    'chain',
    'shaker',
    'clank',
    'thud',
    'shaker',
    'clank',
    'thud',
    'chain',
    'shaker',
    'thud',
    'clank',
    'shaker',
  ];
  let at = 0.8;
  const strikes = order.map((voice, n) => {
    const strike: Strike = { seconds: at, voice, level: 10 ** ((-40 * ((n * 7) % 16)) / 15 / 20) };
    at += 1.3 + 0.9 * random();
    return strike;
  });
  const { audio, truth } = play(strikes, at + 0.6, 48000, 1, 3);
  scaleToPeak(audio, 0.8);
  addNoise(audio, 0.0009, 900);
  return {
    title: 'Sack-floor takes',
    fileName: 'sack-floor-takes.wav',
    notes: 'Thuds, clanks, grain shakers and a dropped chain, 40 dB between loudest and quietest, with the room.',
    encoding: 's24',
    audio,
    truth,
    family: 'takes',
  };
}

/** A plucked tone of three partials for the song's bass, keys and tune. */
export function addTone(audio: Audio, seconds: number, hz: number, length: number, level: number, pan: number): void {
  const start = Math.round(seconds * audio.sampleRate);
  const frames = Math.round(length * audio.sampleRate);
  for (let i = 0; i < frames; i++) {
    const t = i / audio.sampleRate;
    const attack = Math.min(1, t / 0.012);
    const release = Math.min(1, (length - t) / 0.05);
    const x =
      Math.sin(2 * Math.PI * hz * t) +
      0.4 * Math.sin(4 * Math.PI * hz * t) * Math.exp(-t * 3) +
      0.2 * Math.sin(6 * Math.PI * hz * t) * Math.exp(-t * 5);
    const y = level * x * attack * release * Math.exp(-t * 1.2);
    for (const [c, channel] of audio.channels.entries()) {
      if (start + i < channel.length)
        channel[start + i] =
          (channel[start + i] as number) + y * (c === 0 ? Math.min(1, 1 - pan) : Math.min(1, 1 + pan));
    }
  }
}

function waltz(): DemoRecording {
  const bpm = 116;
  const beat = 60 / bpm;
  const bars = 20;
  const strikes: Strike[] = [];
  for (let bar = 0; bar < bars; bar++) {
    const t = bar * 3 * beat;
    strikes.push({ seconds: t, voice: 'soft kick', level: 0.8 });
    strikes.push({ seconds: t + beat, voice: 'snare', level: 0.42, pan: 0.1 });
    strikes.push({ seconds: t + 2 * beat, voice: 'closed hat', level: 0.4, pan: 0.3 });
    if (bar % 4 === 3) strikes.push({ seconds: t + 2.5 * beat, voice: 'mid tom', level: 0.6, pan: -0.2 });
    if (bar % 8 === 0) strikes.push({ seconds: t, voice: 'ride', level: 0.3, pan: 0.4 });
  }
  const { audio, truth } = play(humanise(strikes, 31, 4, 0.1), bars * 3 * beat + 1.5, 44100, 2, 4);
  scaleToPeak(audio, 0.6);
  const chords = [
    [45, 57, 60, 64],
    [50, 57, 62, 65],
    [43, 55, 59, 62],
    [48, 55, 60, 64],
  ];
  const tune = [76, 74, 72, 71, 69, 71, 72, 74, 72, 71, 67, 69];
  const hzOf = (note: number) => 440 * 2 ** ((note - 69) / 12);
  for (let bar = 0; bar < bars; bar++) {
    if (bar >= 8 && bar < 12) continue; // bare bars: drums alone
    const t = 0.1 + bar * 3 * beat;
    const [bass, ...keys] = chords[bar % 4] as number[];
    addTone(audio, t, hzOf((bass as number) - 12), beat * 2.6, 0.16, 0);
    for (const key of keys) for (const b of [1, 2]) addTone(audio, t + b * beat, hzOf(key), beat * 0.8, 0.045, -0.3);
    if (bar >= 4)
      for (let n = 0; n < 3; n++)
        addTone(audio, t + n * beat, hzOf(tune[(bar * 3 + n) % tune.length] as number), beat * 0.95, 0.075, 0.25);
  }
  scaleToPeak(audio, 0.92);
  return {
    title: "Lock-keeper's waltz",
    fileName: 'lock-keepers-waltz.wav',
    notes: 'A song in 3/4: bass, keys and a tune over drums; bars 9 to 12 are drums alone.',
    encoding: 's16',
    audio,
    truth,
    family: 'song',
  };
}

function fairgroundDrummer(): DemoRecording {
  const strikes = rows(112, 4, [
    ['soft kick', 'X...X... X...X... X...X... X...X...'],
    ['clap', '....X... ....X... ....X... ....X..x'],
    ['closed hat', 'x.xxx.xx x.xxx.xx x.xxx.xx x.xxx.x.'],
    ['clank', '..o..... ..o..... ..o..... ..o.....'],
  ]);
  // A crank has no clock: the speed swells and falls by three parts in a hundred.
  const cranked = strikes.map((s) => ({ ...s, seconds: 0.05 + s.seconds + 0.04 * Math.sin(s.seconds * 1.1) }));
  const { audio, truth } = play(cranked, (8 * 60) / 112 + 0.5, 32000, 1, 5);
  scaleToPeak(audio, 0.85);
  addNoise(audio, 0.0004, 901);
  return {
    title: 'Fairground drummer',
    fileName: 'fairground-drummer.wav',
    notes: "The fairground organ's clockwork drummer, turned by hand: no clock, about 112 BPM.",
    encoding: 's16',
    audio,
    truth,
    family: 'loop',
  };
}

/** All recordings of the demo scenario, made anew; the same bits every time on one machine. */
export function demoRecordings(): DemoRecording[] {
  return [sluiceLoop(), headraceLoop(), sackFloorTakes(), waltz(), fairgroundDrummer()];
}
