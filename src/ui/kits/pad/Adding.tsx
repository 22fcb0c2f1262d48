'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import dynamic from 'next/dynamic';
import { useEffect, useRef, useState } from 'react';
import type { Stored } from '@/contract/documents';
import type { KitView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import type { Layer, Pad } from '@/core/kit/model';
import { LAYER_PARAMETERS } from '@/core/kit/parameters';
import { LOST_DB, THIRD_OCTAVE_NAMES } from '@/core/layering/bands';
import { clip } from '@/core/parameter/values';
import type { Added, MendFound } from '@/worker/layers';
import { useCommands } from '../../data/commit';
import { dropDraft, setDraft } from '../../data/drafts';
import { useKitDesk } from '../../pads/kit-context';
import { decibels } from '../../parts/figures';
import { complain } from '../../parts/notice';
import { KEY_VELOCITY, strikePad } from '../../play/door';
import { openSound } from '../../sound/open-sound';
import { type HeardLayer, heardLayers, padSum } from '../layers';

// The charts are loaded with the first one that is opened.
const BandChart = dynamic(() => import('../../layers/BandChart').then((m) => m.BandChart), { ssr: false });

interface AddingProps {
  readonly view: KitView;
  readonly pad: Stored<Pad>;
  readonly layers: readonly Stored<Layer>[];
  readonly onClose: () => void;
}

/** A mend that is being heard, and its layer without it. */
interface Tried {
  readonly mend: MendFound;
  readonly of: HeardLayer;
}

function mendedValues({ ms, turns }: MendFound, { layer }: HeardLayer) {
  return {
    offsetMs: clip(LAYER_PARAMETERS.offsetMs, layer.offsetMs + ms),
    inverted: layer.inverted !== turns,
  };
}

/** Whether a pad's layers add: their sum against their own powers by third octave, and what mends it, heard before it is taken. */
export function Adding({ view, pad, layers, onClose }: AddingProps) {
  const { commit } = useCommands();
  const { padStates } = useKitDesk();
  const [added, setAdded] = useState<Added | null>(null);
  // A mend that is being heard is a draft. The figures stay those from before it until it is taken or given back.
  const [tried, setTried] = useState<Tried | null>(null);
  const heard = heardLayers(view, layers);
  const sum = padSum(heard, pad);
  const key = sum && contentKey(sum.hit);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for the layers
  useEffect(() => {
    if (tried || !sum) return;
    let wanted = true;
    openSound()
      .then((sound) => sound.samples.addition(sum.hit, sum.recording))
      .then(
        (found) => wanted && setAdded(found),
        (error: Error) => complain(error.message),
      );
    return () => {
      wanted = false;
    };
  }, [key, tried]);
  const strike = () =>
    strikePad({ pad: pad.position, velocity: KEY_VELOCITY, timeMs: performance.now(), by: 'pointer' });
  // The pad is struck once it has been prepared with the draft.
  const asked = useRef<typeof padStates | null>(null);
  useEffect(() => {
    if (!asked.current || padStates === asked.current || padStates.get(pad.position) !== 'ready') return;
    asked.current = null;
    strike();
  });
  const triedLayer = useRef<string | null>(null);
  triedLayer.current = tried?.of.layer.id ?? null;
  useEffect(
    () => () => {
      // Left without closing, as by going to another page.
      if (triedLayer.current) dropDraft('layer', triedLayer.current);
    },
    [],
  );
  const giveBack = () => {
    if (tried) dropDraft('layer', tried.of.layer.id);
    setTried(null);
  };
  const hear = (mend: MendFound, of: HeardLayer) => {
    giveBack();
    asked.current = padStates;
    if (tried?.mend === mend) return;
    setTried({ mend, of });
    setDraft('layer', of.layer.id, mendedValues(mend, of));
  };
  const take = (mend: MendFound, of: HeardLayer) => {
    const base = tried?.mend === mend ? tried.of : of;
    void commit(`mended ${of.hit.name} on ${pad.name}`, [
      { op: 'update', doc: 'layer', id: base.layer.id, rev: base.layer.rev, set: mendedValues(mend, base) },
    ]);
    giveBack();
  };
  const close = () => {
    giveBack();
    onClose();
  };
  const lost = (added?.bands ?? []).flatMap((db, b) =>
    db !== null && db < LOST_DB ? [`${THIRD_OCTAVE_NAMES[b]} Hz loses ${decibels(-db)}`] : [],
  );
  return (
    <Dialog open onClose={close} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="flex max-h-full w-[720px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">Do they add?</DialogTitle>
          <p className="mt-1 text-[12px] text-soft">
            The sum of the layers of {pad.name} against their own powers, by third octave. Equal sounds gain 3 dB;
            sounds that have nothing in common neither gain nor lose.
          </p>
          <div className="mt-3 h-[240px]">{added && <BandChart bands={added.bands} />}</div>
          <p className="mt-2" role="status">
            {added === null
              ? 'Listening …'
              : lost.length === 0
                ? 'No band loses more than 3 dB.'
                : `${lost.join(', ')}.`}
          </p>
          <ul className="mt-2">
            {added?.mends.map((mend) => {
              const of = heard[mend.layer];
              if (!of) return null;
              return (
                <li key={mend.layer} className="flex items-center gap-2 border-line border-t py-1" data-testid="mend">
                  <span className="min-w-0 flex-1">
                    {told(mend, of.hit.name)} gives back {decibels(mend.gainDb)} under 200 Hz
                  </span>
                  <button type="button" className="quiet-button" onClick={() => hear(mend, of)}>
                    {tried?.mend === mend ? 'As it was' : 'Hear it'}
                  </button>
                  <button type="button" className="next-button" onClick={() => take(mend, of)}>
                    Take it
                  </button>
                </li>
              );
            })}
          </ul>
          <div className="mt-4 flex gap-2">
            <button type="button" className="quiet-button" onClick={strike}>
              Hear them
            </button>
            <span className="ml-auto" />
            <button type="button" className="quiet-button" onClick={close}>
              Close
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

/** A mend in words: "Barrel 9 samples later, turned". */
function told({ frames, turns }: MendFound, name: string): string {
  const moved = frames === 0 ? [] : [`${Math.abs(frames)} samples ${frames > 0 ? 'later' : 'earlier'}`];
  return `${name} ${[...moved, ...(turns ? ['turned'] : [])].join(', ')}`;
}
