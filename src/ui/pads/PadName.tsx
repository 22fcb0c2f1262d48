'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect } from 'react';
import { LONGEST_NAME } from '@/core/naming/names';
import { useCommands } from '../data/commit';
import { tell } from '../parts/notice';
import { useKitDesk } from './kit-context';

/** Renames the chosen pad, from any page. */
export function PadName({ onClose }: { onClose: () => void }) {
  const { view, chosen } = useKitDesk();
  const { commit } = useCommands();
  const pad = view?.pads.find((p) => p.position === chosen);
  useEffect(() => {
    if (pad) return;
    tell('Strike or choose a pad that has a sound first; it can then be renamed.');
    onClose();
  }, [pad, onClose]);
  if (!pad) return null;
  const store = (wanted: string) => {
    const name = wanted.trim();
    onClose();
    if (name === '' || name === pad.name) return;
    void commit(`renamed the pad ${pad.name} to ${name}`, [
      { op: 'update', doc: 'pad', id: pad.id, rev: pad.rev, set: { name } },
    ]);
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/20" aria-hidden />
      <DialogPanel className="fixed top-[30%] left-1/2 w-[380px] -translate-x-1/2 rounded-lg border border-edge bg-sheet p-4 shadow-lg">
        <DialogTitle className="text-[12px] text-soft">Name of the pad</DialogTitle>
        <form
          onSubmit={(event) => {
            event.preventDefault();
            store(String(new FormData(event.currentTarget).get('name')));
          }}
        >
          <input
            name="name"
            aria-label="New name of the pad"
            autoFocus
            className="mt-1 w-full rounded border border-line px-2 py-1 font-semibold text-[15px]"
            maxLength={LONGEST_NAME}
            defaultValue={pad.name}
            onFocus={(event) => event.target.select()}
          />
        </form>
        <p className="mt-1 text-[12px] text-soft">Enter keeps it, Escape leaves it as it was.</p>
      </DialogPanel>
    </Dialog>
  );
}
