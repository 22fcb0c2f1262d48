'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { Bookmark as BookmarkIcon } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { AttackSplit } from '@/core/onset/select';
import { namePattern, setNamePattern } from '../pads/laying';
import { length } from '../parts/figures';
import { RightsMark } from '../parts/RightsMark';

interface ToolsProps {
  readonly recording: RecordingView;
  readonly split: AttackSplit;
  readonly sliceCount: number;
  readonly onSplit: (split: AttackSplit, done: boolean) => void;
  readonly onFill: () => void;
  readonly gain: number;
  readonly setGain: (gain: number) => void;
  readonly onZoom: (what: 'in' | 'out' | 'fit' | 'slice') => void;
  /** Stretches where struck sound stands alone, and going to the next. */
  readonly bareCount: number;
  readonly onBare: () => void;
  readonly fileMarkCount: number;
  readonly onFileMarks: () => void;
  readonly bookmarkCount: number;
  readonly onBookmark: () => void;
  readonly tall: boolean;
  readonly setTall: (tall: boolean) => void;
}

/** The line of tools over the wave. */
export function SliceTools({
  recording,
  split,
  sliceCount,
  onSplit,
  onFill,
  gain,
  setGain,
  onZoom,
  bareCount,
  onBare,
  fileMarkCount,
  onFileMarks,
  bookmarkCount,
  onBookmark,
  tall,
  setTall,
}: ToolsProps) {
  return (
    <div className="flex h-10 flex-none items-center gap-2 border-b border-line bg-sheet px-4">
      <h1 className="min-w-[84px] max-w-[200px] truncate font-semibold" title={recording.title}>
        {recording.title}
      </h1>
      <span className="figure whitespace-nowrap text-[12px] text-soft">
        {length(recording.frames / recording.sampleRate)} · {sliceCount} slices
      </span>
      <RightsMark rights={recording} />
      <button
        type="button"
        className="quiet-button"
        disabled={bareCount === 0}
        title="Go to the next stretch where struck sound stands alone (F8; Shift F8 back)"
        onClick={onBare}
      >
        <span aria-hidden className="mr-1 inline-block h-[7px] w-3 bg-verdigris" />
        Bare {bareCount}
      </button>
      {fileMarkCount > 0 && (
        <button
          type="button"
          className="quiet-button"
          title="Lay slices at the marks the file came with"
          onClick={onFileMarks}
        >
          File’s marks {fileMarkCount}
        </button>
      )}
      <button
        type="button"
        className="quiet-button"
        title="Set a bookmark where the sound is ( ’ )"
        aria-label="Set a bookmark"
        onClick={onBookmark}
      >
        <BookmarkIcon size={14} aria-hidden className="inline" />
        {bookmarkCount > 0 ? ` ${bookmarkCount}` : ''}
      </button>
      <span className="ml-auto" />
      <Slide
        label="Sensitivity"
        unit="%"
        low={0}
        high={100}
        value={Math.round(split.sensitivity * 100)}
        onChange={(v, done) => onSplit({ ...split, sensitivity: v / 100 }, done)}
      />
      <Slide
        label="Spacing"
        unit="ms"
        low={5}
        high={200}
        value={split.spacingMs}
        onChange={(v, done) => onSplit({ ...split, spacingMs: v }, done)}
      />
      <fieldset className="flex items-center gap-1" aria-label="View">
        <button
          type="button"
          className="quiet-button px-2"
          title="Zoom out (−)"
          aria-label="Zoom out"
          onClick={() => onZoom('out')}
        >
          −
        </button>
        <button
          type="button"
          className="quiet-button px-2"
          title="Zoom in (=)"
          aria-label="Zoom in"
          onClick={() => onZoom('in')}
        >
          +
        </button>
        <button type="button" className="quiet-button px-2" title="Whole recording (])" onClick={() => onZoom('fit')}>
          Fit
        </button>
        <button
          type="button"
          className="quiet-button px-2"
          title="Zoom to the slice or stretch ([)"
          onClick={() => onZoom('slice')}
        >
          To slice
        </button>
        <button
          type="button"
          className="quiet-button figure px-2"
          title="View gain: changes the picture, never the sound"
          onClick={() => setGain(gain >= 16 ? 1 : gain * 2)}
        >
          ×{gain}
        </button>
        <button
          type="button"
          className="quiet-button px-2"
          aria-pressed={tall}
          title="Tall wave (`)"
          onClick={() => setTall(!tall)}
        >
          {tall ? 'Usual' : 'Tall'}
        </button>
      </fieldset>
      <PatternButton />
      <button type="button" className="next-button" disabled={sliceCount === 0} onClick={onFill}>
        Fill the pads
      </button>
    </div>
  );
}

function Slide({
  label,
  unit,
  low,
  high,
  value,
  onChange,
}: {
  label: string;
  unit: string;
  low: number;
  high: number;
  value: number;
  onChange: (value: number, done: boolean) => void;
}) {
  const [held, setHeld] = useState<number | null>(null);
  const latest = useRef(onChange);
  latest.current = onChange;
  const input = useRef<HTMLInputElement>(null);
  // React's onChange follows every movement; the browser's own `change` event tells when the handle is let go.
  useEffect(() => {
    const element = input.current;
    if (!element) return;
    const done = () => {
      setHeld(null);
      latest.current(Number(element.value), true);
    };
    element.addEventListener('change', done);
    return () => element.removeEventListener('change', done);
  }, []);
  const shown = held ?? value;
  return (
    <label className="flex items-center gap-2 whitespace-nowrap">
      {label}
      <input
        ref={input}
        type="range"
        className="h-6 w-[64px] accent-verdigris"
        min={low}
        max={high}
        value={shown}
        aria-valuetext={`${shown} ${unit}`}
        onInput={(event) => {
          const next = Number(event.currentTarget.value);
          setHeld(next);
          onChange(next, false);
        }}
        onChange={() => {}}
      />
      <span className="figure w-[52px] text-[12px]">
        {shown} {unit}
      </span>
    </label>
  );
}

function PatternButton() {
  const [pattern, setPattern] = useState('');
  useEffect(() => setPattern(namePattern()), []);
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button">Names …</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-40 mt-1 w-[320px] rounded-lg border border-edge bg-sheet p-3 shadow-lg"
      >
        <label className="block">
          <span className="text-soft">New hits are named by this pattern</span>
          <input
            className="figure mt-1 w-full rounded border border-line px-2 py-1"
            maxLength={80}
            value={pattern}
            onChange={(event) => {
              setPattern(event.target.value);
              if (event.target.value.trim() !== '') setNamePattern(event.target.value);
            }}
          />
        </label>
        <p className="mt-2 text-[12px] text-soft">
          <span className="figure">{'{family}'}</span>, <span className="figure">{'{source}'}</span> and{' '}
          <span className="figure">{'{number}'}</span> are filled in; a name that is taken gets the next number.
        </p>
      </PopoverPanel>
    </Popover>
  );
}
