import { Dialog, DialogPanel, DialogTitle } from '@headlessui/react';
import { useEffect, useMemo, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { HitFigures } from '@/core/hit/inspect';
import type { TreatedHit } from '@/core/hit/key';
import { useHits, useRecordings } from '../data/queries';
import { minus } from '../parts/figures';
import { openSound } from '../sound/open-sound';
import type { Subject } from './subject';

interface Outcome {
  readonly was: HitFigures;
  readonly now: HitFigures;
}

/** Levels and noise of several hits before and after an edit, filled in as each is rendered. */
export function Applied({ subjects, onClose }: { subjects: readonly Subject[]; onClose: () => void }) {
  const before = useMemo(() => subjects.flatMap(({ hit }) => hit ?? []), [subjects]);
  const all = useHits().data;
  const recordings = useRecordings().data;
  const [outcomes, setOutcomes] = useState<ReadonlyMap<string, Outcome | string>>(new Map());
  const rows = useMemo(
    () =>
      before.flatMap((old) => {
        const now = all?.find((h) => h.id === old.id);
        const recording = recordings?.find((r) => r.id === old.recordingId);
        return now && recording ? [{ old, now, recording }] : [];
      }),
    [before, all, recordings],
  );
  const [begun] = useState(() => new AbortController());
  useEffect(() => () => begun.abort(), [begun]);
  const ready = rows.length === before.length && rows.every(({ old, now }) => now.steps.length > old.steps.length);
  // biome-ignore lint/correctness/useExhaustiveDependencies: begun once, when the edit is shown
  useEffect(() => {
    if (!ready) return;
    void measureAll(rows, begun.signal, (id, outcome) => setOutcomes((known) => new Map(known).set(id, outcome)));
  }, [ready]);
  return (
    <Dialog open onClose={onClose} className="relative z-40">
      <div className="fixed inset-0 bg-ink/25" aria-hidden />
      <div className="fixed inset-0 flex items-center justify-center p-8">
        <DialogPanel className="flex max-h-full w-[640px] flex-col rounded-xl border border-edge bg-sheet p-6">
          <DialogTitle className="font-head text-[20px] font-semibold">What it did</DialogTitle>
          <p className="mt-1 text-[12px] text-soft" role="status">
            {outcomes.size < before.length
              ? `Rendered ${outcomes.size} of ${before.length} …`
              : `${before.length} hits; one undo takes all of it back.`}
          </p>
          <div className="mt-3 min-h-[120px] overflow-auto">
            <table className="figure w-full text-[12px]">
              <thead className="text-left text-soft">
                <tr>
                  <th className="font-normal">Hit</th>
                  <th className="text-right font-normal">Loudness, LUFS</th>
                  <th className="text-right font-normal">True peak, dBTP</th>
                  <th className="text-right font-normal">Noise, dBFS</th>
                </tr>
              </thead>
              <tbody>
                {before.map((hit) => (
                  <Row key={hit.id} name={hit.name} outcome={outcomes.get(hit.id)} />
                ))}
              </tbody>
            </table>
          </div>
          <button type="button" className="next-button mt-4 self-end" onClick={onClose}>
            Done
          </button>
        </DialogPanel>
      </div>
    </Dialog>
  );
}

function Row({ name, outcome }: { name: string; outcome: Outcome | string | undefined }) {
  const change = (of: (f: HitFigures) => number) => {
    if (!outcome || typeof outcome === 'string') return '';
    const text = (f: HitFigures) => (Number.isFinite(of(f)) ? minus(of(f).toFixed(1)) : 'none');
    return `${text(outcome.was)} → ${text(outcome.now)}`;
  };
  return (
    <tr className="border-line border-t" data-testid="outcome">
      <td className="max-w-[220px] truncate font-text text-[13px]">{name}</td>
      {typeof outcome === 'string' ? (
        <td colSpan={3} className="text-right text-madder">
          {outcome}
        </td>
      ) : (
        <>
          <td className="text-right">{change((f) => f.lufs) || '…'}</td>
          <td className="text-right">{change((f) => f.truePeakDbtp)}</td>
          <td className="text-right">{change((f) => f.noiseDbfs)}</td>
        </>
      )}
    </tr>
  );
}

async function measureAll(
  rows: readonly { readonly old: TreatedHit; readonly now: TreatedHit; readonly recording: RecordingView }[],
  signal: AbortSignal,
  told: (id: string, outcome: Outcome | string) => void,
): Promise<void> {
  const sound = await openSound();
  for (const { old, now, recording } of rows) {
    if (signal.aborted) return;
    try {
      const [was, is] = [await sound.samples.inspect(old, recording), await sound.samples.inspect(now, recording)];
      told(old.id, { was: was.figures, now: is.figures });
    } catch (error) {
      told(old.id, (error as Error).message);
    }
  }
}
