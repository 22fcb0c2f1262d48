import { useHotkeys } from 'react-hotkeys-hook';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';

/** Keys that work on every page. */
export function useGlobalKeys({ onSheet, onBox }: { onSheet: () => void; onBox: () => void }): void {
  const { undo, redo } = useCommands();
  const always = { preventDefault: true } as const;
  useHotkeys('mod+z', () => void undo(), always, [undo]);
  useHotkeys('mod+shift+z, mod+y', () => void redo(), always, [redo]);
  useHotkeys('mod+k', onBox, { preventDefault: true, enableOnFormTags: true }, [onBox]);
  const { picker, setPicker } = useKitDesk();
  useHotkeys('f6', () => setPicker(!picker), always, [picker]);
  useHotkeys('?', onSheet, { useKey: true }, [onSheet]);
}
