'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { Preparation, TakeAs } from '@/contract/taking';
import { keepChoice, readChoice } from './choice';
import type { ImportChoice } from './queue';
import { useImports } from './use-imports';
import { WatchedFolders } from './WatchedFolders';

const AS: readonly [TakeAs, string, string][] = [
  ['auto', 'By what is in them', 'up to 6 s with one or two strikes becomes a hit, all else a recording'],
  ['recording', 'As recordings', 'everything is to be sliced'],
  ['hit', 'As hits', 'each file is one ready sound'],
];

/** Where files come from (files, a folder, watched folders) and how they are imported. */
export function ImportDialog({ onClose }: { onClose: () => void }) {
  const { pick } = useImports();
  const [choice, setChoice] = useState<ImportChoice>(readChoice);
  const change = (set: Partial<ImportChoice>) => {
    const next = { ...choice, ...set };
    setChoice(next);
    keepChoice(next);
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="max-h-full w-[640px] overflow-auto rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">Import</DialogTitle>
          <p className="mt-1 text-soft">
            WAV, AIFF, FLAC, MP3, Ogg Vorbis, Opus and M4A, of any length. They can be dropped anywhere in the window,
            whole folders too, and come in as chosen here.
          </p>
          <fieldset className="mt-4">
            <legend className="mb-1 font-semibold">Files come in</legend>
            {AS.map(([value, label, what]) => (
              <label key={value} className="flex items-baseline gap-2 py-[3px]">
                <input
                  type="radio"
                  name="as"
                  checked={choice.takeAs === value}
                  onChange={() => change({ takeAs: value })}
                />
                <span className="font-medium">{label}</span>
                <span className="text-[12px] text-soft">{what}</span>
              </label>
            ))}
          </fieldset>
          <fieldset className="mt-4" disabled={choice.takeAs === 'recording'}>
            <legend className="mb-1 font-semibold">Hits are prepared</legend>
            <PrepareTicks prepare={choice.prepare} onChange={(prepare) => change({ prepare })} />
            <p className="text-[12px] text-soft">The recording stays as it is; each can be taken back on Hits.</p>
          </fieldset>
          <div className="mt-4 flex gap-2">
            <button type="button" className="next-button" onClick={() => pick('files')}>
              Choose files …
            </button>
            <button type="button" className="quiet-button" onClick={() => pick('folder')}>
              Choose a folder …
            </button>
            <button type="button" className="quiet-button ml-auto" onClick={onClose}>
              Close
            </button>
          </div>
          <WatchedFolders choice={choice} />
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const TICKS: readonly [Preparation, string, string][] = [
  ['dc', 'Constant offset off', 'the mean of each channel is taken off'],
  ['ends', 'Silence off the ends', 'starts on the first sign of the attack'],
  ['peak', 'Level by peak', 'to −1 dBFS'],
  ['loudness', 'Level by loudness', 'to −18 LUFS momentary, no peak over −0.5 dBFS'],
  ['root', 'Find the root', 'where the sound has one'],
];

/** Preparations of imported hits; the two ways to level exclude each other. */
export function PrepareTicks({
  prepare,
  onChange,
}: {
  prepare: readonly Preparation[];
  onChange: (prepare: readonly Preparation[]) => void;
}) {
  const toggle = (tick: Preparation, on: boolean) => {
    const other = tick === 'peak' ? 'loudness' : tick === 'loudness' ? 'peak' : null;
    const rest = prepare.filter((t) => t !== tick && !(on && t === other));
    onChange(on ? [...rest, tick] : rest);
  };
  return (
    <>
      {TICKS.map(([tick, label, what]) => (
        <label key={tick} className="flex items-baseline gap-2 py-[3px]">
          <input
            type="checkbox"
            checked={prepare.includes(tick)}
            onChange={(event) => toggle(tick, event.target.checked)}
          />
          <span>{label}</span>
          <span className="text-[12px] text-soft">{what}</span>
        </label>
      ))}
    </>
  );
}
