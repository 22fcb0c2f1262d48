import { PAD_INITIAL } from '@/core/kit/parameters';
import { noteToHz, pitchRatio } from '@/core/signal/units';
import { feetOf, footDragged } from './feet';
import { tunedTo } from './RootRow';

test('a root is brought to a note by semitones and the fewest cents', () => {
  for (const [rootHz, note] of [
    [100, 36],
    [187.3, 60],
    [440, 69],
  ] as const) {
    const { semitones, cents } = tunedTo(rootHz, note);
    expect(rootHz * pitchRatio(semitones, cents)).toBeCloseTo(noteToHz(note), 1);
    expect(Math.abs(cents)).toBeLessThanOrEqual(50);
  }
});

describe('feet of a pad on its wave', () => {
  const pad = { ...PAD_INITIAL, id: 'p', kitId: 'k', position: 0, name: 'Pad', family: null } as const;

  test('a foot dragged to a moment stands there, also in a tuned sound', () => {
    for (const semitones of [0, 12, -7]) {
      const playedMs = 800 / pitchRatio(semitones);
      const tuned = { ...pad, semitones, mode: 'looped' as const };
      for (const foot of ['startMs', 'endMs', 'loopStartMs', 'loopEndMs'] as const) {
        const at = playedMs * 0.4;
        const set = { ...tuned, ...footDragged(tuned, playedMs, foot, at) };
        expect(feetOf(set, playedMs).handles.find((h) => h.foot === foot)?.ms).toBeCloseTo(at, 0);
      }
    }
  });

  test('start and end do not pass one another', () => {
    const set = { ...pad, ...footDragged({ ...pad, endMs: 300 }, 800, 'startMs', 790), endMs: 300 };
    const { start, end } = feetOf(set, 800);
    expect(start).toBeLessThan(end);
  });
});
