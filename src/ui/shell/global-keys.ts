import { useRouter } from 'next/navigation';
import { useHotkeys } from 'react-hotkeys-hook';
import { useCommands } from '../data/commit';
import { useImports } from '../imports/use-imports';
import { useKitDesk } from '../pads/kit-context';
import { useActions } from '../parts/actions';
import { isTyping } from '../parts/focus';
import { stopReplay } from '../play/simulated';
import { soundNow } from '../sound/open-sound';
import { voiceDialog } from '../voice/voice-dialog';
import { setTheme } from './Header';
import { PLACES, useSliceAddress } from './places';

/** Actions available on every page, by keys and in the command box. */
export function useGlobalKeys({
  onSheet,
  onBox,
  onRenamePad,
  onHistory,
}: {
  onSheet: () => void;
  onBox: () => void;
  onRenamePad: () => void;
  onHistory: () => void;
}): void {
  const { undo, redo } = useCommands();
  const { picker, setPicker, createKit } = useKitDesk();
  const imports = useImports();
  const router = useRouter();
  const slice = useSliceAddress();
  const stopAll = () => {
    stopReplay();
    soundNow()?.stopAll();
  };
  const go = (wanted: number) => {
    const href = PLACES.find(([, , key]) => key === wanted)?.[0];
    if (href) router.push(href === '/slice' ? slice : href);
  };
  const always = { preventDefault: true } as const;
  // On a slider or a checkbox as well: the browser's own undo there would revert typing in another field. Text fields
  // keep their own undo.
  const unlessTyping = {
    ...always,
    enableOnFormTags: true,
    ignoreEventWhen: (event: KeyboardEvent) => isTyping(event.target),
  };
  useHotkeys('mod+z', () => void undo(), unlessTyping, [undo]);
  useHotkeys('mod+shift+z, mod+y', () => void redo(), unlessTyping, [redo]);
  useHotkeys('mod+k', onBox, { preventDefault: true, enableOnFormTags: true }, [onBox]);
  useHotkeys('f6', () => setPicker(!picker), always, [picker]);
  useHotkeys('?', onSheet, { useKey: true }, [onSheet]);
  useHotkeys('0', stopAll, always);
  useHotkeys('f7', onHistory, always, [onHistory]);
  useHotkeys('shift+f2', onRenamePad, always, [onRenamePad]);
  useHotkeys(
    PLACES.map(([, , key]) => `mod+shift+${key}`),
    (event) => go(Number(/^Digit(\d)$/.exec(event.code)?.[1] ?? 0)),
    { ...always, enableOnFormTags: true },
    [slice],
  );
  useActions([
    { name: 'Stop all sound', key: '0', run: stopAll },
    { name: 'Import files or a folder', run: imports.open },
    { name: 'Make a struck voice', run: () => voiceDialog.set(true) },
    { name: 'Make a new kit', run: () => void createKit('Kit') },
    { name: 'Rename the chosen pad', key: 'Shift F2', run: onRenamePad },
    { name: 'Open or close the picker', key: 'F6', run: () => setPicker(!picker) },
    { name: 'Undo', key: 'Ctrl Z', run: () => void undo() },
    { name: 'Redo', key: 'Ctrl Shift Z', run: () => void redo() },
    { name: 'Show the history', key: 'F7', run: onHistory },
    { name: 'Daylight', run: () => setTheme('daylight') },
    { name: 'Lamplight', run: () => setTheme('lamplight') },
    { name: 'Show all keys', key: '?', run: onSheet },
  ]);
}
