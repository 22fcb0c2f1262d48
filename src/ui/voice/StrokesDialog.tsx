'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { HitView } from '@/contract/views';
import type { PrintedStrokes, PrintStrokes } from '@/contract/voices';
import { freePosition } from '@/core/kit/layout';
import { LAYER_INITIAL, PAD_INITIAL } from '@/core/kit/parameters';
import { number } from '@/core/parameter/parameter';
import { browserId, postJson, tabId } from '../data/api';
import { useCommands } from '../data/commit';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { complain, tell } from '../parts/notice';
import { Parameter } from '../parts/Parameter';

const VELOCITIES = number({ label: 'Velocities', unit: '', low: 1, high: 8, step: 1, initial: 3, whole: true });
const EACH = number({ label: 'Strokes each', unit: '', low: 1, high: 8, step: 1, initial: 4, whole: true });

/** Velocities from soft to full, evenly spread. */
function spread(count: number): number[] {
  return Array.from({ length: count }, (_, i) => Math.round((127 * (i + 1)) / count));
}

/** Prints several strokes of a voice at several velocities in one go, to hits, and on wish to a pad as its takes. */
export function StrokesDialog({ hit, onClose }: { hit: HitView; onClose: () => void }) {
  const client = useQueryClient();
  const { commit } = useCommands();
  const { view, setChosen } = useKitDesk();
  const [count, setCount] = useState(VELOCITIES.initial);
  const [each, setEach] = useState(EACH.initial);
  const [busy, setBusy] = useState(false);
  const velocities = spread(count);
  const place = view && freePosition(new Set(view.pads.map(({ position }) => position)), hit.family);

  const print = async (onPad: boolean) => {
    const body: PrintStrokes = { browser: browserId(), tab: tabId, velocities, each };
    const { strokes } = await postJson<PrintedStrokes>(`/api/hits/${hit.id}/strokes`, body);
    await Promise.all([
      client.invalidateQueries({ queryKey: keys.recordings }),
      client.invalidateQueries({ queryKey: keys.hits }),
    ]);
    if (onPad && view && place !== null) {
      const padId = crypto.randomUUID();
      const pad = {
        ...PAD_INITIAL,
        kitId: view.kit.id,
        position: place,
        name: hit.name,
        family: hit.family,
        velocityDb: 0,
      };
      const layers = strokes.map(({ hitId, velocity }, position) => {
        const range = velocities.indexOf(velocity);
        const lowVelocity = range === 0 ? 1 : (velocities[range - 1] as number) + 1;
        const value = { ...LAYER_INITIAL, padId, hitId, position, lowVelocity, highVelocity: velocity, isTake: true };
        return { op: 'create' as const, doc: 'layer' as const, id: crypto.randomUUID(), value };
      });
      await commit(`laid ${strokes.length} strokes of ${hit.name} on a pad`, [
        { op: 'create', doc: 'pad', id: padId, value: pad },
        ...layers,
      ]);
      setChosen(place);
    }
    tell(`${strokes.length} strokes of ${hit.name} are hits now${onPad ? ', and takes of a pad' : ''}.`);
    onClose();
  };
  const run = (onPad: boolean) => () => {
    setBusy(true);
    print(onPad)
      .catch((error: Error) => complain(error.message))
      .finally(() => setBusy(false));
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <DialogPanel className="fixed top-[16%] left-1/2 w-[440px] -translate-x-1/2 rounded-lg border border-edge bg-sheet p-5 shadow-lg">
        <DialogTitle className="font-head text-[18px]">Strokes of {hit.name}</DialogTitle>
        <p className="mt-1 mb-3 text-[12px] text-soft">
          Struck at {velocities.join(', ')}; no two are the same while the voice varies. Each becomes a hit.
        </p>
        <Parameter of={VELOCITIES} value={count} onCommit={(value) => value !== null && setCount(value)} />
        <Parameter of={EACH} value={each} onCommit={(value) => value !== null && setEach(value)} />
        <div className="mt-4 flex justify-end gap-2">
          <button type="button" className="quiet-button" onClick={onClose}>
            Cancel
          </button>
          <button type="button" className="quiet-button" disabled={busy} onClick={run(false)}>
            Print {count * each} hits
          </button>
          <button type="button" className="next-button" disabled={busy || place === null} onClick={run(true)}>
            {busy ? 'Printing …' : 'And lay them on a pad'}
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  );
}
