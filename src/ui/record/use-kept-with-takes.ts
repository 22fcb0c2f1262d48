import { useEffect, useRef } from 'react';
import { useKitDesk } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import { useStore } from '../parts/store';
import { useKeepPlaying } from '../play/use-keep-playing';
import { recorder } from './recorder';

/** Keeps what was played on the pads during takes of our own output, under their titles, for the simulated controller to replay. */
export function useKeptWithTakes(): void {
  const played = useStore(recorder.played);
  const { view } = useKitDesk();
  const keep = useKeepPlaying();
  const latest = useRef(keep);
  latest.current = keep;
  useEffect(() => {
    const [first, ...rest] = played;
    if (!first || !view) return;
    recorder.played.set(rest);
    latest
      .current(view, first, first.title)
      .then(
        (isKept) => isKept && tell(`What was played is kept with ${first.title}; the controller on Kits replays it.`),
      )
      .catch((error: Error) => complain(error.message));
  }, [played, view]);
}
