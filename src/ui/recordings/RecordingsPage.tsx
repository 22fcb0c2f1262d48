'use client';

import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { toast } from 'sonner';
import type { RecordingView } from '@/contract/views';
import { LONGEST_NAME } from '@/core/naming/names';
import { RIGHTS, RIGHTS_LABEL } from '@/core/recording/model';
import { useCommands } from '../data/commit';
import { useAnalysisProgress, useRecordings } from '../data/queries';
import { KitDock } from '../pads/KitDock';
import { formatOf, length } from '../parts/figures';
import { leaveControl } from '../parts/focus';
import { MiniWave } from '../parts/MiniWave';
import { TextField } from '../parts/TextField';
import { useImports } from '../shell/ImportDesk';
import { useStatus } from '../shell/status';
import { openSound, soundNow } from '../sound/sound';

export function RecordingsPage() {
  const { data, isPending, error, refetch } = useRecordings();
  const { pick } = useImports();
  const router = useRouter();
  const [chosen, setChosen] = useState(0);
  const list = data ?? [];
  const index = Math.min(chosen, list.length - 1);
  const recording = list[index];

  const hear = async (r: RecordingView | undefined) => {
    if (!r) return;
    try {
      const sound = await openSound();
      if (sound.playing?.recordingId === r.id) sound.stopAudition();
      else await sound.audition(r, 0, r.frames);
    } catch (e) {
      toast.error((e as Error).message);
    }
  };
  useEffect(() => () => soundNow()?.stopAudition(), []);
  const keys = { preventDefault: true } as const;
  const move = (by: number) => {
    leaveControl();
    setChosen(Math.max(0, Math.min(list.length - 1, index + by)));
  };
  useHotkeys('up', () => move(-1), keys);
  useHotkeys('down', () => move(1), keys);
  useHotkeys('space', () => void hear(recording), keys, [recording]);
  useHotkeys(
    'enter',
    () => recording && router.push(`/slice/${recording.id}`),
    { ignoreEventWhen: (e) => (e.target as HTMLElement).closest('button, a, input, select') !== null },
    [recording],
  );
  useStatus(
    list.length === 0
      ? 'Drop WAV files anywhere to import them'
      : `${list.length} recordings · ↑ ↓ choose · Space hear · Enter open on Slice · drop WAV files anywhere to import`,
  );

  return (
    <>
      <div className="flex h-10 flex-none items-center gap-4 border-b border-line bg-sheet px-4">
        <h1 className="font-semibold">Recordings</h1>
        <span className="figure text-[12px] text-soft">{list.length > 0 && total(list)}</span>
        <span className="ml-auto" />
        <button type="button" className="quiet-button" onClick={pick}>
          Import WAV files …
        </button>
        <button
          type="button"
          className="next-button"
          disabled={!recording}
          onClick={() => recording && router.push(`/slice/${recording.id}`)}
        >
          {recording ? `Slice “${short(recording.title)}”` : 'Slice'}
        </button>
      </div>
      <div className="min-h-0 flex-1 overflow-auto bg-sheet">
        {isPending && <p className="p-8 text-soft">Reading the archive …</p>}
        {error && (
          <div className="p-8">
            <p className="mb-2 text-madder">The recordings could not be read: {error.message}</p>
            <button type="button" className="quiet-button" onClick={() => void refetch()}>
              Try again
            </button>
          </div>
        )}
        {data && list.length === 0 && <Empty onPick={pick} />}
        {list.length > 0 && (
          <table className="w-full table-fixed border-collapse">
            <thead className="sticky top-0 z-10 bg-sheet text-left text-[12px] text-soft">
              <tr className="[&>th]:border-b [&>th]:border-line [&>th]:px-3 [&>th]:py-1 [&>th]:font-medium">
                <th className="w-[220px]">Title</th>
                <th>Wave</th>
                <th className="w-[84px] text-right">Length</th>
                <th className="w-[224px]">Format</th>
                <th className="w-[110px] text-right">Slices · on pads</th>
                <th className="w-[190px]">Rights</th>
                <th className="w-[84px]" />
              </tr>
            </thead>
            <tbody>
              {list.map((r, i) => (
                <Row
                  key={r.id}
                  recording={r}
                  chosen={i === index}
                  onChoose={() => setChosen(i)}
                  onHear={() => void hear(r)}
                  onOpen={() => router.push(`/slice/${r.id}`)}
                />
              ))}
            </tbody>
          </table>
        )}
      </div>
      <div className="h-[240px] flex-none border-t border-line bg-paper">
        <KitDock />
      </div>
    </>
  );
}

