import { useEffect, useRef } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { positionOfKey } from '@/core/kit/layout';
import type { Edge } from '../hits/edits';
import { firstRowNow } from '../pads/shown-rows';
import { useActions } from '../parts/actions';
import { isTyping, pageKey } from '../parts/focus';
import type { SelectMode } from '../parts/listing';
import type { ZoomTo } from './ViewTools';

function useShiftedPadKeys(layOn: (position: number) => void): void {
  const latest = useRef(layOn);
  latest.current = layOn;
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent) => {
      if (!event.shiftKey || event.ctrlKey || event.metaKey || event.altKey || event.repeat) return;
      const position = positionOfKey(event.code, firstRowNow());
      if (position === null || isTyping(event.target)) return;
      event.preventDefault();
      latest.current(position);
    };
    window.addEventListener('keydown', onKeyDown);
    return () => window.removeEventListener('keydown', onKeyDown);
  }, []);
}

export interface SliceActions {
  readonly step: (by: number, how?: SelectMode) => void;
  readonly chooseAll: () => void;
  readonly playOrStop: () => void;
  readonly playFrom: () => void;
  readonly playWhole: () => void;
  readonly toggleLoop: () => void;
  readonly nudge: (edge: Edge, ms: number) => void;
  readonly nudgeFrames: (edge: Edge, frames: number) => void;
  readonly lay: () => void;
  /** Lays the chosen slice on the pad whose key was pressed with Shift. */
  readonly layOn: (position: number) => void;
  readonly add: () => void;
  readonly remove: () => void;
  readonly merge: () => void;
  readonly letDie: (overNext: boolean) => void;
  readonly keep: () => void;
  readonly lock: () => void;
  readonly bookmark: () => void;
  readonly goToBare: (by: 1 | -1) => void;
  readonly zoom: (what: ZoomTo) => void;
  readonly toggleTall: () => void;
  readonly leave: () => void;
}

/** Shortcuts of the Slice page; the sheet in `shell/ShortcutSheet` lists them. */
export function useSliceKeys(a: SliceActions): void {
  useShiftedPadKeys(a.layOn);
  useActions([
    { name: 'Lay the slice on the next free pad', key: 'Enter', run: a.lay },
    { name: 'Add a mark', key: '.', run: a.add },
    { name: 'Remove the marks chosen', key: 'Delete', run: a.remove },
    { name: 'Merge the slices chosen, or with the next', key: '\\', run: a.merge },
    { name: 'Lock or unlock the slices chosen', key: 'Shift \\', run: a.lock },
    { name: 'End where the sound dies away', key: ';', run: () => a.letDie(false) },
    { name: 'End where the sound dies away, over the next start', key: 'Ctrl ;', run: () => a.letDie(true) },
    { name: 'Keep the sound up to the end of the stretch', key: 'Shift ;', run: a.keep },
    { name: 'Choose all slices', key: 'Ctrl A', run: a.chooseAll },
    { name: 'Hear the whole recording', key: 'Shift F9', run: a.playWhole },
    { name: 'Hear slices again and again', key: 'F9', run: a.toggleLoop },
    { name: 'Go to the next stretch where struck sound stands alone', key: 'F8', run: () => a.goToBare(1) },
    { name: 'Set a bookmark', key: '’', run: a.bookmark },
    { name: 'Zoom to the slice or stretch', key: '[', run: () => a.zoom('slice') },
    { name: 'Show the whole recording', key: ']', run: () => a.zoom('fit') },
    { name: 'Full-height wave', key: '`', run: a.toggleTall },
  ]);
  useHotkeys('left', () => a.step(-1), pageKey);
  useHotkeys('right', () => a.step(1), pageKey);
  useHotkeys('ctrl+left', () => a.step(-1, 'through'), pageKey);
  useHotkeys('ctrl+right', () => a.step(1, 'through'), pageKey);
  useHotkeys('mod+a', a.chooseAll, pageKey);
  useHotkeys('space', a.playOrStop, pageKey);
  useHotkeys('shift+space', a.playFrom, pageKey);
  useHotkeys('f9', a.toggleLoop, pageKey);
  useHotkeys('shift+f9', a.playWhole, pageKey);
  const edges: readonly [string, Edge, 1 | -1][] = [
    ['left', 'start', -1],
    ['right', 'start', 1],
    ['down', 'end', -1],
    ['up', 'end', 1],
  ];
  const edgeOf = (key: string) => edges.find(([name]) => `arrow${name}` === key.toLowerCase());
  useHotkeys(
    'shift+left, shift+right, shift+down, shift+up, ctrl+shift+left, ctrl+shift+right, ctrl+shift+down, ctrl+shift+up, alt+shift+left, alt+shift+right, alt+shift+down, alt+shift+up',
    (event) => {
      const found = edgeOf(event.key);
      if (!found) return;
      const [, edge, by] = found;
      if (event.altKey) a.nudgeFrames(edge, by);
      else a.nudge(edge, event.ctrlKey ? 10 * by : by);
    },
    pageKey,
  );
  useHotkeys('enter', a.lay, {
    ignoreEventWhen: (e) => (e.target as HTMLElement).closest('button, a, [role=menu], [role=dialog]') !== null,
  });
  useHotkeys('insert, period', a.add, pageKey);
  useHotkeys('delete, backspace', a.remove, pageKey);
  useHotkeys('backslash', a.merge, pageKey);
  useHotkeys('shift+backslash', a.lock, pageKey);
  useHotkeys('semicolon', () => a.letDie(false), pageKey);
  useHotkeys('mod+semicolon', () => a.letDie(true), pageKey);
  useHotkeys('shift+semicolon', a.keep, pageKey);
  useHotkeys('quote', a.bookmark, pageKey);
  useHotkeys('f8', () => a.goToBare(1), pageKey);
  useHotkeys('shift+f8', () => a.goToBare(-1), pageKey);
  useHotkeys('equal', () => a.zoom('in'), pageKey);
  useHotkeys('minus', () => a.zoom('out'), pageKey);
  useHotkeys('bracketleft', () => a.zoom('slice'), pageKey);
  useHotkeys('bracketright', () => a.zoom('fit'), pageKey);
  useHotkeys('backquote', a.toggleTall, pageKey);
  useHotkeys('escape', a.leave);
}
