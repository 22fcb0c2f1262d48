'use client';

import { useDraggable, useDroppable } from '@dnd-kit/core';
import { ChevronDown, ChevronUp } from 'lucide-react';
import { type DragEvent, type PointerEvent, type RefObject, useEffect, useRef, useState } from 'react';
import type { KitView } from '@/contract/views';
import { HIGHEST_FIRST_ROW, noteOf, noteOfPlace, ROWS } from '@/core/kit/layout';
import { heldBack } from '@/core/rights/rights';
import { isBundle } from '../imports/bundles';
import { bringsFiles, filesOf, useImports } from '../imports/use-imports';
import { Glyph } from '../parts/Glyph';
import { HitMini } from '../parts/HitMini';
import { useNoteName } from '../parts/note-names';
import { RightsMark } from '../parts/RightsMark';
import { useMedia } from '../parts/use-media';
import { useWheel } from '../parts/use-wheel';
import { chooses } from '../play/choosing';
import { KEY_VELOCITY, releasePad, strikePad, useLit } from '../play/door';
import { useLayBeside } from '../shell/drag';
import { useKitDesk } from './kit-context';
import { turnRows, useFirstRow } from './shown-rows';
import { useLayFiles } from './use-lay-files';
import { useMeters } from './use-meters';

/** Key caps of the person's own keyboard layout where the browser tells it, else of the US layout. */
function useKeyCaps(): ReadonlyMap<string, string> {
  const [caps, setCaps] = useState<ReadonlyMap<string, string>>(new Map());
  useEffect(() => {
    const keyboard = (navigator as { keyboard?: { getLayoutMap?: () => Promise<ReadonlyMap<string, string>> } })
      .keyboard;
    keyboard?.getLayoutMap?.().then(setCaps, () => {});
  }, []);
  return caps;
}

/** How far the wheel turns for a row, in its own unit. */
const WHEEL_ROW = 100;
/** A pad's level, drawn by `useMeters` as it sounds. */
const METER = 'absolute bottom-0 left-0 h-[3px] w-full origin-left [transform:scaleX(0)] rounded-b-md bg-verdigris';

/** 32 of the kit's pads in four staggered rows, the lowest row last, like the rows of the keyboard. */
export function PadGrid({ size }: { size: 'docked' | 'large' }) {
  const { view } = useKitDesk();
  const caps = useKeyCaps();
  const grid = useRef<HTMLDivElement>(null);
  useMeters(grid);
  const large = size === 'large';
  const firstRow = useFirstRow();
  useWheelTurns(grid);
  const rows = ROWS.map((row, r) => ({ row, r })).reverse();
  return (
    <div
      ref={grid}
      className={`relative flex h-full min-h-0 flex-col ${large ? 'gap-[6px] px-4' : 'gap-[3px] px-3'}`}
      data-testid="pads"
    >
      <Turner firstRow={firstRow} large={large} />
      {rows.map(({ row, r }) => (
        <div key={row.role} className="flex min-h-0 flex-1 items-stretch">
          {large && (
            <div className="w-[104px] flex-none self-center text-[12px] text-soft">{nameOfRow(firstRow + r)}</div>
          )}
          <div
            className="flex min-w-0 flex-1"
            style={{
              paddingLeft: (3 - r) * (large ? 36 : 22),
              paddingRight: r * (large ? 36 : 22),
              gap: large ? 8 : 5,
            }}
          >
            {row.codes.map((code, column) => {
              const position = (firstRow + r) * 8 + column;
              return (
                <PadPlace
                  key={code}
                  position={position}
                  cap={(caps.get(code) ?? row.caps[column] ?? '').toUpperCase()}
                  view={view}
                  large={large}
                />
              );
            })}
          </div>
        </div>
      ))}
    </div>
  );
}

