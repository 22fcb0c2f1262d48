import { execFileSync } from 'node:child_process';
import { writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { liveSteps } from '../../src/core/kit/live-steps';
import { layRoom } from '../../src/core/live/lay-room';
import { roomLayout } from '../../src/core/live/room-size';
import { writeMidiFile } from '../../src/core/midi/write';
import { initialValues } from '../../src/core/parameter/values';
import { VoiceEngine } from '../../src/core/play/engine';
import { SOURCE, type SourceName, TARGET, type TargetName } from '../../src/core/play/moves';
import { type PadSound, PLAIN_LAYER, SILENT } from '../../src/core/play/program';
import { roomResponse } from '../../src/core/room/response';
import { seededRandom } from '../../src/core/signal/random';
import { POINT } from '../../src/core/treatment/equaliser';
import { LIVE_NAMES, LIVE_PARAMETERS, type PadStep } from '../../src/core/treatment/live';
import { ROOT } from '../harness';
import { median, type Row, seconds, timed } from './rows';

const RATE = 48_000;

/** An engine that plays 64 stereo voices of twelve seconds, each at another pitch, with what `more` adds to their pads. */
function busyEngine(more: Partial<PadSound>): VoiceEngine {
  const length = RATE * 12;
  const random = seededRandom(64);
  const memory = Float32Array.from({ length: length * 2 }, () => random() - 0.5);
  const engine = new VoiceEngine(RATE, memory);
  for (let pad = 0; pad < 64; pad++) {
    const ratio = 2 ** ((pad % 24) / 24 - 0.5);
    const place = { left: 0, right: length, start: pad, end: length };
    const layer = { ...PLAIN_LAYER, ...place, ratio: ratio === 1 ? 1.01 : ratio, gain: 0.01 };
    engine.setPad(pad, { ...SILENT, fadeOutFrames: 100, ...more, layers: [layer] });
    engine.strike(pad, 127, 0);
  }
  return engine;
}

const move = (source: SourceName, target: TargetName, depth: number) => ({
  source: SOURCE[source],
  target: TARGET[target],
  depth,
});

/** Everything that can move a pad: a steep filter, three envelopes that last, and two oscillators. */
const MOVED: Partial<PadSound> = {
  filter: 1,
  sections: 2,
  cutoffHz: 2000,
  filterOctaves: 2,
  pitchSemitones: 3,
  levelAttack: RATE,
  levelDecay: 20 * RATE,
  levelSustain: 0.3,
  filterAttack: RATE / 2,
  filterDecay: 20 * RATE,
  filterSustain: 0.2,
  pitchAttack: RATE / 4,
  pitchDecay: 20 * RATE,
  pitchSustain: 0,
  driftCents: 4,
  driftDb: 0.3,
  lfo1Period: RATE / 5,
  lfo2Form: 6,
  lfo2Period: RATE / 3,
  moves: [move('lfo1', 'tune', 8), move('lfo2', 'cutoff', 0.5), move('velocity', 'cutoff', 1)],
};

/** 64 stereo voices, as the share of real time that one core spends. */
export function engineRows(): Row[] {
  return [
    ['all pitched', {}],
    ['pitched, filtered, three envelopes, two oscillators', MOVED],
  ].map(([what, more]) => {
    const engine = busyEngine(more as Partial<PadSound>);
    const [left, right] = [new Float32Array(128), new Float32Array(128)];
    const second = () => {
      for (let at = 0; at < RATE; at += 128) engine.process(left, right, 128);
    };
    second();
    const shares = Array.from({ length: 6 }, () => timed(second) / 1000);
    if (engine.activeVoices !== 64) throw new Error(`${engine.activeVoices} voices sound, not 64.`);
    const share = median(shares);
    return {
      what: `64 stereo voices, ${what}`,
      figure: `${share.toFixed(2)} of real time`,
      beside: `worst second ${Math.max(...shares).toFixed(2)}`,
      floor: 'within 0.35 of real time',
      met: share <= 0.35,
    };
  });
}

/** Steps that run on what is played: the share of real time that one pad's take. */
export function stepRows(): Row[] {
  return LIVE_NAMES.map((processor) => {
    const step = { id: processor, padId: 'pad', position: 0, processor, active: true } as PadStep;
    const points = [80, 400, 2000, 9000].map((frequencyHz) => ({ ...initialValues(POINT), frequencyHz, gainDb: 3 }));
    const steps = [processor === 'equaliser' ? { ...step, points } : step] as PadStep[];
    const samples = RATE * 12;
    const random = seededRandom(66);
    const response = roomResponse({ ...initialValues(LIVE_PARAMETERS.room), decayS: 2 }, RATE);
    const memory = new Float32Array(samples + roomLayout(response[0].length).floats);
    for (let i = 0; i < samples; i++) memory[i] = 0.2 * (random() - 0.5);
    layRoom(response, memory, samples);
    const live = liveSteps(steps, RATE, () => ({ at: samples, frames: response[0].length }));
    const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: samples };
    const share = (of: PadSound['steps']) => {
      const engine = new VoiceEngine(RATE, memory);
      engine.setPad(0, { ...SILENT, layers: [layer], steps: of });
      engine.strike(0, 127, 0);
      const [left, right] = [new Float32Array(128), new Float32Array(128)];
      const second = () => {
        for (let at = 0; at < RATE; at += 128) engine.process(left, right, 128);
      };
      second();
      return median(Array.from({ length: 6 }, () => timed(second) / 1000));
    };
    const own = share(live) - share([]);
    return {
      what: `a pad's ${processor}${processor === 'room' ? ' of 2 s' : ''}`,
      figure: `${(100 * own).toFixed(1)} % of real time`,
      beside: '',
      floor: '',
      met: null,
    };
  });
}

