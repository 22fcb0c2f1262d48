import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { type KeyboardEvent, useMemo, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { contentKey } from '@/core/hit/key';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { Choice } from '../parts/Choice';
import { complain, tell } from '../parts/notice';
import { openSound } from '../sound/sound';
import { answered, useAnswer } from '../sound/use-answer';
import { VariantCell } from './VariantCell';
import { keptVariants, neighboursOf, placed, withHits } from './variants';

interface VariantGridProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  readonly hits: readonly HitView[];
  readonly onClose: () => void;
}

const COLUMNS = 96;

/** Two layers of a layered hit, each with its neighbours in the library: every pair heard by one key, several kept. */
export function VariantGrid({ hit, recording, hits, onClose }: VariantGridProps) {
  const { commit } = useCommands();
  const { view } = useKitDesk();
  const [rowId, setRowId] = useState(hit.members[0]?.id);
  const [columnId, setColumnId] = useState(hit.members[1]?.id);
  const [at, setAt] = useState<readonly [number, number] | null>(null);
  const [kept, setKept] = useState<ReadonlySet<string>>(new Set());
  const row = hit.members.find(({ id }) => id === rowId);
  const column = hit.members.find(({ id }) => id === columnId);
  const rows = useMemo(() => (row ? neighboursOf(hits, row, hit.id) : []), [hits, row, hit.id]);
  const columns = useMemo(() => (column ? neighboursOf(hits, column, hit.id) : []), [hits, column, hit.id]);
  const cells = useMemo(
    () =>
      rows.map((middle) =>
        columns.map((sub) =>
          withHits(
            hit,
            new Map(
              [[rowId, middle] as const, [columnId, sub] as const].flatMap(([id, of]) =>
                id ? [[id, of] as const] : [],
              ),
            ),
          ),
        ),
      ),
    [rows, columns, hit, rowId, columnId],
  );
  const key = `${contentKey(hit)} ${cells.flat().map(contentKey).join(' ')}`;
  const answer = answered(
    useAnswer(key, async (samples) => ({ key, cells: await samples.variants(hit, cells.flat(), recording, COLUMNS) })),
  );
  const found = answer.value?.key === key ? answer.value.cells : null;
  const cellAt = (r: number, c: number): HitView | undefined => {
    const variant = cells[r]?.[c];
    const of = found?.[r * columns.length + c];
    return variant && of && placed(variant, of);
  };
  const hear = (r: number, c: number) => {
    setAt([r, c]);
    const variant = cellAt(r, c);
    if (!variant) return;
    const { startFrame, endFrame } = variant;
    openSound()
      .then((sound) => sound.audition.play({ hit: { ...variant, id: '' }, recording, startFrame, endFrame }))
      .catch((error: Error) => complain(error.message));
  };
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
      return cellAt(r, c) ?? [];
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
              value={rowId ?? ''}
              options={options.filter(([id]) => id !== columnId)}
              onChoose={setRowId}
            />
            <Choice
              label="Columns"
              value={columnId ?? ''}
              options={options.filter(([id]) => id !== rowId)}
              onChoose={setColumnId}
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
            {answer.error && (
              <p role="alert" className="text-madder">
                They could not be rendered: {answer.error}
              </p>
            )}
          </div>
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
