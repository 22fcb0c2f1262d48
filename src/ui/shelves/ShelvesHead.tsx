'use client';

import Link from 'next/link';
import type { ReactNode } from 'react';
import type { RecordingView } from '@/contract/views';
import { length } from '../parts/figures';
import { Together } from './Together';

interface HeadProps {
  readonly recording: RecordingView;
  readonly withIds: readonly string[];
  readonly sliceCount: number;
  readonly shelfCount: number;
  /** Slices that have not been described yet. */
  readonly unheard: number;
  readonly hovers: boolean;
  readonly setHovers: (hovers: boolean) => void;
  readonly onLayBarest: () => void;
  /** The next step, at the right end. */
  readonly children: ReactNode;
}

/** The line over the shelves: what is on them, and where it goes. */
export function ShelvesHead(props: HeadProps) {
  const { recording, withIds, sliceCount, shelfCount, unheard } = props;
  return (
    <div className="flex h-10 flex-none items-center gap-2 border-b border-line bg-sheet px-4">
      <h1 className="min-w-[64px] max-w-[220px] truncate font-semibold" title={recording.title}>
        {recording.title}
      </h1>
      <span className="figure whitespace-nowrap text-[12px] text-soft">
        {length(recording.frames / recording.sampleRate)} · {sliceCount} slices · {shelfCount} shelves
      </span>
      {unheard > 0 && (
        <span className="text-[12px] text-soft" role="status">
          Listening; {unheard} to go …
        </span>
      )}
      <Together recording={recording} ids={withIds} />
      <span className="ml-auto" />
      <label className="flex items-center gap-1 text-[12px]">
        <input type="checkbox" checked={props.hovers} onChange={(event) => props.setHovers(event.target.checked)} />
        Hear under the pointer
      </label>
      <Link className="quiet-button leading-[26px]" href={`/slice/${recording.id}`}>
        Back to the wave
      </Link>
      <button type="button" className="quiet-button" disabled={shelfCount === 0} onClick={props.onLayBarest}>
        Barest of each to the pads
      </button>
      {props.children}
    </div>
  );
}
