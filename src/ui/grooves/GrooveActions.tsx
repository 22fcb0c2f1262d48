import { MenuItem } from '@headlessui/react';
import type { GrooveView, KitView } from '@/contract/views';
import { useCommands } from '../data/commit';
import { useStore } from '../parts/store';
import { keptPlaying } from '../play/kept';
import { chaining } from './ChainDialog';
import { grooveOfKept } from './kept-groove';
import { useGrooveList } from './use-grooves';

interface GrooveActionsProps {
  readonly className: string;
  readonly groove: GrooveView | null;
  readonly kit: KitView | null;
}

/** New grooves from what was just played and from the open one, and what can be done to that. */
export function GrooveActions({ className, groove, kit }: GrooveActionsProps) {
  const { add } = useGrooveList();
  const { commit } = useCommands();
  const kept = useStore(keptPlaying);
  const item = (label: string, run: () => void) => (
    <MenuItem>
      <button type="button" className={className} onClick={run}>
        {label}
      </button>
    </MenuItem>
  );
  return (
    <>
      {kit &&
        kept.strokes > 0 &&
        item('From what I just played', () => {
          const played = grooveOfKept(kit, kept.fromMs, kept.toMs, groove?.groove.bpm ?? kit.kit.tempoBpm);
          if (played) void add(played, 'kept what was played as');
        })}
      {groove && (
        <>
          {item(`A copy of ${groove.groove.name}`, () => void add(groove, 'copied the groove'))}
          {item('Grooves in a chain …', () => chaining.set(true))}
          {item(
            `Remove ${groove.groove.name}`,
            () =>
              void commit(`removed the groove ${groove.groove.name}`, [
                { op: 'remove', doc: 'groove', id: groove.groove.id, rev: groove.groove.rev },
              ]),
          )}
        </>
      )}
    </>
  );
}
