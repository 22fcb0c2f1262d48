import { VoiceEngine } from '../../src/core/play/engine';
import { SOURCE, type SourceName, TARGET, type TargetName } from '../../src/core/play/moves';
import { type PadSound, PLAIN_LAYER, SILENT } from '../../src/core/play/program';
import { seededRandom } from '../../src/core/signal/random';
import { median, type Row, timed } from './rows';

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
