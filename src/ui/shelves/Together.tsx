'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useRouter } from 'next/navigation';
import { useMemo } from 'react';
import type { CutView, RecordingView } from '@/contract/views';
import { useCuts, useLiveRecordings } from '../data/queries';

/** The open recording and those shown with it, as far as they have loaded. */
export function useTogether(view: CutView, withIds: readonly string[]): readonly [CutView, ...CutView[]] {
  const others = useCuts(withIds);
  return useMemo(() => [view, ...others.filter((other) => other !== undefined)], [view, others]);
}

/** Chooses other recordings for the same shelves: takes of a session share their drums. */
export function Together({ recording, ids }: { recording: RecordingView; ids: readonly string[] }) {
  const router = useRouter();
  const recordings = useLiveRecordings();
  const others = recordings.filter(({ id, sliceCount }) => id !== recording.id && sliceCount > 0);
  const session = others.filter((other) => ofOneSession(recording, other)).map(({ id }) => id);
  // Those of the session first: they are the most likely.
  const ordered = [...others].sort((a, b) => Number(session.includes(b.id)) - Number(session.includes(a.id)));
  // Ids in the address that do not exist are ignored.
  const chosen = ids.filter((id) => others.some((other) => other.id === id));
  const go = (wanted: readonly string[]) => {
    const more = wanted.length > 0 ? `&with=${wanted.join(',')}` : '';
    router.replace(`/slice/${recording.id}?view=shelves${more}`);
  };
  if (others.length === 0) return null;
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button h-7 whitespace-nowrap">
        {chosen.length === 0 ? 'Together with …' : `Together with ${chosen.length} more`}
      </PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        className="z-30 mt-1 flex max-h-[320px] w-[320px] flex-col overflow-y-auto rounded-md border border-edge bg-sheet p-1 text-[13px] shadow-lg"
      >
        <p className="px-2 py-1 text-[12px] text-soft">Their slices stand on the same shelves.</p>
        {ordered.map(({ id, title, place, madeOn, sliceCount }) => (
          <label key={id} className="flex items-center gap-2 rounded px-2 py-1 hover:bg-paper">
            <input
              type="checkbox"
              checked={chosen.includes(id)}
              onChange={(event) => go(event.target.checked ? [...chosen, id] : chosen.filter((other) => other !== id))}
            />
            <span className="min-w-0 flex-1 truncate">{title}</span>
            <span className="truncate text-[12px] text-soft">
              {[place, madeOn].filter(Boolean).join(', ')} · {sliceCount}
            </span>
          </label>
        ))}
        {session.length > 0 && (
          <button type="button" className="quiet-button m-1 h-7" onClick={() => go(session)}>
            All of this session
          </button>
        )}
      </PopoverPanel>
    </Popover>
  );
}

/** Recordings of one place and day, where both are known. */
function ofOneSession(a: RecordingView, b: RecordingView): boolean {
  return a.place !== '' && a.place === b.place && a.madeOn === b.madeOn;
}
