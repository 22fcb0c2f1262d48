import { type PointerEvent, useRef, useState } from 'react';
import type { LanePoint } from '@/core/groove/model';
import { clip, valueAt } from '@/core/parameter/values';
import { shareAt } from '@/picture/lane';
import type { GrooveDesk } from './use-groove-desk';
import type { Lane } from './use-lane';

/** Notes this near to the hand, in CSS pixels, take the value that is drawn. */
const NEAR_PX = 5;

/** What a hand draws on the lane: a line, or the values of the notes that it goes over. One gesture is one edit. */
export function useLaneHand(desk: GrooveDesk, lane: Lane, left: number, perTick: number) {
  const drawn = useRef<LanePoint[] | null>(null);
  const last = useRef<{ x: number; value: number } | null>(null);
  const [values, setValues] = useState<ReadonlyMap<string, number>>(NO_VALUES);
  const { of, row } = lane;
  const at = (event: PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect();
    const x = event.clientX - box.left;
    const end = desk.starts.at(-1) as number;
    const share = shareAt(event.clientY - box.top, box.height);
    return {
      x,
      tick: Math.max(0, Math.min(end, Math.round((x + left) / perTick))),
      value: clip(of, valueAt(of, share), event.shiftKey ? of.fine : of.step),
    };
  };
  const overNotes = (from: { x: number; value: number }, to: { x: number; value: number }) => {
    const [low, high] = [Math.min(from.x, to.x) - NEAR_PX, Math.max(from.x, to.x) + NEAR_PX];
    const set = new Map(values);
    for (const { id, tick } of row?.notes ?? []) {
      const x = tick * perTick - left;
      if (x < low || x > high) continue;
      const share = to.x === from.x ? 1 : Math.max(0, Math.min(1, (x - from.x) / (to.x - from.x)));
      set.set(id, clip(of, from.value + share * (to.value - from.value), of.fine));
    }
    setValues(set);
    return set;
  };
  const move = (event: PointerEvent) => {
    if (!drawn.current) return;
    const here = at(event);
    if (lane.isNotes) overNotes(last.current ?? here, here);
    else {
      drawn.current.push({ tick: here.tick, value: here.value });
      lane.drawing(drawn.current);
    }
    last.current = here;
  };
  const end = (isKept: boolean) => {
    const points = drawn.current;
    drawn.current = null;
    last.current = null;
    setValues(NO_VALUES);
    if (!points) return;
    if (!isKept) return lane.giveUp();
    if (lane.isNotes) lane.setNotes(values);
    else lane.drawn(points);
  };
  return {
    values,
    handlers: {
      onPointerDown: (event: PointerEvent) => {
        if (event.button !== 0 || desk.isTrial) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        drawn.current = [];
        move(event);
      },
      onPointerMove: move,
      onPointerUp: () => end(true),
      onPointerCancel: () => end(false),
    },
  };
}

const NO_VALUES: ReadonlyMap<string, number> = new Map();
