import { useQueries } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import { useMemo, useState } from 'react';
import type { CutView } from '@/contract/views';
import { KIT_PADS } from '@/core/play/limits';
import { getJson } from '../data/api';
import { useCommands } from '../data/commit';
import { keys, useHits, useLiveRecordings } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { placeText, type Stretch } from '../pads/laying';
import type { SelectMode } from '../parts/listing';
import { tell } from '../parts/notice';
import type { useAudition } from '../sound/use-audition';
import { targetsOf } from '../treatment/targets';
import { hitRows, type PickerRow, recordingRows, stretchOfRow } from './rows';
import { useGuesses } from './use-guesses';

export type PickerMode = 'recordings' | 'hits';

export interface Picking {
  readonly mode: PickerMode;
  readonly setMode: (mode: PickerMode) => void;
  readonly query: string;
  readonly setQuery: (query: string) => void;
  readonly rows: readonly PickerRow[];
  /** The line that keys apply to, and its place; undefined where there are no lines. */
  readonly row: PickerRow | undefined;
  readonly index: number;
  /** All lines that are chosen, in the order shown. */
  readonly several: readonly PickerRow[];
  readonly isChosen: (row: PickerRow) => boolean;
  readonly choose: (row: PickerRow | undefined, how?: SelectMode) => void;
  /** Chooses the recording of the slice that is chosen, without sounding it. */
  readonly toParent: () => void;
  readonly chooseOne: () => void;
  /** What a line would lay on a pad. */
  readonly stretchAt: (row: PickerRow) => Stretch;
  readonly fold: (id: string, open: boolean) => void;
  readonly hear: (row: PickerRow) => void;
  /** Lays what is chosen; several are previewed first. */
  readonly layChosen: () => void;
  /** Opens the treatment of what is chosen; a slice becomes a hit. */
  readonly treat: () => void;
  readonly laying: boolean;
  readonly setLaying: (laying: boolean) => void;
}

/** The picker's lines, which are chosen, and the actions on them. */
export function usePicking(audition: ReturnType<typeof useAudition>): Picking {
  const { chosen: pad, setChosen, lay, view } = useKitDesk();
  const { commit } = useCommands();
  const router = useRouter();
  const recordings = useLiveRecordings();
  const hits = useHits();
  const [mode, setMode] = useState<PickerMode>('recordings');
  const [query, setQuery] = useState('');
  const [openIds, setOpenIds] = useState<readonly string[]>([]);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [others, setOthers] = useState<ReadonlySet<string>>(new Set());
  const [laying, setLaying] = useState(false);
  const cuts = useQueries({
    queries: openIds.map((id) => ({
      queryKey: keys.cut(id),
      queryFn: () => getJson<CutView>(`/api/recordings/${id}/cut`),
    })),
    combine: (results) => results.map((r) => r.data ?? null),
  });
  const heard = useGuesses(cuts);
  const rows = useMemo(() => {
    if (mode === 'hits') return hitRows(hits.data ?? [], new Map(recordings.map((r) => [r.id, r])), query);
    return recordingRows(recordings, query, new Map(openIds.map((id, i) => [id, cuts[i] ?? null])));
  }, [mode, hits.data, recordings, query, openIds, cuts]);
  const found = rows.findIndex((r) => r.id === chosenId);
  const index = Math.max(0, found);
  const row = rows[index];
  const stretchAt = (r: PickerRow) => stretchOfRow(r, heard);
  const heardAt = (r: PickerRow) => {
    const { recording, startFrame, endFrame, hit } = stretchAt(r);
    return { recording, startFrame, endFrame, hit };
  };
  const isChosen = (r: PickerRow) => others.has(r.id) || r.id === row?.id;
  const several = rows.filter(isChosen);

  const choose = (r: PickerRow | undefined, how: SelectMode = 'alone') => {
    if (!r) return;
    setOthers((old) => {
      if (how === 'alone') return new Set();
      const next = new Set([...old, ...(row ? [row.id] : [])]);
      if (how === 'also') next.add(r.id);
      else {
        const to = rows.indexOf(r);
        for (const between of rows.slice(Math.min(index, to), Math.max(index, to) + 1)) next.add(between.id);
      }
      return next;
    });
    setChosenId(r.id);
    if (audition.byItself && how === 'alone') audition.play(heardAt(r));
  };
  const nextFree = (after: number) => {
    const taken = new Set(view?.pads.map((p) => p.position));
    for (let i = 1; i < KIT_PADS; i++) if (!taken.has((after + i) % KIT_PADS)) return (after + i) % KIT_PADS;
    return after;
  };
  const layChosen = () => {
    if (!row) return;
    if (several.length > 1) {
      setLaying(true);
      return;
    }
    // The sound of an occupied pad stays: replacing it is asked for by dragging, or by emptying the pad first.
    const there = view?.pads.find((p) => p.position === pad);
    const went = lay(stretchAt(row), there ? null : pad, 'next');
    if (went === null) return;
    if (there) tell(`${there.name} stays on its pad; this went to ${placeText(went)}.`);
    else if (pad !== null) setChosen(nextFree(went));
  };
  const treat = () => {
    if (!row) return;
    const { subjects, changes } = targetsOf([stretchAt(row)], hits.data ?? [], () => crypto.randomUUID());
    const [subject] = subjects;
    if (!subject?.hit) return;
    if (changes.length > 0) void commit(`made a hit of ${subject.name}`, changes);
    router.push(`/hits/${subject.hit.id}`);
  };
  return {
    ...{ mode, setMode, query, setQuery, rows, row, index, several, isChosen, choose, stretchAt },
    ...{ layChosen, treat, laying, setLaying },
    toParent: () => row && row.type === 'slice' && setChosenId(row.recording.id),
    chooseOne: () => setOthers(new Set()),
    fold: (id, open) =>
      setOpenIds((old) => (open ? [...old.filter((o) => o !== id), id] : old.filter((o) => o !== id))),
    hear: (r) => audition.toggle(heardAt(r)),
  };
}
