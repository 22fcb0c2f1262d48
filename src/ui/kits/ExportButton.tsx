'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { KitView } from '@/contract/views';
import { heldBack } from '@/core/recording/rights';
import { RightsEditor } from '../parts/RightsEditor';

/** Hands the kit on as a zip, once everything in it may be passed on; what may not is listed with what to do. */
export function ExportButton({ view }: { view: KitView }) {
  const [asked, setAsked] = useState(false);
  const held = view.recordings.filter((r) => heldBack(r) !== null);
  const href = `/api/kits/${view.kit.id}/export`;
  const empty = view.pads.length === 0;
  if (held.length === 0 && !asked) {
    return (
      <a
        className={`next-button flex items-center ${empty ? 'pointer-events-none opacity-50' : ''}`}
        href={href}
        download
      >
        Export zip
      </a>
    );
  }
  return (
    <>
      <button type="button" className="next-button" onClick={() => setAsked(true)}>
        Export zip …
      </button>
      <Dialog open={asked} onClose={() => setAsked(false)} className="relative z-40">
        <div className="fixed inset-0 bg-ink/25" aria-hidden />
        <div className="fixed inset-0 flex items-center justify-center p-8">
          <DialogPanel className="flex max-h-full w-[620px] flex-col rounded-xl border border-edge bg-sheet p-6">
            <DialogTitle className="font-head text-[20px] font-semibold">
              {held.length === 0 ? 'All of it may be passed on' : `“${view.kit.name}” cannot be passed on yet`}
            </DialogTitle>
            <p className="mt-1 text-soft">
              {held.length === 0
                ? 'The bundle carries a credits sheet that names every recording.'
                : 'These sounds hold it back. Say whose they are and under what terms, or take them off the kit.'}
            </p>
            <div className="mt-3 min-h-0 flex-1 overflow-auto">
              {(held.length === 0 ? [] : view.recordings.filter((r) => heldBack(r) !== null)).map((r) => (
                <div key={r.id} data-testid="held" className="border-b border-line py-3">
                  <p className="font-semibold">{r.title}</p>
                  <p className="text-[12px] text-soft">{heardOn(view, r.id)}</p>
                  <RightsEditor recording={r} />
                </div>
              ))}
            </div>
            <div className="mt-4 flex items-center gap-2">
              {held.length > 0 && (
                <a className="quiet-button flex items-center" href={`${href}?for=self`} download>
                  Private copy
                </a>
              )}
              <span className="text-[12px] text-soft">
                {held.length > 0 && 'for yourself only: the bundle says so'}
              </span>
              <span className="ml-auto" />
              <button type="button" className="quiet-button" onClick={() => setAsked(false)}>
                Close
              </button>
              <a
                className={`next-button flex items-center ${held.length > 0 ? 'pointer-events-none opacity-50' : ''}`}
                aria-disabled={held.length > 0}
                href={href}
                download
                onClick={() => setAsked(false)}
              >
                Export zip
              </a>
            </div>
          </DialogPanel>
        </div>
      </Dialog>
    </>
  );
}

/** The hits of a recording in a kit, with the pads that play them. */
function heardOn(view: KitView, recordingId: string): string {
  const hits = view.hits.filter((h) => h.recordingId === recordingId);
  return hits
    .map((hit) => {
      const padIds = new Set(view.layers.filter((l) => l.hitId === hit.id).map((l) => l.padId));
      const pads = view.pads.filter((p) => padIds.has(p.id)).map((p) => p.name);
      return pads.length === 1 && pads[0] === hit.name ? hit.name : `${hit.name} on ${pads.join(', ')}`;
    })
    .join(' · ');
}
