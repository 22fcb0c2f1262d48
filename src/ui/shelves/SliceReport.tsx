'use client';

import { likelyDrum } from '@/core/describe/family';
import type { Family } from '@/core/family';
import { useCommands } from '../data/commit';
import { Choice } from '../parts/Choice';
import { FamilySelect } from '../parts/FamilySelect';
import { decibels, length, minus, pitch, sureness } from '../parts/figures';
import { reasonOf, wholeness } from './reasons';
import { shelfOptions } from './shelving';
import type { ShelfOfSlices, ShelvedSlice } from './use-heard';

interface ReportProps {
  /** Whether it can stand in for its shelf: only slices of the recording being played can. */
  readonly mayStandIn: boolean;
  readonly chosen: ShelvedSlice | undefined;
  readonly shelf: ShelfOfSlices | undefined;
  /** How many slices are chosen. */
  readonly count: number;
  readonly shelves: readonly ShelfOfSlices[];
  readonly onMove: (to: ShelfOfSlices) => void;
  readonly onPart: () => void;
  /** Chooses another slice. */
  readonly onShow: (id: string) => void;
  /** Whether it plays for every stroke of its shelf in the recording's rhythm. */
  readonly standIn: boolean;
  readonly onStandIn: (on: boolean) => void;
}

/** Description of the chosen slice, the reasons for its isolation, and where it could be moved. */
export function SliceReport({
  mayStandIn,
  chosen,
  shelf,
  count,
  shelves,
  onMove,
  onPart,
  onShow,
  standIn,
  onStandIn,
}: ReportProps) {
  const { commit } = useCommands();
  if (!chosen || !shelf) {
    return (
      <section aria-label="What is heard" className="flex flex-1 border-line border-r bg-sheet">
        <p className="m-auto px-6 text-center text-soft">
          Choose a slice to read what is heard in it, and why it is as bare as it is.
        </p>
      </section>
    );
  }
  const { recording, slice, number, heard, levels } = chosen;
  const { guess } = heard;
  // What was kept stays shown, even where it is no longer heard.
  const also = [...new Set([...heard.also, ...slice.also])];
  const setFamily = (family: Family | null) =>
    void commit(`named slice ${number} ${family ?? 'of no family'}`, [
      { op: 'update', doc: 'slice', id: slice.id, rev: slice.rev, set: { family } },
    ]);
  const keep = (on: boolean) =>
    void commit(on ? `kept both drums of slice ${number}` : `took back that slice ${number} holds both`, [
      { op: 'update', doc: 'slice', id: slice.id, rev: slice.rev, set: { also: on ? also : [] } },
    ]);
  const sure = heard.familyConfidence === 1 ? 'as you said' : `${sureness(heard.familyConfidence)} sure`;
  // A person's decision on its shelf overrides the estimate.
  const none = shelf.drum < 1 && !likelyDrum(guess);
  const rows: readonly (readonly [name: string, value: string, sure?: string])[] = [
    ...(none ? [['Likely', 'a note or an effect', sureness(1 - guess.drum)] as const] : []),
    levels.rootHz === null || levels.rootClarity === null
      ? ['Root', 'none heard']
      : ['Root', `${pitch(levels.rootHz)} cents, ${levels.rootHz.toFixed(1)} Hz`, sureness(levels.rootClarity)],
    ['Peak', `${decibels(levels.peakDb)}FS`],
    ['Loudness', loudness(levels.lufs)],
    ['Brightness', `${Math.round(levels.brightnessHz).toLocaleString('en')} Hz`],
    ['Falls by 20 dB in', levels.decay20Ms === null ? 'not before its end' : `${levels.decay20Ms} ms`],
    ['Length', length((slice.endFrame - slice.startFrame) / recording.sampleRate)],
  ];
  return (
    <section
      aria-label="What is heard"
      className="flex min-h-0 min-w-0 flex-1 flex-col border-line border-r bg-sheet text-[12px]"
    >
      <div className="flex h-8 flex-none items-center gap-2 border-line border-b bg-paper px-3">
        <span className="font-semibold">{count > 1 ? `${count} slices chosen` : `Slice ${number}`}</span>
        <span className="ml-auto" />
        <Choice
          label="Move to shelf"
          className="h-6"
          value={undefined}
          shown="Move to shelf …"
          options={shelfOptions(shelves, count === 1 ? shelf : null)}
          onChoose={(to) => onMove(shelves[to] as ShelfOfSlices)}
        />
        <label className="flex items-center gap-1" title="In the rebuilt rhythm it plays for every stroke of its shelf">
          <input
            type="checkbox"
            disabled={!mayStandIn}
            checked={standIn}
            onChange={(event) => onStandIn(event.target.checked)}
          />
          Plays for its shelf
        </label>
        <button
          type="button"
          className="h-6 rounded px-2 hover:bg-sheet disabled:text-soft"
          disabled={shelf.slices.length < 2}
          onClick={onPart}
        >
          A shelf of its own
        </button>
      </div>
      <div className="flex min-h-0 flex-1 overflow-y-auto">
        <dl className="grid w-[56%] content-start grid-cols-[104px_1fr] gap-x-2 gap-y-1 p-3">
          <dt className="text-soft">Family</dt>
          <dd className="flex items-center gap-2">
            <FamilySelect label={`Family of slice ${number}`} value={heard.family} onChoose={setFamily} />
            <span className="text-soft">{sure}</span>
          </dd>
          {also.length > 0 && (
            <>
              <dt className="text-soft">Also holds</dt>
              <dd className="flex items-center gap-2">
                {also.join(', ')}
                <label
                  className="flex items-center gap-1 whitespace-nowrap"
                  title="Both are kept on purpose: the hit is named by both and laid as its family"
                >
                  <input
                    type="checkbox"
                    checked={also.every((family) => slice.also.includes(family))}
                    onChange={(event) => keep(event.target.checked)}
                  />
                  kept
                </label>
              </dd>
            </>
          )}
          {rows.map(([name, value, howSure]) => (
            <Pair key={name} name={name} value={value} sure={howSure} />
          ))}
        </dl>
        <Isolation chosen={chosen} shelfNumber={shelves.indexOf(shelf) + 1} onShow={onShow} />
      </div>
    </section>
  );
}

