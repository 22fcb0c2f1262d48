import { type RefObject, useEffect } from 'react';
import type { RecordingView } from '@/contract/views';
import type { Slice } from '@/core/recording/model';
import { frameToX } from '@/picture/span';
import { useStore } from '../parts/store';
import type { SpanDesk } from '../parts/use-span';
import type { Playhead } from '../sound/audition';
import { openedSound } from '../sound/open-sound';
import type { Pictures } from './use-pictures';

/** Interval in seconds after which the playhead's animation is corrected. */
const LEAD_S = 0.5;

/**
 * Moves the playhead while the recording sounds, and lights the slices under it. Between slice edges the browser
 * animates it alone.
 */
export function usePlayhead(
  line: RefObject<HTMLDivElement | null>,
  { id, sampleRate }: RecordingView,
  slices: readonly (Pick<Slice, 'startFrame' | 'endFrame'> & { readonly id: string })[],
  spans: SpanDesk,
  pictures: Pictures,
): void {
  const sound = useStore(openedSound);
  useEffect(() => {
    const element = line.current;
    if (!sound || !element) return;
    let timer: ReturnType<typeof setTimeout> | undefined;
    let moving: Animation | undefined;
    let lit = '';
    const light = (ids: readonly string[]) => {
      if (ids.join() === lit) return;
      lit = ids.join();
      pictures.show('stage', { sounding: new Set(ids) });
    };
    const hide = () => {
      moving?.cancel();
      element.style.visibility = 'hidden';
      light([]);
    };
    const move = (head: Playhead, seconds: number) => {
      const x = (frame: number) => `translateX(${frameToX(spans.get(), frame) - 1}px)`;
      moving?.cancel();
      moving = element.animate(
        { transform: [x(head.frame), x(head.frame + seconds * sampleRate)] },
        { duration: seconds * 1000, delay: head.waitS * 1000, fill: 'both', easing: 'linear' },
      );
      element.style.visibility = 'visible';
    };
    const step = () => {
      clearTimeout(timer);
      const head = sound.audition.playhead();
      if (head?.recordingId !== id) {
        hide();
        return;
      }
      const { frame, endFrame } = head;
      light(slices.filter((s) => s.startFrame <= frame && frame < s.endFrame).map((s) => s.id));
      let next = Math.min(endFrame, frame + LEAD_S * sampleRate);
      for (const slice of slices) {
        for (const edge of [slice.startFrame, slice.endFrame]) if (edge > frame && edge < next) next = edge;
      }
      const seconds = Math.max(0.01, (next - frame) / sampleRate);
      move(head, seconds);
      timer = setTimeout(step, (head.waitS + seconds) * 1000);
    };
    step();
    const unsubscribe = [sound.audition.nowPlaying.subscribe(step), spans.subscribe(step)];
    return () => {
      clearTimeout(timer);
      for (const end of unsubscribe) end();
      hide();
    };
  }, [sound, line, id, sampleRate, slices, spans, pictures]);
}
