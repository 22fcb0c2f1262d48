'use client';

import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef } from 'react';
import { LayMany } from '../pads/LayMany';
import { selectModeOf } from '../parts/listing';
import { useAudition } from '../sound/use-audition';
import { TreatMany } from '../treatment/TreatMany';
import { PickerHead } from './PickerHead';
import { PickerLine } from './PickerLine';
import type { PickerRow } from './rows';
import { usePickerKeys } from './use-picker-keys';
import { usePicking } from './use-picking';

const ROW = 26;

/**
 * Recordings and hits beside the pads, on every page: arrows choose and sound, Enter lays what is chosen on the chosen
 * pad and goes on to the next. It stays open until it is closed.
 */
export function Picker() {
  const audition = useAudition();
  const picking = usePicking(audition);
  const { rows, row, index, several, laying, setLaying } = picking;
  const list = useRef<HTMLDivElement>(null);
  const search = useRef<HTMLInputElement>(null);
  const focusList = () => list.current?.focus();
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => list.current,
    estimateSize: () => ROW,
    overscan: 6,
  });
  useEffect(() => list.current?.focus(), []);
  useEffect(() => virtual.scrollToIndex(index, { align: 'auto' }), [index, virtual]);
  usePickerKeys(list, search, picking);
  return (
    <section aria-label="Picker" className="flex h-full min-h-0 min-w-0 flex-1 flex-col border-r border-line bg-sheet">
      <PickerHead picking={picking} audition={audition} search={search} focusList={focusList} />
      <div
        ref={list}
        role="listbox"
        aria-label="Sounds to pick from"
        tabIndex={0}
        aria-activedescendant={row ? `pick-${row.id}` : undefined}
        className="min-h-0 flex-1 overflow-auto outline-offset-[-2px]"
      >
        {rows.length === 0 && (
          <p className="p-3 text-soft">
            {picking.query ? 'Nothing goes by these words.' : `There are no ${picking.mode} yet.`}
          </p>
        )}
        <div className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map((item) => {
            const r = rows[item.index] as PickerRow;
            return (
              <div
                key={r.id}
                className="absolute inset-x-0"
                style={{ height: ROW, transform: `translateY(${item.start}px)` }}
              >
                <PickerLine
                  row={r}
                  stretch={picking.stretchAt(r)}
                  chosen={picking.isChosen(r)}
                  onChoose={(event) => {
                    focusList();
                    picking.choose(r, selectModeOf(event));
                  }}
                  onFold={() => r.type === 'recording' && picking.fold(r.id, !r.open)}
                />
              </div>
            );
          })}
        </div>
      </div>
      {several.length > 1 && (
        <p className="flex h-7 flex-none items-center gap-2 border-t border-line bg-paper px-3 text-[12px]">
          {several.length} chosen
          <TreatMany
            stretches={several.map(picking.stretchAt)}
            className="ml-auto rounded px-1 text-verdigris hover:underline"
          />
          <button
            type="button"
            className="rounded px-1 text-verdigris hover:underline"
            title="Where each goes is shown first (Enter)"
            onClick={() => setLaying(true)}
          >
            To the pads …
          </button>
        </p>
      )}
      {laying && (
        <LayMany
          stretches={several.map(picking.stretchAt)}
          what={`${several.length} sounds`}
          onClose={() => {
            setLaying(false);
            picking.chooseOne();
            focusList();
          }}
        />
      )}
    </section>
  );
}
