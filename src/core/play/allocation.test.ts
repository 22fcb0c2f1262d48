import { execFileSync } from 'node:child_process';
import { buildSync } from 'esbuild';

/** Prints by how many bytes the heap grows a block, in the first round of thirty in which it allocates nothing, or the quietest: the compiler allocates in some. */
const PROBE = `
import { VoiceEngine } from './engine';
import { PAD, PLAIN_LAYER, PROGRAM_FLOATS, SILENT, writeProgram } from './program';
import { SCORE_FLOATS, writeScore } from './score';
import { Transport } from './transport';

const engine = new VoiceEngine(48_000, new Float32Array(248_000).map((_, i) => (i < 48_000 ? Math.sin(i / 9) : 0)), 16);
const transport = new Transport();
const score = new Float64Array(SCORE_FLOATS);
const changed = [[PAD.gain, 0.7, PAD.pan, 0.3], [PAD.gain, 0.9, PAD.pan, -0.2]];
writeScore(
  [0, 2400].map((at) => ({ at, pad: 3, velocity: 90, from: -1, to: -1, until: at + 900, offsets: { tune: at / 10, level: -3.5 } })),
  4800,
  score,
  0,
  Array.from({ length: 10 }, (_, i) => ({ at: i * 480, place: 3, over: 480, patch: changed[i & 1] })),
);
transport.load(score, 0, 0);
transport.start(0, 0);
const program = (ratio, i) => ({
  ...SILENT,
  chokeGroup: i % 2,
  layers: [{ ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: 40_000, ratio, gain: 0.5 }],
});
for (const [i, ratio] of [0.5, 1, 1.5, 2.1].entries()) engine.setPad(i, program(ratio, i));
const every = [[7, 3, 50], [8, 4, 1], [0, 6, 5], [10, 0, 6], [4, 10, 1], [3, 1, 0.5]];
const moving = {
  filter: 1, sections: 2, cutoffHz: 900, filterOctaves: 2, pitchSemitones: 7, levelAttack: 300, levelDecay: 9000,
  levelSustain: 0.5, filterDecay: 5000, pitchDecay: 3000, driftCents: 4, driftDb: 1, velocityDb: 18, mode: 2, width: 1.2,
  moves: every.map(([source, target, depth]) => ({ source, target, depth })),
};
const [plain] = program(1.1, 0).layers;
const takes = [0, 1, 2].map(() => ({ ...plain, take: 1, loopStart: 9000, loopEnd: 30_000, seam: 100 }));
engine.setPad(4, { ...SILENT, ...moving, layers: takes });
engine.setPad(5, { ...SILENT, ...moving, takeOrder: 1, filter: 2, layers: takes });
const FIGURES = 160;
const step = (kind, form, figures) => ({ kind, form, length: 0, on: 1, mix: 0.7, figures });
const sections = Array.from({ length: FIGURES }, (_, i) => (i % 5 === 0 ? 0.9 : i % 5 === 3 && i < 20 ? 0.1 : 0));
const steps = [
  step(1, 0, sections),
  step(2, 1, [-30, -0.7, 6, 0.99, 0.999, 0.995, 2]),
  step(3, 0, [4, 0.5, 0.2, 0.0002, 0]),
  { ...step(4, 48_000, []), length: 9000 },
];
const stepped = (more) => ({ ...program(1.2, 0), steps: steps.map((s) => ({ ...s, mix: s.mix + more })) });
engine.readyStrips();
engine.setPad(6, stepped(0));
const programs = [stepped(0), stepped(0.2)].map((sound) => {
  const floats = new Float64Array(PROGRAM_FLOATS);
  writeProgram(sound, floats);
  return floats;
});
const left = new Float32Array(128);
const right = new Float32Array(128);
const BLOCKS = 2000;
let least = Infinity;
for (let round = 0; round < 30 && least >= 1; round++) {
  globalThis.gc();
  const before = process.memoryUsage().heapUsed;
  for (let i = 0; i < BLOCKS; i++) {
    if (i % 3 === 0) engine.strike(i % 7, 100);
    if (i % 7 === 0) engine.release(i % 7);
    if (i % 50 === 0) engine.stop(2);
    if (i % 9 === 4) engine.loadProgram(6, programs[i & 1], 0);
    if (i % 50 === 25) engine.control(1, (i % 127) / 127);
    transport.schedule(engine, 128);
    engine.process(left, right, 128);
  }
  least = Math.min(least, (process.memoryUsage().heapUsed - before) / BLOCKS);
}
if (!left.some((x) => x !== 0)) throw new Error('Nothing sounded.');
console.log(least);
`;

test('engine and transport allocate nothing while they play, whatever is struck, tuned, released, choked and treated', () => {
  const { outputFiles } = buildSync({
    stdin: { contents: PROBE, resolveDir: __dirname, loader: 'js' },
    bundle: true,
    write: false,
    format: 'iife',
    platform: 'node',
  });
  // A process of its own: the test runner's own globals allocate.
  const grown = execFileSync(process.execPath, ['--expose-gc', '-'], { input: outputFiles[0]?.text ?? '' });
  expect(Number(grown)).toBeLessThan(1);
});
