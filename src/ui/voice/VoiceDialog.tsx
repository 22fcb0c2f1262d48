'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { type KeyboardEvent, useState } from 'react';
import { STARTING_POINTS, type StartingPoint } from '@/core/voice/starting-points';
import { Glyph } from '../parts/Glyph';
import { complain } from '../parts/notice';
import { useAudition } from '../sound/use-audition';
import { useMakeVoice, voiceToHear } from './use-make-voice';

/** Chooses the voice to begin from: gone over, each is heard; chosen, it is a hit and lies on a pad. */
export function VoiceDialog({ onClose }: { onClose: () => void }) {
  const audition = useAudition();
  const make = useMakeVoice();
  const [at, setAt] = useState(0);
  const [busy, setBusy] = useState(false);
  const hear = (point: StartingPoint) => {
    const { hit, recording } = voiceToHear(point);
    audition.play({ recording, startFrame: 0, endFrame: 1, hit });
  };
  const go = (i: number) => {
    const next = Math.max(0, Math.min(STARTING_POINTS.length - 1, i));
    setAt(next);
    hear(STARTING_POINTS[next] as StartingPoint);
  };
  const take = (point: StartingPoint) => {
    setBusy(true);
    make(point)
      .then(onClose)
      .catch((error: Error) => complain(error.message))
      .finally(() => setBusy(false));
  };
  const onKeyDown = (event: KeyboardEvent) => {
    const by = { ArrowDown: 2, ArrowUp: -2, ArrowRight: 1, ArrowLeft: -1 }[event.key];
    if (by !== undefined) go(at + by);
    else if (event.key === ' ') go(at);
    else if (event.key === 'Enter' && !busy) take(STARTING_POINTS[at] as StartingPoint);
    else return;
    event.preventDefault();
  };
  return (
    <Dialog open onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/30" aria-hidden />
      <DialogPanel
        className="fixed top-[12%] left-1/2 w-[520px] -translate-x-1/2 rounded-lg border border-edge bg-sheet p-5 shadow-lg"
        onKeyDown={onKeyDown}
      >
        <DialogTitle className="font-head text-[18px]">A struck voice</DialogTitle>
        <p className="mt-1 mb-3 text-[12px] text-soft">
          Arrows and clicks sound. Enter, or a second click, makes a hit of it, on the chosen pad where that is free.
        </p>
        <ul aria-label="Voices to begin from" className="grid grid-cols-2 gap-1">
          {STARTING_POINTS.map((point, i) => (
            <li key={point.name}>
              <button
                type="button"
                // The first has the keys.
                ref={(button) => {
                  if (i === at) button?.focus();
                }}
                aria-pressed={i === at}
                disabled={busy}
                className={`flex h-[30px] w-full items-center gap-2 rounded border px-2 text-left ${i === at ? 'border-verdigris bg-selection' : 'border-line'}`}
                onClick={() => (i === at ? take(point) : go(i))}
              >
                <Glyph family={point.family} size={14} />
                <span className="flex-1 truncate">{point.name}</span>
                <span className="text-[12px] text-soft">{point.family}</span>
              </button>
            </li>
          ))}
        </ul>
        <div className="mt-4 flex justify-end gap-2">
          <button type="button" className="quiet-button" onClick={onClose}>
            Cancel
          </button>
          <button
            type="button"
            className="next-button"
            disabled={busy}
            onClick={() => take(STARTING_POINTS[at] as StartingPoint)}
          >
            {busy ? 'Making …' : 'Make a hit of it'}
          </button>
        </div>
      </DialogPanel>
    </Dialog>
  );
}
