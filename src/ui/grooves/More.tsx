import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { SlidersHorizontal } from 'lucide-react';
import { memo } from 'react';
import { useStore } from '../parts/store';
import { Beneath } from './Beneath';
import { useDeskNow } from './desk-now';
import { player } from './player';
import { placingSounds } from './use-note-edits';

/** Switches of the grid and of playing that are set once in a while. */
export const More = memo(function More() {
  return (
    <Popover className="relative">
      <PopoverButton
        className="quiet-button px-2"
        aria-label="More"
        title="What the grid shows, and what is heard beside it"
      >
        <SlidersHorizontal size={14} aria-hidden />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        className="z-40 mt-1 w-[300px] rounded-lg border border-edge bg-sheet p-3 shadow-lg"
      >
        <Switches />
      </PopoverPanel>
    </Popover>
  );
});

function Switches() {
  const { desk } = useDeskNow();
  const sounds = useStore(placingSounds);
  const metronome = useStore(player.metronome);
  const counts = useStore(player.countsIn);
  return (
    <>
      <Check label="Only pads that have strokes" isOn={desk.onlyUsed} onChange={desk.setOnlyUsed} />
      <Check label="A stroke is heard as it is placed" isOn={sounds} onChange={placingSounds.set} />
      <Check label="Metronome" isOn={metronome} onChange={(isOn) => void player.setMetronome(isOn)} />
      <Check label="A bar of beats before it begins" isOn={counts} onChange={player.countsIn.set} />
      <Beneath />
    </>
  );
}

function Check({ label, isOn, onChange }: { label: string; isOn: boolean; onChange: (isOn: boolean) => void }) {
  return (
    <label className="flex h-7 items-center gap-2">
      <input type="checkbox" checked={isOn} onChange={() => onChange(!isOn)} />
      {label}
    </label>
  );
}