function PadPlace({
  position,
  cap,
  view,
  large,
}: {
  position: number;
  cap: string;
  view: KitView | null;
  large: boolean;
}) {
  const { chosen, setChosen, padStates } = useKitDesk();
  const { setNodeRef, isOver } = useDroppable({ id: `pad-${position}`, data: { position } });
  const carried = useDraggable({
    id: `moved-pad-${position}`,
    data: { padAt: position },
    disabled: !view?.pads.some((p) => p.position === position),
  });
  const pad = view?.pads.find((p) => p.position === position);
  const name = pad && (pad.role || pad.name);
  const isSilent = pad && (pad.muted || (!pad.alone && view?.pads.some(({ alone }) => alone)));
  const layers = pad ? (view?.layers.filter((l) => l.padId === pad.id) ?? []) : [];
  const firstHit = view?.hits.find((h) => h.id === layers[0]?.hitId);
  const recording = view?.recordings.find((r) => r.id === firstHit?.recordingId);
  const held = heldOf(view, layers);
  const noteName = useNoteName();
  const state = pad ? padStates.get(position) : undefined;
  const isLit = useLit(position);
  const roomy = useMedia('(min-height: 760px)');
  const layFiles = useLayFiles(useLayBeside());
  const { take } = useImports();
  const [fileOver, setFileOver] = useState(false);

  const onDrop = (event: DragEvent) => {
    setFileOver(false);
    if (!bringsFiles(event)) return;
    event.preventDefault();
    void filesOf(event.nativeEvent).then((files) => (files.some(isBundle) ? take(files) : layFiles(files, position)));
  };
  const onPointerDown = (event: PointerEvent<HTMLButtonElement>) => {
    if (event.button !== 0) return;
    carried.listeners?.onPointerDown?.(event);
    if (pad) {
      const box = event.currentTarget.getBoundingClientRect();
      const height = (event.clientY - box.top) / box.height;
      const velocity = Math.round(127 - 97 * Math.max(0, Math.min(1, height)));
      strikePad({ pad: position, velocity, timeMs: event.timeStamp, by: 'pointer' });
      const up = () => {
        releasePad(position);
        window.removeEventListener('pointerup', up);
        window.removeEventListener('pointercancel', up);
      };
      window.addEventListener('pointerup', up);
      window.addEventListener('pointercancel', up);
    }
    if (layers.length === 0 || chooses('pointer')) setChosen(position);
  };

  const look =
    isOver || fileOver
      ? 'border-verdigris border-2 bg-selection'
      : isLit && pad
        ? 'border-madder border-2 bg-selection'
        : chosen === position
          ? 'border-verdigris border-2 bg-selection'
          : layers.length > 0
            ? 'border-line bg-sheet'
            : 'border-dashed border-line';
  const faulty = typeof state === 'object';
  return (
    <button
      ref={(node) => {
        setNodeRef(node);
        carried.setNodeRef(node);
      }}
      type="button"
      data-position={position}
      data-lit={isLit || undefined}
      data-state={faulty ? 'error' : state}
      aria-pressed={chosen === position}
      aria-label={`${saidOf(cap, pad, layers.length > 0)}${isSilent ? ', muted' : ''}`}
      title={faulty ? state.error : pad?.name}
      onPointerDown={onPointerDown}
      onDragEnter={(event) => bringsFiles(event) && setFileOver(true)}
      onDragLeave={() => setFileOver(false)}
      onDrop={onDrop}
      onKeyDown={(event) => {
        // Enter strikes a focused pad; Space belongs to the page.
        if (event.key === 'Enter' && pad) {
          event.preventDefault();
          event.stopPropagation();
          setChosen(position);
          strikePad({ pad: position, velocity: KEY_VELOCITY, timeMs: event.timeStamp, by: 'keys' });
        }
      }}
      onKeyUp={(event) => event.key === 'Enter' && releasePad(position)}
      className={`relative flex min-w-0 flex-1 touch-none flex-col justify-between rounded-md border text-left select-none ${isSilent ? 'opacity-50' : ''} ${large ? 'px-2 py-1' : 'px-[6px] py-[2px]'} ${look}`}
    >
      <span className="flex w-full items-start gap-1">
        {pad && <Glyph family={pad.family} size={large ? 16 : 13} />}
        {large && pad && firstHit && recording && (
          <span className="h-[22px] min-w-0 flex-1">
            <HitMini hit={firstHit} recording={recording} height={22} />
          </span>
        )}
        <span className="ml-auto flex items-center gap-1">
          <RightsMark rights={held} size={12} />
          <span className="figure text-[12px] text-soft">{cap}</span>
        </span>
      </span>
      {pad && <span data-meter={position} aria-hidden className={METER} />}
      {pad && (
        <span className="block w-full min-w-0">
          <span
            className={`line-clamp-2 overflow-hidden font-semibold [overflow-wrap:anywhere] ${large ? 'text-[13px] leading-[15px]' : 'text-[11px] leading-[12px]'} ${faulty ? 'text-madder' : layers.length === 0 ? 'text-soft' : ''}`}
          >
            {state === 'loading' ? '… ' : ''}
            {name}
          </span>
          {large && roomy && (
            <span className="figure block truncate text-[12px] text-soft">
              {noteOf(pad)}{' '}
              {pad.role && layers.length > 0 ? (
                <span className="[font-family:var(--font-text)]">{pad.name}</span>
              ) : (
                countOf(layers) || noteName(noteOf(pad))
              )}
            </span>
          )}
        </span>
      )}
    </button>
  );
}

