import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { type KeyboardEvent, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { Choice } from '../parts/Choice';
import { tell } from '../parts/notice';
import { SecondOne } from './SecondOne';
import { useVariants } from './use-variants';
import { VariantCell } from './VariantCell';
import { keptVariants } from './variants';

interface VariantGridProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  readonly hits: readonly HitView[];
  /** Length of the sum as it sounds; null before it is known. */
  readonly lengthMs: number | null;
  readonly onClose: () => void;
}

/** Two layers of a layered hit, each with its neighbours in the library: every pair heard by one key, several kept. */
export function VariantGrid({ hit, recording, hits, lengthMs, onClose }: VariantGridProps) {
  const { commit } = useCommands();
  const { view } = useKitDesk();
  const [kept, setKept] = useState<ReadonlySet<string>>(new Set());
  const grid = useVariants(hit, recording, hits);
  const { row, column, rows, columns, found, at, hear } = grid;
  const toggle = (r: number, c: number) => {
    const name = `${r} ${c}`;
    setKept(new Set(kept.has(name) ? [...kept].filter((one) => one !== name) : [...kept, name]));
  };
  const move = (event: KeyboardEvent) => {
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowUp: [-1, 0],
      ArrowDown: [1, 0],
      ArrowLeft: [0, -1],
      ArrowRight: [0, 1],
    };
    const by = steps[event.key];
    if (!by) return;
    event.preventDefault();
    const [r, c] = at ? [at[0] + by[0], at[1] + by[1]] : [0, 0];
    const next = [(r + rows.length) % rows.length, (c + columns.length) % columns.length] as const;
    hear(...next);
    document.getElementById(`variant-${next[0]}-${next[1]}`)?.focus();
  };
  const pads = (view?.pads ?? [])
    .filter((pad) => view?.layers.some((layer) => layer.padId === pad.id && layer.hitId === hit.id))
    .map(({ id, name }) => ({ id, name, takes: view?.variations.filter((v) => v.padId === id).length ?? 0 }));
  const keep = () => {
    const variants = [...kept].flatMap((name) => {
      const [r, c] = name.split(' ').map(Number) as [number, number];
      return grid.variantAt(r, c) ?? [];
    });
    const taken = new Set(hits.map(({ name }) => name));
    const of = pads.length > 0 ? `takes of ${pads.map(({ name }) => name).join(', ')}` : 'hits';
    void commit(
      `kept ${variants.length} variants of ${hit.name} as ${of}`.slice(0, 200),
      keptVariants(variants, taken, pads, () => crypto.randomUUID()),
    );
    tell(`${variants.length} variants are ${of} now.`);
    onClose();
  };
  const options = hit.members.map(({ id, hit: { name } }) => [id, name] as const);
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-6">
        <DialogPanel
          className="flex max-h-full max-w-full flex-col rounded-xl border border-edge bg-sheet p-5"
          onKeyDown={move}
        >
          <DialogTitle className="font-head text-[20px] font-semibold">Variants of {hit.name}</DialogTitle>
          <div className="mt-1 flex items-center gap-4">
            <Choice
              label="Rows"
              value={row?.id ?? ''}
              options={options.filter(([id]) => id !== column?.id)}
              onChoose={grid.setRowId}
            />
            <Choice
              label="Columns"
              value={column?.id ?? ''}
              options={options.filter(([id]) => id !== row?.id)}
              onChoose={grid.setColumnId}
            />
            <span className="text-[12px] text-soft">
              Each sound with its neighbours of the same family, lined up, as loud as the one it replaces.
            </span>
          </div>
          <div className="mt-3 min-h-0 overflow-auto">
            <table className="border-separate border-spacing-1">
              <thead>
                <tr>
                  <th className="sr-only">Sound</th>
                  {columns.map(({ id, name }) => (
                    <th key={id} className="max-w-[150px] truncate text-left text-[12px] font-normal">
                      {name}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {rows.map((middle, r) => (
                  <tr key={middle.id}>
                    <th scope="row" className="max-w-[150px] truncate pr-2 text-left text-[12px] font-normal">
                      {middle.name}
                    </th>
                    {columns.map((sub, c) => (
                      <td key={sub.id}>
                        <VariantCell
                          id={`variant-${r}-${c}`}
                          name={`${middle.name} with ${sub.name}`}
                          variant={found?.[r * columns.length + c] ?? null}
                          isNow={middle.id === row?.hitId && sub.id === column?.hitId}
                          isAt={at?.[0] === r && at[1] === c}
                          isKept={kept.has(`${r} ${c}`)}
                          onHear={() => hear(r, c)}
                          onKeep={() => toggle(r, c)}
                        />
                      </td>
                    ))}
                  </tr>
                ))}
              </tbody>
            </table>
            {grid.error && (
              <p role="alert" className="text-madder">
                They could not be rendered: {grid.error}
              </p>
            )}
          </div>
          <SecondOne {...{ hit, hits, lengthMs }} />
          <div className="mt-3 flex items-center gap-2">
            <span className="text-[12px] text-soft">Arrow keys hear them; tick what is to be kept.</span>
            <button type="button" className="quiet-button ml-auto" onClick={onClose}>
              Close
            </button>
            <button type="button" className="next-button" disabled={kept.size === 0} onClick={keep}>
              {pads.length > 0 ? `Keep ${kept.size} as takes of ${pads[0]?.name}` : `Keep ${kept.size} as hits`}
            </button>
          </div>
        </DialogPanel>
      </div>
    </Dialog>
  );
}
