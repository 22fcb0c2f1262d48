'use client';

import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';

const SHEET: readonly [string, readonly (readonly [string, string])[]][] = [
  [
    'Everywhere',
    [
      ['the four letter and digit rows', 'play the kit: Z to , · A to K · Q to I · 1 to 8'],
      ['0', 'stop all sound'],
      ['Ctrl K', 'find a place, recording, hit or kit, or do'],
      ['Ctrl Shift 1 … 6', 'Recordings, Slice, Hits, Kits, Grooves; Record'],
      ['Shift F2', 'rename the chosen pad'],
      ['drag a pad', 'moves it, or swaps it with the one there; with Ctrl held it is copied'],
      ['Ctrl Z · Ctrl Shift Z', 'undo · redo'],
      ['F7', 'the history: single things taken back'],
      ['F6', 'the picker beside the pads: arrows, Enter lays, → unfolds, F4 treats'],
      ['?', 'this sheet'],
    ],
  ],
  [
    'Record',
    [
      ['F8', 'record, and stop'],
      ['Shift F8', 'listen to the input, and let it go'],
      ['F9', 'the last stroke, or the chosen one, to the chosen pad or the next free one'],
    ],
  ],
  [
    'Recordings, Hits',
    [
      ['↑ ↓', 'choose, and hear if arrows sound; with Shift choose more'],
      ['Space', 'hear, or stop'],
      ['Enter', 'recording to Slice; hit to the next free pad, several together'],
      ['F2 · F4', 'rename · a recording’s story; a hit’s treatment'],
      ['’', 'bookmark where the recording sounds'],
      ['/', 'search; Enter or ↓ goes into the list'],
      ['Ctrl A', 'choose all'],
      ['Delete', 'to the bin, or back from it'],
    ],
  ],
  [
    'Slice',
    [
      ['← →', 'slice before, slice after; each sounds; with Ctrl choose more'],
      ['Space', 'hear the slice again, or stop'],
      ['Shift Space', 'hear the recording from the slice on'],
      ['F9 · Shift F9', 'hear slices again and again · hear the whole recording'],
      ['Shift ← →', 'start 1 ms earlier, later; with Ctrl 10 ms, with Alt one sample'],
      ['Shift ↓ ↑', 'end 1 ms earlier, later; the same'],
      ['; · Ctrl ;', 'end where the sound dies away, at the next start at the latest · ringing on over it'],
      ['Shift ;', 'keep sound up to the end of the stretch'],
      ['Enter', 'slice to the next free pad'],
      ['Shift and a pad’s key', 'slice, or marked stretch, to that pad'],
      ['Insert or .', 'add a mark at the playhead or in the middle of the slice; a stretch becomes a slice'],
      ['Delete', 'remove the marks chosen'],
      ['\\ · Shift \\', 'merge the slices chosen, or with the next · lock or unlock'],
      ['Ctrl A', 'choose all slices'],
      ['F8 · Shift F8', 'next, last stretch where struck sound stands alone'],
      ['’', 'bookmark where the sound is'],
      ['= −', 'zoom in, out'],
      ['F4', 'make a hit of the slice or stretch, and open its treatment'],
      ['Ctrl ↑ ↓', 'the slices chosen one step louder, quieter'],
      ['[ ]', 'zoom to the slice or stretch; the whole recording'],
      ['`', 'full-height wave'],
      ['wheel · Shift wheel', 'zoom at the pointer · scroll'],
    ],
  ],
  [
    'Slice, shelves',
    [
      ['← →', 'barer, less bare on the shelf; each sounds at matched loudness'],
      ['↑ ↓', 'the barest of the shelf before, after'],
      ['/', 'the slice that was chosen before: back and forth between two'],
      ['Enter', 'slice to the next free pad'],
      ['Space', 'hear the slice again, or stop'],
      ['Ctrl click', 'choose several'],
    ],
  ],
  [
    'Treatment',
    [
      ['Space · /', 'hear, or stop · before and after at one loudness'],
      ['↑ ↓ · Alt ↑ ↓', 'choose a step · move it'],
      ['. · Delete', 'switch the step on or off · remove it'],
      ['Shift F4', 'start and end magnified'],
      ['= − ]', 'zoom in, out, all of it'],
      ['Enter', 'to the next free pad'],
    ],
  ],
  [
    'Kits',
    [
      ['arrows', 'choose a pad'],
      ['Space', 'hear the chosen pad'],
      ['Alt and arrows', 'move the chosen pad, or swap it'],
      ['Ctrl C · Ctrl V', 'copy the pad to an empty one'],
      ['F2 · F4', 'rename it · the treatment of its hit'],
      ['Delete', 'empty the chosen pad'],
    ],
  ],
];

export function ShortcutSheet({ open, onClose }: { open: boolean; onClose: () => void }) {
  return (
    <Dialog open={open} onClose={onClose} className="relative z-50">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="max-h-full w-[720px] overflow-auto rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">All keys</DialogTitle>
          {SHEET.map(([place, keys]) => (
            <section key={place} className="mt-4">
              <h3 className="mb-1 font-semibold text-soft">{place}</h3>
              <dl className="grid grid-cols-[220px_1fr] gap-x-4">
                {keys.map(([key, what]) => (
                  <div key={key} className="contents">
                    <dt className="figure border-t border-line py-1">{key}</dt>
                    <dd className="border-t border-line py-1">{what}</dd>
                  </div>
                ))}
              </dl>
            </section>
          ))}
          <div className="mt-5 text-right">
            <button type="button" className="next-button" onClick={onClose}>
              Close
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
