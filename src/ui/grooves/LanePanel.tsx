import { X } from 'lucide-react';
import { useMemo, useRef } from 'react';
import { shareOf } from '@/core/parameter/values';
import { drawLane, type LaneScene } from '@/picture/lane';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { FindIn } from '../parts/FindIn';
import { Parameter } from '../parts/Parameter';
import { drawnLines } from './drawn';
import type { NoteValue } from './lane-choices';
import { NAMES_PX } from './measures';
import { ShapeChoice } from './ShapeChoice';
import type { GrooveDesk } from './use-groove-desk';
import { type Lane, laneShown, useLane } from './use-lane';
import { useLaneHand } from './use-lane-hand';
import { useLaneKeys } from './use-lane-keys';

interface LanePanelProps {
  readonly desk: GrooveDesk;
  readonly left: number;
  readonly perTick: number;
}

/** A lane under the grid: values of the chosen row's notes, or a parameter over time, to draw, fill or record. */
export function LanePanel({ desk, left, perTick }: LanePanelProps) {
  const lane = useLane(desk);
  return (
    <section
      aria-label={`Lane: ${lane.choice.name}`}
      className="flex h-[108px] flex-none border-line border-t bg-paper"
      data-testid="groove-lane"
    >
      <LaneHead desk={desk} lane={lane} />
      <LanePicture {...{ desk, lane, left, perTick }} />
    </section>
  );
}

function LaneHead({ desk, lane }: { desk: GrooveDesk; lane: Lane }) {
  const { choice, choices, of } = lane;
  const tick = desk.cell.tick;
  const note = desk.note;
  const shown =
    choice.shown.kind === 'note'
      ? note
        ? (note[choice.shown.value] as number)
        : null
      : (lane.valueAt(tick) ?? choice.rest ?? of.low);
  const label = lane.isNotes ? 'Note' : desk.isRunning ? 'Hand' : 'Here';
  return (
    <div className="flex flex-none flex-col gap-[2px] border-line border-r py-1 pr-2 pl-3" style={{ width: NAMES_PX }}>
      <div className="flex items-center gap-1">
        <FindIn
          label="What the lane shows"
          placeholder={choice.name}
          className="min-w-0 flex-1 font-semibold text-[12px] placeholder:text-ink"
          immediate
          items={choices}
          keyOf={({ shown: of }) => JSON.stringify(of)}
          nameOf={({ name }) => name}
          row={({ name, lane: own }) => (
            <>
              <span className="min-w-0 flex-1 truncate">{name}</span>
              {own && own.points.length > 0 && <span className="text-ochre">~</span>}
            </>
          )}
          onPick={({ shown: next }) => lane.choose(next)}
        />
        <button
          type="button"
          aria-label="Close the lane"
          className="flex-none text-soft"
          onClick={() => laneShown.set(null)}
        >
          <X size={12} aria-hidden />
        </button>
      </div>
      {shown === null ? (
        <p className="text-[12px] text-soft">Draw over notes of the row, or choose one.</p>
      ) : (
        <Parameter
          of={of}
          label={label}
          isBare
          value={shown}
          onPreview={desk.isRunning && !lane.isNotes ? lane.record : undefined}
          onCommit={(value) => {
            if (value === null || desk.isTrial) return;
            if (lane.isNotes && note) lane.setNotes(new Map([[note.id, value]]));
            else if (desk.isRunning && lane.draft) lane.record(null);
            else lane.setAt(tick, value);
          }}
        />
      )}
      {isSilent(lane) && (
        <p className="text-[11px] text-madder leading-tight">Its filter is off: this moves nothing.</p>
      )}
      {!lane.isNotes && (
        <div className="mt-auto flex items-center gap-2 text-[12px]">
          <ShapeChoice onFill={lane.fill} />
          <button
            type="button"
            className="text-soft hover:text-ink"
            aria-pressed={lane.lane?.holds ?? false}
            title="Whether it goes from point to point in lines, or holds each value until the next"
            disabled={!lane.lane}
            onClick={lane.turnHolds}
          >
            {lane.lane?.holds ? 'holds' : 'lines'}
          </button>
          <button
            type="button"
            className="ml-auto text-soft hover:text-madder disabled:opacity-40"
            disabled={!lane.lane}
            onClick={lane.empty}
          >
            Empty
          </button>
        </div>
      )}
    </div>
  );
}

/** Whether it moves a filter that is off. */
function isSilent({ choice: { shown }, row }: Lane): boolean {
  return shown.kind === 'pad' && OF_FILTER.has(shown.parameter) && shown.step === '' && row?.pad?.filter === 'off';
}
const OF_FILTER: ReadonlySet<string> = new Set(['cutoffHz', 'resonance', 'filterOctaves']);

function LanePicture({ desk, lane, left, perTick }: LanePanelProps & { readonly lane: Lane }) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const box = useRef<HTMLDivElement>(null);
  const { width, height } = useSize(box);
  const palette = usePalette();
  const { values, handlers } = useLaneHand(desk, lane, left, perTick);
  const onKeyDown = useLaneKeys(desk, lane);
  const { view, starts, step, cell, selected } = desk;
  const { of, choice, points, row } = lane;
  const lines = useMemo(() => drawnLines(view.groove, starts, step, perTick), [view.groove, starts, step, perTick]);
  const scene = useMemo((): LaneScene => {
    const end = (starts.at(-1) as number) * perTick;
    const under = [starts[desk.bar], starts[desk.lastBar + 1]].map((tick) => (tick as number) * perTick);
    const common = { lines, left, end, under: under as [number, number], cell: cell.tick * perTick };
    const rest = choice.rest === null ? 0 : shareOf(of, choice.rest);
    if (choice.shown.kind !== 'note') {
      const line = points.map(({ tick, value }) => ({ x: tick * perTick, y: shareOf(of, value) }));
      return { ...common, points: line, kind: lane.lane?.holds ? 'steps' : 'line', rest, chosen: NONE };
    }
    const key: NoteValue = choice.shown.value;
    const notes = row?.notes ?? [];
    const chosen = new Set(notes.flatMap(({ id }, i) => (selected.has(id) ? [i] : [])));
    const stems = notes.map((note) => ({
      x: note.tick * perTick,
      y: shareOf(of, values.get(note.id) ?? (note[key] as number)),
    }));
    return { ...common, points: stems, kind: 'stems', rest, chosen };
  }, [
    lines,
    left,
    perTick,
    starts,
    desk.bar,
    desk.lastBar,
    cell.tick,
    choice,
    of,
    points,
    row,
    lane.lane,
    selected,
    values,
  ]);
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    drawLane(beginDrawing(canvas.current, width, height), scene, width, height, palette);
  }, [scene, width, height, palette]);
  return (
    <div
      ref={box}
      className="min-w-0 flex-1 touch-none outline-offset-[-2px]"
      role="slider"
      tabIndex={0}
      aria-label={`${choice.name} at the cell`}
      aria-valuemin={of.low * of.times}
      aria-valuemax={of.high * of.times}
      aria-valuenow={(lane.valueAt(cell.tick) ?? choice.rest ?? of.low) * of.times}
      data-testid="lane-picture"
      onKeyDown={onKeyDown}
      {...handlers}
    >
      <canvas ref={canvas} className="block" style={{ width, height }} />
    </div>
  );
}

const NONE: ReadonlySet<number> = new Set();
