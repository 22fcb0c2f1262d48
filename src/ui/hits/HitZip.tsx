import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useState } from 'react';
import { heldBack } from '@/core/rights/rights';
import { download } from '../data/download';
import { Choice } from '../parts/Choice';
import { complain } from '../parts/notice';
import type { HitRow } from './row';

const RATES = [0, 44_100, 48_000, 88_200, 96_000] as const;
const ENCODINGS = [
  ['s16', '16 bits'],
  ['s24', '24 bits'],
  ['f32', '32 bits, floats'],
] as const;

/** Chosen hits to a zip of WAVs of their names, as they sound. */
export function HitZip({ hits }: { hits: readonly HitRow[] }) {
  const [rate, setRate] = useState<(typeof RATES)[number]>(0);
  const [encoding, setEncoding] = useState<(typeof ENCODINGS)[number][0]>('s24');
  const [busy, setBusy] = useState(false);
  const held = hits.filter(({ recording }) => recording && heldBack(recording) !== null).length;
  const take = () => {
    const query = new URLSearchParams({ ids: hits.map(({ id }) => id).join(','), encoding });
    if (rate > 0) query.set('rate', String(rate));
    setBusy(true);
    download(`/api/hits/export?${query}`)
      .catch((error: Error) => complain(error.message))
      .finally(() => setBusy(false));
  };
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button" disabled={busy}>
        {busy ? 'Rendering …' : 'Zip …'}
      </PopoverButton>
      <PopoverPanel
        anchor="top start"
        className="z-30 w-[380px] rounded-lg border border-edge bg-sheet p-3 shadow-lg [--anchor-gap:6px]"
      >
        {({ close }) => (
          <>
            <p className="flex items-center gap-2">
              Sample rate
              <Choice
                label="Sample rate of the files"
                className="h-7"
                value={rate}
                options={RATES.map((r) => [r, r === 0 ? 'as recorded' : `${r / 1000} kHz`] as const)}
                onChoose={setRate}
              />
              <Choice
                label="Bits of the files"
                className="h-7"
                value={encoding}
                options={ENCODINGS}
                onChoose={setEncoding}
              />
            </p>
            <p className="mt-2 text-[12px] text-soft">
              A WAV for each, named as the hit, and a credits sheet. Where samples are rounded, dither is added; what
              exceeds full scale becomes floats.
              {held > 0 && ` ${held === 1 ? 'One of them' : `${held} of them`} may not be passed on: the zip says so.`}
            </p>
            <button
              type="button"
              className="next-button mt-2"
              onClick={() => {
                take();
                close();
              }}
            >
              Zip {hits.length === 1 ? 'it' : `${hits.length} hits`}
            </button>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}
