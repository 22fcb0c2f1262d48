'use client';

import Link from 'next/link';
import { noteOf, noteOfPlace, ROW_COUNT, rowOf } from '@/core/kit/layout';
import { useKitDesk } from '../pads/kit-context';
import { Glyph } from '../parts/Glyph';
import { useNoteName } from '../parts/note-names';

/** The current kit on paper: every row that has a pad, with keys, notes, roles and sounds. */
export function KitMap() {
  const { view } = useKitDesk();
  const noteName = useNoteName();
  if (!view) return <p className="m-auto text-soft">Opening the kit …</p>;
  const { kit } = view;
  const pads = new Map(view.pads.map((pad) => [pad.position, pad]));
  const sounding = new Set(view.layers.map(({ padId }) => padId));
  const rows = Array.from({ length: ROW_COUNT }, (_, row) => row)
    .filter((row) => Array.from({ length: 8 }, (_, i) => row * 8 + i).some((position) => pads.has(position)))
    .reverse();
  return (
    <div className="min-h-0 flex-1 overflow-auto bg-sheet px-8 py-5 print:overflow-visible print:px-0">
      <header className="mb-3 flex items-baseline gap-3">
        <h1 className="font-head text-[22px]">{kit.name}</h1>
        <span className="text-soft">{[kit.author, `${kit.tempoBpm} BPM`].filter(Boolean).join(' · ')}</span>
        <span className="ml-auto flex gap-2 print:hidden">
          <Link href="/kits" className="quiet-button inline-flex items-center">
            Back to the pads
          </Link>
          <button type="button" className="next-button" onClick={() => window.print()}>
            Print
          </button>
        </span>
      </header>
      {kit.about && <p className="mb-3">{kit.about}</p>}
      {rows.length === 0 && <p className="text-soft">This kit has no pads yet: there is nothing to print.</p>}
      {rows.map((row) => (
        <div key={row} className="mb-2 grid break-inside-avoid grid-cols-8 gap-2">
          {Array.from({ length: 8 }, (_, column) => {
            const position = row * 8 + column;
            const pad = pads.get(position);
            const note = pad ? noteOf(pad) : noteOfPlace(position);
            return (
              <div
                key={position}
                data-testid={pad ? 'map-pad' : undefined}
                className={`min-h-[64px] rounded-md border px-2 py-1 text-[12px] ${pad ? 'border-edge' : 'border-line border-dashed text-soft'}`}
              >
                <span className="flex items-center justify-between">
                  <Glyph family={pad?.family ?? null} size={13} />
                  <span className="figure">
                    {row < 4 ? `${rowOf(position).caps[column]} · ` : ''}
                    {note} {noteName(note)}
                  </span>
                </span>
                {pad && (
                  <>
                    <span className="block font-semibold leading-tight">{pad.role || pad.name}</span>
                    {pad.role && (
                      <span className="block text-soft">{sounding.has(pad.id) ? pad.name : 'no sound'}</span>
                    )}
                    {pad.chokeGroup > 0 && <span className="block text-soft">choke group {pad.chokeGroup}</span>}
                  </>
                )}
              </div>
            );
          })}
        </div>
      ))}
    </div>
  );
}
