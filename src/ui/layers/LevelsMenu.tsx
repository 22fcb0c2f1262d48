import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { useEffect, useState } from 'react';
import type { HitView } from '@/contract/views';
import { MEMBER_PARAMETERS } from '@/core/layering/parameters';
import { number } from '@/core/parameter/parameter';
import { clip } from '@/core/parameter/values';
import type { Levels } from '@/worker/layers';
import { useCommands } from '../data/commit';
import { minus } from '../parts/figures';
import { NumberField } from '../parts/NumberField';
import { tell } from '../parts/notice';
import { setMember } from './edits';
import type { Building } from './use-building';

/** A sum of layers has this true peak before it is normalised last (common practice: between -9 and -6 dBFS). */
const TARGET = number({ label: 'Sum to', unit: 'dBTP', low: -30, high: 0, step: 0.5, initial: -7.5 });
/** The true peak that was set last, in this browser. */
const KEPT = 'undercroft.sum-to';

/** Peak, true peak and loudness of every layer and of the sum; sets all levels with headroom, their balance kept. */
export function LevelsMenu({ hit, building }: { hit: HitView; building: Building }) {
  const { commit } = useCommands();
  const { levels } = building;
  const [target, setTarget] = useState(TARGET.initial);
  useEffect(() => setTarget(clip(TARGET, Number(localStorage.getItem(KEPT) ?? TARGET.initial))), []);
  const keepTarget = (wanted: number) => {
    localStorage.setItem(KEPT, String(wanted));
    setTarget(wanted);
  };
  const set = () => {
    if (!levels || !Number.isFinite(levels.sum.truePeakDbtp)) return;
    const by = Math.round(10 * (target - levels.sum.truePeakDbtp)) / 10;
    tell(
      `All layers ${by < 0 ? 'quieter' : 'louder'} by ${Math.abs(by).toFixed(1)} dB: the sum peaks at ${minus(target.toFixed(1))} dBTP.`,
    );
    if (by === 0) return;
    void commit(
      `set the levels of ${hit.name}`,
      hit.members.map((member) =>
        setMember(member, { levelDb: clip(MEMBER_PARAMETERS.levelDb, Math.round(10 * (member.levelDb + by)) / 10) }),
      ),
    );
  };
  return (
    <Popover className="relative">
      <PopoverButton className="quiet-button">Levels</PopoverButton>
      <PopoverPanel
        anchor="bottom end"
        className="z-30 w-[420px] rounded-lg border border-edge bg-sheet p-3 shadow-lg [--anchor-gap:6px]"
      >
        {({ close }) => (
          <>
            <table className="w-full text-[13px]">
              <thead className="text-[12px] text-soft">
                <tr>
                  <th className="text-left font-normal">Layer</th>
                  <th className="text-right font-normal">peak</th>
                  <th className="text-right font-normal">true peak</th>
                  <th className="text-right font-normal">loudness</th>
                </tr>
              </thead>
              <tbody>
                {levels?.layers.map((of, n) => (
                  <Row key={hit.members[n]?.id} name={hit.members[n]?.hit.name ?? ''} of={of} />
                ))}
                {levels && <Row name="Sum" of={levels.sum} />}
              </tbody>
            </table>
            <div className="mt-2 flex items-center gap-2">
              <NumberField of={TARGET} value={target} inline onCommit={keepTarget} />
              <button
                type="button"
                className="next-button ml-auto"
                title="Every layer by the same step: the balance stays"
                disabled={!levels}
                onClick={() => {
                  set();
                  close();
                }}
              >
                Set for me
              </button>
            </div>
            <p className="mt-2 text-[12px] text-soft">
              Layers are often kept near −12 dBFS and their sum between −9 and −6, and the result is normalised last.
            </p>
          </>
        )}
      </PopoverPanel>
    </Popover>
  );
}

function Row({ name, of }: { name: string; of: Levels }) {
  return (
    <tr className="border-line border-t">
      <td className="max-w-[150px] truncate py-0.5">{name}</td>
      <td className="figure text-right">{figure(of.peakDbfs)} dBFS</td>
      <td className="figure text-right">{figure(of.truePeakDbtp)} dBTP</td>
      <td className="figure text-right">{figure(of.lufs)} LUFS</td>
    </tr>
  );
}

function figure(db: number): string {
  return Number.isFinite(db) ? minus(db.toFixed(1)) : '−∞';
}