/** The isolation score and its reasons. */
function Isolation({
  chosen,
  shelfNumber,
  onShow,
}: {
  chosen: ShelvedSlice;
  shelfNumber: number;
  onShow: (id: string) => void;
}) {
  const { heard, tail } = chosen;
  const { isolation } = heard;
  return (
    <div className="min-w-0 flex-1 border-line border-l p-3">
      <p className="mb-1">
        <span className="text-soft">Isolation</span>{' '}
        <span className="figure text-[15px] font-semibold" data-testid="isolation">
          {isolation.score}
        </span>
        <span className="text-soft"> of 100, {wholeness(heard.cutShortDb)}</span>
      </p>
      {heard.also.length > 0 && <p>Struck together with {heard.also.join(', ')}, which counts as its own here.</p>}
      {isolation.reasons.length === 0 ? (
        <p>Nothing {heard.also.length > 0 ? 'else' : 'foreign'} is heard in it.</p>
      ) : (
        <ul aria-label="Why it is not barer" className="flex flex-col gap-1">
          {isolation.reasons.map((reason) => (
            <li key={reason.kind}>
              <span className="flex items-baseline gap-2">
                <span className="flex-1">{reasonOf(reason, tail)}</span>
                {reason.kind === 'tail before' && tail && (
                  <button
                    type="button"
                    className="flex-none rounded px-1 text-verdigris underline hover:bg-paper"
                    title="Choose the slice that rings on here"
                    onClick={() => onShow(tail.id)}
                  >
                    hear it
                  </button>
                )}
              </span>
              <span aria-hidden className="mt-[2px] block h-[3px] bg-sunk">
                <span
                  className="block h-full bg-madder"
                  style={{ width: `${Math.max(2, Math.min(100, 100 + reason.db * 2))}%` }}
                />
              </span>
            </li>
          ))}
        </ul>
      )}
      <p className="mt-2 text-soft">
        {heard.groupConfidence === 1
          ? 'Stands where you put it, on shelf'
          : `${sureness(heard.groupConfidence)} sure to stand on the right shelf, number`}{' '}
        {shelfNumber}.
      </p>
    </div>
  );
}

function Pair({ name, value, sure }: { name: string; value: string; sure: string | undefined }) {
  return (
    <>
      <dt className="text-soft">{name}</dt>
      <dd className="figure">
        {value} {sure && <span className="font-text text-soft">{sure} sure</span>}
      </dd>
    </>
  );
}

function loudness(lufs: number): string {
  return Number.isFinite(lufs) ? `${minus(lufs.toFixed(1))} LUFS momentary` : 'silence';
}