const FONT_NOTES = 64;
const SECONDS = 10;

/** The same notes through fluidsynth at its best interpolation, and through the engine: wall time of ten seconds. */
export function fluidsynthRow(folder: string): Row {
  const random = seededRandom(65);
  const samples = Float32Array.from({ length: 12 * RATE }, () => 0.1 * (random() - 0.5));
  const [drums, font, midi, commands] = ['drums.json', 'voices.sf2', 'voices.mid', 'commands'].map((name) =>
    join(folder, name),
  ) as [string, string, string, string];
  const cents = (i: number) => Math.round(1200 * ((i % 24) / 24 - 0.49));
  const floats = Buffer.from(samples.buffer).toString('base64');
  const all = Array.from({ length: FONT_NOTES }, (_, i) => ({ key: 30 + i, sampleRate: RATE, cents: cents(i) }));
  // One sound for all keys: the font holds it once a key.
  writeFileSync(drums, JSON.stringify(all.map((drum) => ({ ...drum, floats, filterHz: 2000 }))));
  execFileSync(process.execPath, ['--max-old-space-size=4096', join(ROOT, 'test/soundfont.mjs'), drums, font]);
  const notes = all.map(({ key }) => ({
    seconds: 0,
    message: { kind: 'note-on', channel: 9, note: key, velocity: 100 } as const,
  }));
  const ends = all.map(({ key }) => ({
    seconds: SECONDS,
    message: { kind: 'note-off', channel: 9, note: key, velocity: 64 } as const,
  }));
  writeFileSync(midi, writeMidiFile([...notes, ...ends]));
  // Seventh order, which is its best.
  writeFileSync(commands, 'interp 7\n');
  const options = ['-ni', '-f', commands, '-R', '0', '-C', '0', '-r', String(RATE), '-O', 'float', '-T', 'wav'];
  const other = () =>
    execFileSync('fluidsynth', [...options, '-F', join(folder, 'voices.wav'), font, midi], { stdio: 'ignore' });
  const memory = samples;
  const own = () => {
    const engine = new VoiceEngine(RATE, memory);
    for (let pad = 0; pad < FONT_NOTES; pad++) {
      const ratio = 2 ** (cents(pad) / 1200);
      const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: samples.length, ratio };
      engine.setPad(pad, { ...SILENT, filter: 1, cutoffHz: 2000, layers: [layer] });
      engine.strike(pad, 100, 0);
    }
    const [left, right] = [new Float32Array(4096), new Float32Array(4096)];
    for (let at = 0; at < SECONDS * RATE; at += 4096) engine.process(left, right, 4096);
  };
  own();
  const times = Array.from({ length: 5 }, () => [timed(own), timed(other)] as const);
  const [mine, theirs] = [median(times.map(([a]) => a)), median(times.map(([, b]) => b))];
  return {
    what: `${FONT_NOTES} notes for ${SECONDS} s, each tuned and filtered`,
    figure: seconds(mine),
    beside: `fluidsynth at interpolation 7: ${seconds(theirs)}, ratio ${(mine / theirs).toFixed(2)}`,
    floor: 'within twice its time',
    met: mine <= 2 * theirs,
  };
}