/** What a place is called aloud. */
function saidOf(cap: string, pad: KitView['pads'][number] | undefined, sounds: boolean): string {
  if (!pad) return `Pad ${cap}, empty`;
  if (pad.role === '') return `Pad ${cap}: ${pad.name}`;
  return `Pad ${cap}: ${pad.role}${sounds ? `, ${pad.name}` : ', empty'}`;
}

/** What lies on a row: the first bank's by their families, the others by their notes. */
function nameOfRow(row: number): string {
  const own = ROWS[row];
  if (own) return own.role;
  return `notes ${noteOfPlace(row * 8)} to ${noteOfPlace(row * 8 + 7)}`;
}

/** Turns of the wheel over the pads, a row each. */
function useWheelTurns(grid: RefObject<HTMLDivElement | null>): void {
  const turned = useRef(0);
  useWheel(grid, ({ deltaY }) => {
    turned.current += deltaY;
    const rows = Math.trunc(turned.current / WHEEL_ROW);
    turned.current -= rows * WHEEL_ROW;
    if (rows !== 0) turnRows(-rows);
  });
}

/** Which rows are under the hands, and the turning to others. */
function Turner({ firstRow, large }: { firstRow: number; large: boolean }) {
  const bank = firstRow / ROWS.length + 1;
  const name = Number.isInteger(bank) ? `bank ${bank}` : `rows ${firstRow + 1}–${firstRow + ROWS.length}`;
  return (
    <span className={`absolute top-0 z-10 flex items-center text-[12px] text-soft ${large ? 'right-4' : 'right-3'}`}>
      {large && <span className="mr-1">{name}</span>}
      {(
        [
          [ROWS.length, ChevronUp, 'Turn to the next bank', firstRow >= HIGHEST_FIRST_ROW],
          [-ROWS.length, ChevronDown, 'Turn to the bank before', firstRow <= 0],
        ] as const
      ).map(([by, Icon, label, isEnd]) => (
        <button
          key={label}
          type="button"
          aria-label={label}
          title={`${label} (${by > 0 ? 'Page up' : 'Page down'}; with Shift by a row; the wheel turns too). Here: ${name}`}
          disabled={isEnd}
          className="flex size-6 items-center justify-center rounded hover:bg-sheet hover:text-ink disabled:opacity-40"
          onClick={() => turnRows(by)}
        >
          <Icon size={16} aria-hidden />
        </button>
      ))}
    </span>
  );
}

/** How many takes or layers a pad has; empty for one sound. */
function countOf(layers: KitView['layers']): string {
  const takes = layers.filter(({ isTake }) => isTake).length;
  if (takes > 1) return `· ${takes} takes`;
  return layers.length > 1 ? `· ${layers.length} layers` : '';
}

/** The first recording of a pad that prevents sharing it. */
function heldOf(view: KitView | null, layers: KitView['layers']) {
  const hits = new Map(view?.hits.map((h) => [h.id, h.recordingId]));
  const sources = new Set(layers.map((l) => hits.get(l.hitId)));
  return view?.recordings.find((r) => sources.has(r.id) && heldBack(r) !== null);
}
