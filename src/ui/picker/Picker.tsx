'use client';

import { useDraggable } from '@dnd-kit/core';
import { useQueries } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { ChevronDown, ChevronRight, X } from 'lucide-react';
import { useEffect, useMemo, useRef, useState } from 'react';
import type { CutView } from '@/contract/views';
import { BANK_SIZE } from '@/core/kit/parameters';
import { getJson } from '../data/api';
import { keys, useHits, useLiveRecordings } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { LayMany } from '../pads/LayMany';
import { placeText, type Stretch } from '../pads/laying';
import { length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { mannerOf } from '../parts/listing';
import { MiniWave } from '../parts/MiniWave';
import { tell } from '../parts/notice';
import { RightsMark } from '../parts/RightsMark';
import { useAudition } from '../sound/use-audition';
import { hitRows, type PickerRow, recordingRows, stretchOfRow } from './rows';
import { useGuesses } from './use-guesses';

const ROW = 26;

/**
 * Recordings and hits to hand beside the pads, on every page: arrows choose and sound, Enter lays what is chosen on the
 * chosen pad and goes on to the next. It stays open until it is closed.
 */
export function Picker() {
  const { chosen: pad, setChosen, lay, view, setPicker } = useKitDesk();
  const recordings = useLiveRecordings();
  const hits = useHits();
  const audition = useAudition();
  const [mode, setMode] = useState<'recordings' | 'hits'>('recordings');
  const [query, setQuery] = useState('');
  const [openIds, setOpenIds] = useState<readonly string[]>([]);
  const [chosenId, setChosenId] = useState<string | null>(null);
  /** Further lines that are chosen, to be laid together. */
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const [laying, setLaying] = useState(false);
  const list = useRef<HTMLDivElement>(null);
  const search = useRef<HTMLInputElement>(null);
  const cuts = useQueries({
    queries: openIds.map((id) => ({
      queryKey: keys.cut(id),
      queryFn: () => getJson<CutView>(`/api/recordings/${id}/cut`),
    })),
    combine: (results) => results.map((r) => r.data ?? null),
  });
  const heard = useGuesses(cuts);
  const rows = useMemo(() => {
    if (mode === 'hits') return hitRows(hits.data ?? [], new Map(recordings.map((r) => [r.id, r])), query);
    return recordingRows(recordings, query, new Map(openIds.map((id, i) => [id, cuts[i] ?? null])));
  }, [mode, hits.data, recordings, query, openIds, cuts]);
  const index = Math.max(
    0,
    rows.findIndex((row) => row.id === chosenId),
  );
  const row = rows[index];
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  useEffect(() => list.current?.focus(), []);
  useEffect(() => virtual.scrollToIndex(index, { align: 'auto' }), [index, virtual]);

  const hear = (r: PickerRow, again: boolean) => {
    const { recording, startFrame, endFrame, hit } = stretchOfRow(r, heard);
    const what = { recording, startFrame, endFrame, hit };
    if (again) audition.toggle(what);
    else audition.play(what);
  };
  const choose = (r: PickerRow | undefined, how: 'alone' | 'through' | 'also' = 'alone') => {
    if (!r) return;
    setOthers((old) => {
      if (how === 'alone') return new Set();
      const next = new Set([...old, ...(row ? [row.id] : [])]);
      if (how === 'also') next.add(r.id);
      else {
        const to = rows.indexOf(r);
        for (const between of rows.slice(Math.min(index, to), Math.max(index, to) + 1)) next.add(between.id);
      }
      return next;
    });
    setChosenId(r.id);
    if (audition.byItself && how === 'alone') hear(r, false);
  };
  const several = rows.filter((r) => others.has(r.id) || r.id === row?.id);
  const stretchAt = (r: PickerRow) => stretchOfRow(r, heard);
  const fold = (id: string, open: boolean) =>
    setOpenIds((old) => (open ? [...old.filter((o) => o !== id), id] : old.filter((o) => o !== id)));
  const layChosen = () => {
    if (!row) return;
    if (several.length > 1) {
      setLaying(true);
      return;
    }
    // Where the chosen pad has a sound, that stays: the pad to lay it instead is asked for by dragging, or emptied first.
    const there = view?.pads.find((p) => p.position === pad);
    const went = lay(stretchAt(row), there ? null : pad, 'next');
    if (went === null) return;
    if (there) tell(`${there.name} stays on its pad; this went to ${placeText(went)}.`);
    else if (pad !== null) setChosen(nextFree(went));
  };

  const nextFree = (after: number) => {
    const taken = new Set(view?.pads.map((p) => p.position));
    for (let i = 1; i < BANK_SIZE; i++) if (!taken.has((after + i) % BANK_SIZE)) return (after + i) % BANK_SIZE;
    return after;
  };

  /** True where the key was the picker's. */
  const onKey = (event: KeyboardEvent): boolean => {
    if (event.ctrlKey || event.metaKey || event.altKey) return false;
    const parent = row && row.type === 'slice' ? rows.findIndex((r) => r.id === row.recording.id) : -1;
    switch (event.key) {
      case 'ArrowDown':
        choose(rows[Math.min(rows.length - 1, index + 1)], event.shiftKey ? 'through' : 'alone');
        return true;
      case 'ArrowUp':
        choose(rows[Math.max(0, index - 1)], event.shiftKey ? 'through' : 'alone');
        return true;
      case 'ArrowRight':
        if (row?.type === 'recording') {
          if (row.open) choose(rows[index + 1]);
          else fold(row.id, true);
        }
        return true;
      case 'ArrowLeft':
        if (row?.type === 'recording') fold(row.id, false);
        else if (parent >= 0) setChosenId(rows[parent]?.id ?? null);
        return true;
      case 'Enter':
        layChosen();
        return true;
      case ' ':
        if (row) hear(row, true);
        return true;
      case '/':
        search.current?.focus();
        return true;
      case 'Escape':
        list.current?.blur();
        return true;
      default:
        return false;
    }
  };
  const onKeyNow = useRef(onKey);
  onKeyNow.current = onKey;
  // A listener of its own, so that the page's keys do not act on what the picker has taken.
  useEffect(() => {
    const box = list.current;
    const hear = (event: KeyboardEvent) => {
      if (!onKeyNow.current(event)) return;
      event.preventDefault();
      event.stopPropagation();
    };
    box?.addEventListener('keydown', hear);
    return () => box?.removeEventListener('keydown', hear);
  }, []);

  const tab = (value: typeof mode, label: string) => (
    <button
      type="button"
      aria-pressed={mode === value}
      className={`rounded px-1 ${mode === value ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
      onClick={() => {
        setMode(value);
        list.current?.focus();
      }}
    >
      {label}
    </button>
  );
  return (
    <section aria-label="Picker" className="flex h-full min-h-0 min-w-0 flex-1 flex-col border-r border-line bg-sheet">
      <header className="flex h-8 flex-none items-center gap-2 border-b border-line px-3 text-[12px]">
        {tab('recordings', 'Recordings')}
        {tab('hits', 'Hits')}
        <input
          ref={search}
          type="search"
          aria-label="Search the picker"
          placeholder="Search  ( / )"
          className="h-6 min-w-0 flex-1 rounded-md border border-line px-2"
          value={query}
          onChange={(event) => setQuery(event.target.value)}
          onKeyDown={(event) => {
            if (event.key !== 'Enter' && event.key !== 'Escape' && event.key !== 'ArrowDown') return;
            event.preventDefault();
            event.stopPropagation();
            list.current?.focus();
            if (event.key !== 'Escape') choose(rows[0]);
          }}
        />
        <button
          type="button"
          aria-pressed={audition.byItself}
          title="Whether what the arrows choose sounds by itself"
          className={`whitespace-nowrap ${audition.byItself ? 'text-verdigris' : 'text-soft'}`}
          onClick={audition.switchByItself}
        >
          {audition.byItself ? 'arrows sound' : 'arrows silent'}
        </button>
        <button
          type="button"
          aria-label="Close the picker"
          className="text-soft hover:text-ink"
          onClick={() => setPicker(false)}
        >
          <X size={14} />
        </button>
      </header>
      <div
        ref={list}
        role="listbox"
        aria-label="Sounds to pick from"
        tabIndex={0}
        aria-activedescendant={row ? `pick-${row.id}` : undefined}
        className="min-h-0 flex-1 overflow-auto outline-offset-[-2px]"
      >
        {rows.length === 0 && (
          <p className="p-3 text-soft">{query ? 'Nothing goes by these words.' : `There are no ${mode} yet.`}</p>
        )}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const r = rows[item.index] as PickerRow;
            return (
              <div
                key={r.id}
                className="absolute inset-x-0"
                style={{ height: ROW, transform: `translateY(${item.start}px)` }}
              >
                <Line
                  row={r}
                  stretch={stretchAt(r)}
                  chosen={item.index === index || others.has(r.id)}
                  onChoose={(event) => {
                    list.current?.focus();
                    choose(r, mannerOf(event));
                  }}
                  onFold={() => r.type === 'recording' && fold(r.id, !r.open)}
                />
              </div>
            );
          })}
        </div>
      </div>
      {several.length > 1 && (
        <p className="flex h-7 flex-none items-center gap-2 border-t border-line bg-paper px-3 text-[12px]">
          {several.length} chosen
          <button
            type="button"
            className="ml-auto rounded px-1 text-verdigris hover:underline"
            title="Where each goes is shown first (Enter)"
            onClick={() => setLaying(true)}
          >
            To the pads …
          </button>
        </p>
      )}
      {laying && (
        <LayMany
          stretches={several.map(stretchAt)}
          what={`${several.length} sounds`}
          onClose={() => {
            setLaying(false);
            setOthers(new Set());
            list.current?.focus();
          }}
        />
      )}
    </section>
  );
}

function Line({
  row,
  stretch,
  chosen,
  onChoose,
  onFold,
}: {
  row: PickerRow;
  stretch: Stretch;
  chosen: boolean;
  onChoose: (event: React.MouseEvent) => void;
  onFold: () => void;
}) {
  const { recording } = row;
  const { setNodeRef, listeners } = useDraggable({ id: `pick-${row.id}`, data: { stretch } });
  const name =
    row.type === 'hit'
      ? row.hit.name
      : row.type === 'slice'
        ? `${row.number} ${stretch.title ?? stretch.family ?? ''}`
        : recording.title;
  return (
    // biome-ignore lint/a11y/useKeyWithClickEvents: the list takes the keys
    <div
      ref={setNodeRef}
      {...listeners}
      role="option"
      tabIndex={-1}
      id={`pick-${row.id}`}
      aria-selected={chosen}
      data-testid="pick"
      onClick={onChoose}
      onDoubleClick={onFold}
      className={`flex h-full cursor-grab items-center gap-2 border-b border-line px-3 ${row.type === 'slice' ? 'pl-8' : ''} ${chosen ? 'bg-selection' : 'hover:bg-paper'}`}
    >
      {row.type === 'recording' ? (
        <button
          type="button"
          tabIndex={-1}
          aria-label={row.open ? `Fold ${name}` : `Unfold ${name}`}
          className="-ml-1 text-soft hover:text-ink"
          onPointerDown={(event) => event.stopPropagation()}
          onClick={(event) => {
            event.stopPropagation();
            onFold();
          }}
        >
          {row.open ? <ChevronDown size={14} /> : <ChevronRight size={14} />}
        </button>
      ) : (
        <Glyph family={stretch.family} size={14} />
      )}
      <span className={`w-[150px] flex-none truncate ${row.type === 'recording' ? 'font-semibold' : ''}`} title={name}>
        {name}
      </span>
      <span className="min-w-0 flex-1">
        <MiniWave recording={recording} start={stretch.startFrame} end={stretch.endFrame} height={20} />
      </span>
      <RightsMark rights={recording} size={12} />
      <span className="figure w-[60px] text-right text-[12px] text-soft">
        {length((stretch.endFrame - stretch.startFrame) / recording.sampleRate)}
      </span>
    </div>
  );
}
