import { VoiceEngine } from './engine';
import { type PadSound, PLAIN_LAYER, SILENT } from './program';
import { SCORE_FLOATS, writeScore } from './score';
import { Transport } from './transport';

const RATE = 48000;

function pad(set: Partial<PadSound> & { frames?: number; ratio?: number } = {}): PadSound {
  const { frames = 1000, ratio = 1, ...rest } = set;
  const layer = { ...PLAIN_LAYER, left: 0, right: 0, start: 0, end: frames, ratio };
  return { ...SILENT, layers: [layer], ...rest };
}

describe('the transport', () => {
  const click = new Float32Array(100).fill(1);
  const hits = (block: number, change?: (transport: Transport, engine: VoiceEngine) => void) => {
    const engine = new VoiceEngine(RATE, click);
    engine.setPad(3, pad({ frames: 1 }));
    const transport = new Transport();
    const score = new Float64Array(SCORE_FLOATS);
    writeScore(
      [
        { at: 700.4, pad: 3, velocity: 127, from: -1, to: -1 },
        { at: 0, pad: 3, velocity: 127, from: 7, to: 9 },
      ],
      1000.3,
      score,
    );
    transport.load(score, 0, 0);
    transport.start(50, 0);
    const found: number[] = [];
    const left = new Float32Array(block);
    for (let at = 0; at < 40_000; at += block) {
      if (at >= 4000 && change) change(transport, engine);
      transport.schedule(engine, block);
      engine.process(left, new Float32Array(block), block);
      for (const [i, x] of left.entries()) if (x !== 0) found.push(at + i);
    }
    return found.filter((frame) => frame < 40_000);
  };

  test('strokes fall at their frames, lap after lap without drift, whatever the block length', () => {
    const wanted = Array.from({ length: 40 }, (_, lap) =>
      [0, 1, 700.4].map((at) => (at === 1 ? Math.round(50 + lap * 1000.3) + 1 : Math.round(50 + lap * 1000.3 + at))),
    ).flat();
    for (const block of [128, 1000, 2500]) expect(hits(block)).toEqual(wanted.filter((frame) => frame < 40_000));
  });

  test('another score is heard from its next stroke on, at the same time', () => {
    const other = new Float64Array(SCORE_FLOATS);
    writeScore([{ at: 500, pad: 3, velocity: 127, from: -1, to: -1 }], 1000.3, other);
    const later = hits(1000, (transport, engine) => transport.load(other, 0, engine.frame)).filter(
      (frame) => frame >= 4000,
    );
    expect(later).toEqual(
      Array.from({ length: 40 }, (_, lap) => Math.round(550 + lap * 1000.3)).filter((f) => f >= 4000 && f < 40_000),
    );
  });

  test('a score that begins in the past is taken up where it would be by now', () => {
    const late = hits(1000, (transport, engine) => {
      if (engine.frame === 4000) transport.start(3900, engine.frame);
    }).filter((frame) => frame >= 4000 && frame < 7000);
    const wanted = [0, 1, 2, 3].flatMap((lap) => {
      const begun = 3900 + lap * 1000.3;
      return [Math.round(begun), Math.round(begun) + 1, Math.round(begun + 700.4)];
    });
    expect(late).toEqual(wanted.filter((frame) => frame >= 4000 && frame < 7000));
  });

  test('a pad that sounds while it is held is let go when its stroke says, whatever the block length', () => {
    const played = (block: number) => {
      const engine = new VoiceEngine(RATE, new Float32Array(5000).fill(1));
      engine.setPad(3, pad({ frames: 5000, mode: 1 }));
      const transport = new Transport();
      const score = new Float64Array(SCORE_FLOATS);
      writeScore([{ at: 100, pad: 3, velocity: 127, from: -1, to: -1, until: 400 }], 6000, score);
      transport.load(score, 0, 0);
      transport.start(0, 0);
      const left = new Float32Array(6000);
      const right = new Float32Array(6000);
      for (let at = 0; at < 6000; at += block) {
        const count = Math.min(block, 6000 - at);
        transport.schedule(engine, count);
        engine.process(left, right, count, at);
      }
      return left;
    };
    const whole = played(6000);
    expect(whole[99]).toBe(0);
    expect(whole[399]).toBeGreaterThan(0.9);
    // A short fade, then next to nothing.
    expect(Math.abs(whole[4000] as number)).toBeLessThan(0.001);
    expect(whole[600]).toBeLessThan(whole[399] as number);
    expect(played(128)).toEqual(whole);
  });

  test('a score with nothing in it is silence, and one that is too long is refused', () => {
    const none = new Float64Array(SCORE_FLOATS);
    writeScore([], 100, none);
    expect(hits(1000, (transport, engine) => transport.load(none, 0, engine.frame)).filter((f) => f >= 4000)).toEqual(
      [],
    );
    expect(() => writeScore([], 0, none)).toThrow(/a frame long/);
  });
});
