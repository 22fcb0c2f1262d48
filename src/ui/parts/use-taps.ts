import { useRef } from 'react';

const LONGEST_BETWEEN_TAPS_MS = 2500;
const FEWEST_TAPS = 4;
const MOST_TAPS = 16;

/** The tempo of the last taps, from the mean interval, from the fourth tap on. */
export function useTaps(onTempo: (bpm: number) => void): (event: { readonly timeStamp: number }) => void {
  const taps = useRef<number[]>([]);
  // By when it was tapped: a busy page hears of it later.
  return ({ timeStamp: now }) => {
    if (now - (taps.current.at(-1) ?? 0) > LONGEST_BETWEEN_TAPS_MS) taps.current = [];
    taps.current = [...taps.current, now].slice(-MOST_TAPS);
    const [first] = taps.current;
    if (taps.current.length < FEWEST_TAPS || first === undefined) return;
    const bpm = (60_000 * (taps.current.length - 1)) / (now - first);
    if (bpm >= 20 && bpm <= 400) onTempo(Math.round(bpm * 10) / 10);
  };
}