function Row({
  recording: r,
  chosen,
  onChoose,
  onHear,
  onOpen,
}: {
  recording: RecordingView;
  chosen: boolean;
  onChoose: () => void;
  onHear: () => void;
  onOpen: () => void;
}) {
  const row = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    if (chosen) row.current?.scrollIntoView({ block: 'nearest' });
  }, [chosen]);
  return (
    <tr
      ref={row}
      aria-selected={chosen}
      data-testid="recording"
      onClick={onChoose}
      onDoubleClick={onOpen}
      className={`h-[62px] [&>td]:border-b [&>td]:border-line [&>td]:px-3 ${chosen ? 'bg-selection' : 'hover:bg-paper'}`}
    >
      <td>
        <TitleField recording={r} />
        <p className="truncate text-[12px] text-soft" title={r.warnings.join('\n') || r.notes}>
          {r.warnings.length > 0 ? (
            <span className="text-madder">mended on the way in: {r.warnings[0]}</span>
          ) : (
            r.notes || r.fileName
          )}
        </p>
      </td>
      <td>
        <MiniWave recording={r} start={0} end={r.frames} height={46} gain={1} />
      </td>
      <td className="figure text-right text-[12px]">{length(r.frames / r.sampleRate)}</td>
      <td className="figure truncate text-[12px]">{formatOf(r)}</td>
      <td className="figure text-right text-[12px]">
        {r.analysed ? `${r.sliceCount} · ${r.hitCount}` : <Listening recordingId={r.id} />}
      </td>
      <td>
        <Rights recording={r} />
      </td>
      <td>
        <button
          type="button"
          className="quiet-button w-full"
          aria-label={`Hear ${r.title}`}
          onClick={(event) => {
            event.stopPropagation();
            onChoose();
            onHear();
          }}
        >
          Hear
        </button>
      </td>
    </tr>
  );
}

function Listening({ recordingId }: { recordingId: string }) {
  const share = useAnalysisProgress(recordingId);
  return <span title="Onsets are being found">listening {Math.floor(share * 100)} %</span>;
}

function TitleField({ recording: r }: { recording: RecordingView }) {
  const { commit } = useCommands();
  return (
    <TextField
      label="Title"
      value={r.title}
      maxLength={LONGEST_NAME}
      className="w-full font-semibold"
      onCommit={(title) =>
        void commit(`renamed ${r.title} to ${title}`, [
          { op: 'update', doc: 'recording', id: r.id, rev: r.rev, set: { title } },
        ])
      }
    />
  );
}

function Rights({ recording: r }: { recording: RecordingView }) {
  const { commit } = useCommands();
  const save = (set: Record<string, string>) =>
    void commit(`changed the rights of ${r.title}`, [{ op: 'update', doc: 'recording', id: r.id, rev: r.rev, set }]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: only keeps clicks in the fields from choosing the row twice
    <div onDoubleClick={(event) => event.stopPropagation()}>
      <select
        aria-label="Rights"
        className={`h-6 w-full ${r.rightsKind === 'unknown' ? 'text-madder' : ''}`}
        value={r.rightsKind}
        onChange={(event) => save({ rightsKind: event.target.value })}
      >
        {RIGHTS.map((kind) => (
          <option key={kind} value={kind}>
            {RIGHTS_LABEL[kind]}
          </option>
        ))}
      </select>
      <TextField
        label="Whose"
        placeholder="whose?"
        value={r.rightsOwner}
        maxLength={200}
        className="h-6 w-full px-1 text-[12px] text-soft"
        mayBeEmpty
        onCommit={(rightsOwner) => save({ rightsOwner })}
      />
    </div>
  );
}

function Empty({ onPick }: { onPick: () => void }) {
  return (
    <div className="mx-auto mt-16 max-w-[460px] text-center">
      <p className="font-head text-2xl">The archive is empty</p>
      <p className="mt-2 text-soft">
        Drop WAV files anywhere in this window, or choose them. They are kept as they are; nothing you do to a sound
        ever changes its recording.
      </p>
      <button type="button" className="next-button mt-5" onClick={onPick}>
        Import WAV files …
      </button>
    </div>
  );
}

function total(list: readonly RecordingView[]): string {
  const seconds = list.reduce((sum, r) => sum + r.frames / r.sampleRate, 0);
  return `${list.length} · ${length(seconds)}`;
}

function short(title: string): string {
  return [...title].length > 24 ? `${[...title].slice(0, 23).join('')}…` : title;
}
