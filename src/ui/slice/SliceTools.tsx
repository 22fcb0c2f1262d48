'use client';

import { Bookmark as BookmarkIcon, Repeat } from 'lucide-react';
import Link from 'next/link';
import { memo } from 'react';
import type { CutView } from '@/contract/views';
import type { Split } from '@/core/onset/split';
import { length } from '../parts/figures';
import { RightsMark } from '../parts/RightsMark';
import { NamesAndPlans } from './NamesAndPlans';
import { SplitBar } from './SplitBar';
import type { SplitDesk } from './use-split';

interface ToolsProps {
  readonly view: CutView;
  readonly desk: SplitDesk;
  readonly sliceCount: number;
  readonly onSplit: (set: Partial<Split>, done: boolean) => void;
  readonly inStretch: boolean;
  readonly onFill: () => void;
  /** Number of chosen slices to lay; null for all. */
  readonly fillCount: number | null;
  /** Bare stretches, and going to the next. */
  readonly bareCount: number;
  readonly onBare: () => void;
  readonly bookmarkCount: number;
  readonly onBookmark: () => void;
  readonly loop: boolean;
  readonly setLoop: (loop: boolean) => void;
}

/** The line of tools over the wave: what is open, how it is split, and where its slices go. */
export const SliceTools = memo(function SliceTools(props: ToolsProps) {
  const { recording } = props.view;
  return (
    <div className="flex min-h-10 flex-none flex-wrap items-center gap-x-2 gap-y-1 border-b border-line bg-sheet px-4 py-1">
      <h1 className="min-w-[64px] max-w-[130px] truncate font-semibold" title={recording.title}>
        {recording.title}
      </h1>
      <span className="figure whitespace-nowrap text-[12px] text-soft">
        {length(recording.frames / recording.sampleRate)} · {props.sliceCount} slices
      </span>
      <RightsMark rights={recording} />
      <span aria-hidden className="mx-1 h-5 w-px bg-line" />
      <SplitBar desk={props.desk} onChange={props.onSplit} inStretch={props.inStretch} />
      <div className="ml-auto flex items-center gap-2">
        <Link
          className="quiet-button whitespace-nowrap px-2 leading-[26px]"
          href={`/slice/${recording.id}?view=shelves`}
          title="The slices by drum, barest first"
        >
          Shelves
        </Link>
        <button
          type="button"
          className="quiet-button whitespace-nowrap px-2"
          disabled={props.bareCount === 0}
          title="Go to the next stretch where struck sound stands alone (F8; Shift F8 back)"
          onClick={props.onBare}
        >
          <span aria-hidden className="mr-1 inline-block h-[7px] w-3 bg-verdigris" />
          Bare {props.bareCount}
        </button>
        <button
          type="button"
          className="quiet-button px-2"
          title="Set a bookmark where the sound is ( ’ )"
          aria-label="Set a bookmark"
          onClick={props.onBookmark}
        >
          <BookmarkIcon size={14} aria-hidden className="inline" />
          {props.bookmarkCount > 0 ? ` ${props.bookmarkCount}` : ''}
        </button>
        <button
          type="button"
          className={`quiet-button px-2 ${props.loop ? 'text-verdigris' : ''}`}
          title="Hear slices again and again (F9)"
          aria-label="Hear slices again and again"
          aria-pressed={props.loop}
          onClick={() => props.setLoop(!props.loop)}
        >
          <Repeat size={14} aria-hidden className="inline" />
        </button>
        <NamesAndPlans view={props.view} split={props.desk.split} onSplit={props.onSplit} />
        <button
          type="button"
          className="next-button whitespace-nowrap"
          disabled={props.sliceCount === 0}
          onClick={props.onFill}
        >
          {props.fillCount === null ? 'Fill the pads' : `Lay the ${props.fillCount}`}
        </button>
      </div>
    </div>
  );
});
