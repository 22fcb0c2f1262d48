import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect, useState } from 'react';
import type { HitUses, PadOfKit } from '@/contract/hits';
import { postJson } from '../data/api';
import { useCommands } from '../data/commit';
import type { HitRow } from './row';

/** Asks before hits are deleted for good, and says what is deleted with them. */
export function RemoveHits({ hits, onClose }: { hits: readonly HitRow[]; onClose: () => void }) {
  const { ask } = useCommands();
  const [uses, setUses] = useState<HitUses | null>(null);
  const [fault, setFault] = useState('');
  // biome-ignore lint/correctness/useExhaustiveDependencies: the hits are those that were chosen when it opened
  useEffect(() => {
    postJson<HitUses>('/api/hits/uses', { ids: hits.map((h) => h.id) }).then(setUses, (error: Error) =>
      setFault(error.message),
    );
  }, []);
  const them = hits.length === 1 ? 'it' : 'them';
  const what = hits.length === 1 ? `“${hits[0]?.name}”` : `${hits.length} hits`;
  const free = uses && uses.silent.length + uses.thinner.length + uses.takes.length + uses.layered.length === 0;
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="flex max-h-full w-[520px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">Remove {what}?</DialogTitle>
          <div className="mt-2 min-h-[60px] overflow-auto">
            {fault && <p className="text-madder">{fault}</p>}
            {!uses && !fault && <p className="text-soft">Looking for what plays {them} …</p>}
            {free && <p>No pad and no layered hit plays {them}.</p>}
            {uses && (
              <>
                <Pads title={`Pads that go with ${them}, since they play nothing else`} pads={uses.silent} />
                <Pads title="Pads that lose a layer" pads={uses.thinner} />
                <Pads title="Pads that lose another take" pads={uses.takes} />
                <Names title="Layered hits that lose a layer" names={uses.layered} />
              </>
            )}
            <p className="mt-3 text-[12px] text-soft">
              The recordings stay as they are. Undo brings all of it back, as long as they are there.
            </p>
          </div>
          <div className="mt-4 flex justify-end gap-2">
            <button type="button" className="quiet-button" onClick={onClose}>
              Leave in the bin
            </button>
            <button
              type="button"
              className="next-button"
              disabled={!uses}
              onClick={() => {
                void ask('/api/hits/remove', { ids: hits.map((h) => h.id) });
                onClose();
              }}
            >
              Remove
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

const SHOWN = 24;

function Pads({ title, pads }: { title: string; pads: readonly PadOfKit[] }) {
  return <Names title={title} names={pads.map(({ pad, kit }) => `${pad} (${kit})`)} />;
}

function Names({ title, names }: { title: string; names: readonly string[] }) {
  if (names.length === 0) return null;
  const more = names.length - SHOWN;
  return (
    <section className="mt-2">
      <h3 className="text-[12px] text-soft">{title}</h3>
      <p>
        {names.slice(0, SHOWN).join(', ')}
        {more > 0 && ` and ${more} more`}
      </p>
    </section>
  );
}
