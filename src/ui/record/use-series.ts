import { useEffect, useMemo } from 'react';
import type { RecordingView } from '@/contract/views';
import { useRecordings } from '../data/queries';
import { useStore } from '../parts/store';
import { recorder } from './recorder';

const KEY = 'undercroft.take-title';

/** The title of takes in a row, the number of the next one, and the takes there are under it, the newest first. */
export function useSeries() {
  const series = useStore(recorder.series);
  const { data } = useRecordings();
  const { title, number, sessionId } = series;
  const numbered = useMemo(() => numberedTakes(data ?? [], title), [data, title]);
  const next = Math.max(0, ...numbered.map(({ n }) => n)) + 1;
  useEffect(() => {
    const kept = localStorage.getItem(KEY);
    if (kept && recorder.series.get().sessionId === '') recorder.series.set({ ...recorder.series.get(), title: kept });
  }, []);
  // Takes of an earlier day, and of another tab, count.
  useEffect(() => {
    if (next > number) recorder.series.set({ ...recorder.series.get(), number: next });
  }, [next, number]);
  const setTitle = (wanted: string) => {
    localStorage.setItem(KEY, wanted);
    recorder.series.set({ title: wanted, number: 1, sessionId: '' });
  };
  const takes = numbered.filter(({ take }) => take.binnedAt === null).map(({ take }) => take);
  return { title, number: Math.max(next, number), sessionId, setTitle, takes };
}

/** The takes whose title is this one and a number, those gone on with included, the newest first. */
function numberedTakes(recordings: readonly RecordingView[], title: string): { take: RecordingView; n: number }[] {
  return recordings
    .flatMap((take) => {
      const rest = take.take && take.title.startsWith(`${title} `) ? take.title.slice(title.length + 1) : '';
      const n = Number.parseInt(rest, 10);
      return /^\d+(, gone on)*$/.test(rest) && Number.isSafeInteger(n) ? [{ take, n }] : [];
    })
    .sort((a, b) => b.n - a.n || b.take.arrivedAt - a.take.arrivedAt);
}
