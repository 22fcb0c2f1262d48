'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useState } from 'react';
import type { KitView, RecordingView } from '@/contract/views';
import { unsaidOf } from '@/core/kit/unsaid';
import type { RightsKind } from '@/core/rights/rights';
import { heldBack } from '@/core/rights/rights';
import { useCommands } from '../data/commit';
import { download } from '../data/download';
import { complain } from '../parts/notice';
import { RightsEditor } from '../parts/RightsEditor';
import { RightsSelect } from '../parts/RightsSelect';
import { TextField } from '../parts/TextField';
import { heardLayers } from './layers';

/** Exports the kit as a zip once all of it may be shared; lists what may not, and what to do about it. */
export function ExportButton({ view }: { view: KitView }) {
  const [asked, setAsked] = useState(false);
  return (
    <>
      <button
        type="button"
        className="next-button whitespace-nowrap"
        disabled={view.pads.length === 0}
        onClick={() => setAsked(true)}
      >
        Export zip …
      </button>
      {asked && <ExportDialog view={view} onClose={() => setAsked(false)} />}
    </>
  );
}

function ExportDialog({ view, onClose }: { view: KitView; onClose: () => void }) {
  const [numbered, setNumbered] = useState(false);
  const held = view.recordings.filter((r) => heldBack(r) !== null);
  const free = held.length === 0;
  const take = (forSelf: boolean) => {
    const query = new URLSearchParams({ for: forSelf ? 'self' : 'share', numbered: numbered ? 'yes' : 'no' });
    download(`/api/kits/${view.kit.id}/export?${query}`).then(
      (began) => began && !forSelf && onClose(),
      (error: Error) => complain(error.message),
    );
  };
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="flex max-h-full w-[620px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">
            {free ? `“${view.kit.name}” may be passed on` : `“${view.kit.name}” cannot be passed on yet`}
          </DialogTitle>
          <p className="mt-1 text-soft">
            {free
              ? 'A WAV for each pad, an SFZ file, and a credits sheet that names every recording.'
              : 'These sounds hold it back. Say whose they are and under what terms, or take them off the kit.'}
          </p>
          {held.length > 1 && <RightsOfAll recordings={held} />}
          <div className="mt-3 min-h-0 flex-1 overflow-auto">
            {held.map((r) => (
              <div key={r.id} data-testid="held" className="border-b border-line py-3">
                <p className="font-semibold">{r.title}</p>
                <p className="text-[12px] text-soft">{heardOn(view, r.id)}</p>
                <RightsEditor recording={r} />
              </div>
            ))}
          </div>
          <Unsaid view={view} />
          <label className="mt-3 flex items-center gap-2">
            <input type="checkbox" checked={numbered} onChange={(event) => setNumbered(event.target.checked)} />
            Number the files in the order of the pads
          </label>
          <div className="mt-4 flex items-center gap-2">
            {!free && (
              <>
                <button type="button" className="quiet-button" onClick={() => take(true)}>
                  Private copy
                </button>
                <span className="text-[12px] text-soft">for yourself only: the bundle says so</span>
              </>
            )}
            <span className="ml-auto" />
            <button type="button" className="quiet-button" onClick={onClose}>
              Close
            </button>
            <button type="button" className="next-button" disabled={!free} onClick={() => take(false)}>
              Export zip
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** What the SFZ file will not say of the kit's pads: it is in the credits sheet as well. */
function Unsaid({ view }: { view: KitView }) {
  const pads = view.pads.map((pad) => ({
    pad,
    layers: heardLayers(
      view,
      view.layers.filter(({ padId }) => padId === pad.id),
    ),
    steps: view.steps.filter(({ padId }) => padId === pad.id),
  }));
  const unsaid = unsaidOf(pads, view.kit.tempoBpm, view.buses);
  if (unsaid.length === 0) return null;
  return (
    <div role="note" className="mt-3 max-h-[120px] overflow-auto rounded-md bg-paper px-3 py-2 text-[12px] text-soft">
      <p>The SFZ file cannot say everything; the WAV files and the kit’s own description tell the rest.</p>
      {unsaid.map(({ name, lost }) => (
        <p key={name}>
          <b>{name}</b>: {lost.join('; ')}
        </p>
      ))}
    </div>
  );
}

/** Sets the rights of all recordings that prevent the export, in one choice. */
function RightsOfAll({ recordings }: { recordings: readonly RecordingView[] }) {
  const { commit } = useCommands();
  const set = (fields: { rightsKind: RightsKind } | { rightsOwner: string }) =>
    void commit(
      `changed the rights of ${recordings.length} recordings`,
      recordings.map(({ id, rev }) => ({ op: 'update', doc: 'recording', id, rev, set: fields })),
    );
  return (
    <fieldset className="mt-3 flex items-center gap-2 rounded-md bg-paper px-3 py-2">
      <legend className="sr-only">Rights of all of them</legend>
      <span className="whitespace-nowrap font-semibold">All {recordings.length}</span>
      <TextField
        label="Whose all of them are"
        value=""
        maxLength={200}
        className="min-w-0 flex-1 border-b border-line px-1"
        placeholder="whose, then Enter"
        onCommit={(rightsOwner) => set({ rightsOwner })}
      />
      <RightsSelect label="Rights of all of them" onChoose={(rightsKind) => set({ rightsKind })} />
    </fieldset>
  );
}

/** Hits of a recording in a kit, with the pads that play them or keep them as other takes. */
function heardOn(view: KitView, recordingId: string): string {
  const hits = view.hits.filter((h) => h.recordingId === recordingId);
  const padsOf = (rows: readonly { hitId: string; padId: string }[], hitId: string) => {
    const ids = new Set(rows.filter((row) => row.hitId === hitId).map((row) => row.padId));
    return view.pads.filter((p) => ids.has(p.id)).map((p) => p.name);
  };
  return hits
    .map((hit) => {
      const pads = padsOf(view.layers, hit.id);
      if (pads.length === 1 && pads[0] === hit.name) return hit.name;
      if (pads.length > 0) return `${hit.name} on ${pads.join(', ')}`;
      const kept = padsOf(view.variations, hit.id);
      return kept.length > 0 ? `${hit.name}, another take of ${kept.join(', ')}` : hit.name;
    })
    .join(' · ');
}
