'use client';

import { useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import type { CutView } from '@/contract/views';
import { exactGrid } from '@/core/onset/grid';
import type { Split } from '@/core/onset/split';
import { levelledWave } from '@/picture/levelled-wave';
import type { Time, TimeUnit } from '@/picture/time';
import { useHits } from '../data/queries';
import type { Edge } from '../hits/edits';
import { Bench } from '../pads/Bench';
import { useWaveSource } from '../parts/MiniWave';
import { useBookmark } from '../parts/use-bookmark';
import { useMedia } from '../parts/use-media';
import { useSpan } from '../parts/use-span';
import { useStable } from '../parts/use-stable';
import { bySlice, useHeard } from '../shelves/use-heard';
import { GrowHandle, useBenchHeight } from './GrowHandle';
import { HitNote } from './HitNote';
import { Loupes } from './Loupes';
import { LowTabs } from './LowTabs';
import { Overview } from './Overview';
import { SliceTable } from './SliceTable';
import { SliceTools } from './SliceTools';
import { Stage } from './Stage';
import { bareStretches, stripOf } from './strip';
import { useDeskKeys } from './use-desk-keys';
import { snapped, useEdges, useSnap } from './use-edges';
import { useGestures } from './use-gestures';
import { useHearing } from './use-hearing';
import { useHeld } from './use-held';
import { useLaying } from './use-laying';
import { useMarks } from './use-marks';
import { useMoves } from './use-moves';
import { usePictures } from './use-pictures';
import { useSliceLevels } from './use-slice-levels';
import { useSliceTreatment } from './use-slice-treatment';
import { amplitudeOf, thresholdOf, useSplit } from './use-split';
import { useSubject } from './use-subject';
import { ViewTools } from './ViewTools';

/** Recordings of more slices are described on their shelves only, not beside the cutting. */
const MOST_HEARD = 300;

/** Where a recording is cut: the colonnade and the wave, the loupes, and the table beside the pads. */
export function Desk({ view, hitId }: { view: CutView; hitId: string | null }) {
  const { recording, candidates } = view;
  const { source, arrivals } = useWaveSource(recording);
  const marks = useMarks(view);
  const { slices } = marks;
  const alone = useMemo((): [CutView] => [view], [view]);
  const listens = view.slices.length <= MOST_HEARD;
  const listened = useHeard(alone, listens);
  const heard = useMemo(() => bySlice(listened), [listened]);
  const desk = useSplit(view, marks, listened?.rhythm?.bpm ?? null);
  const hit = useHits(hitId !== null).data?.find((h) => h.id === hitId && h.recordingId === recording.id);

  const stage = useRef<HTMLDivElement>(null);
  const spans = useSpan(stage, recording.frames);
  const hearing = useHearing(recording);
  const subjects = useSubject(recording, slices, hit, spans, hearing.hear);
  const { selection, stretch, setStretch, subject, choose } = subjects;
  const { chosen, ids, setChosen } = selection;
  const gestures = useGestures(view, marks, selection, desk.heard, stretch, setStretch);
  const laying = useLaying(view, slices, selection, stretch, heard);

  const held = useHeld();
  const edges = useEdges(view, marks, hit, subjects, gestures, held);
  const [snap, setSnap] = useSnap();
  const drawnTo = useCallback(
    (edge: Edge, frame: number) => snapped(snap, edge, frame, candidates, source, recording.sampleRate),
    [snap, candidates, source, recording.sampleRate],
  );

  const pictures = usePictures(recording, held);
  const [gain, setGain] = useState(1);
  const [unit, setUnit] = useState<TimeUnit>('seconds');
  const [tall, setTall] = useState(false);
  const low = useMedia('(max-height: 719px)');
  const bench = useBenchHeight();
  const time = useMemo(
    (): Time => ({ unit, sampleRate: recording.sampleRate, grid: exactGrid(desk.split, desk.heard.tempo) }),
    [unit, recording.sampleRate, desk.split, desk.heard.tempo],
  );
  const splitMarks = useMemo(() => {
    const silence = desk.split.method === 'silence' && desk.thresholdDb !== null;
    return { lines: desk.lines, threshold: silence ? amplitudeOf(desk.thresholdDb as number) : null };
  }, [desk.lines, desk.split.method, desk.thresholdDb]);
  const { overview, bookmarks } = view.story;
  const strip = useMemo(() => stripOf(overview), [overview]);
  const bare = useMemo(() => bareStretches(strip.stretches), [strip]);
  const { zoom, bareFrom } = useMoves(recording, spans, bare, stretch, subject);
  const goToBare = (by: 1 | -1) => {
    const found = bareFrom(by);
    if (!found) return;
    setChosen(slices.find((s) => s.startFrame >= found.start - 0.05 * recording.sampleRate)?.id ?? null);
    hearing.hear(Math.round(found.start), Math.round(found.end));
  };

  // The table follows a split in hand when there is time for it: the pictures come first.
  const tableSlices = useDeferredValue(slices);
  const [merge, lock, letDie, remove] = [
    useStable(gestures.merge),
    useStable(gestures.lock),
    useStable(() => gestures.letDie()),
    useStable(gestures.remove),
  ];
  const many = useMemo(() => ({ merge, lock, letDie, remove }), [merge, lock, letDie, remove]);
  const split = useStable((set: Partial<Split>, done: boolean) =>
    desk.change(set, done, stretch ? { startFrame: stretch.start, endFrame: stretch.end } : null),
  );
  const setBookmark = useBookmark();
  const onFill = useStable(laying.fill);
  const onBare = useStable(() => goToBare(1));
  const onBookmark = useStable(() => setBookmark(recording, subject?.startFrame));
  const toggleTall = () => setTall((t) => !t);
  const parts = { recording, hit, subjects, hearing, edges, gestures, laying, spans };
  const treat = useSliceTreatment(view, slices, selection, stretch, heard);
  useDeskKeys({ ...parts, zoom, goToBare, onBookmark, toggleTall, treat });

  const levels = useSliceLevels(recording, view.slices, source);
  const shownWave = useMemo(() => levelledWave(source, levels), [source, levels]);
  const wave = { recording, source: shownWave, arrivals };
  const pad = view.cut?.pad;
  const loupes = (
    <Loupes
      {...{ recording, source, pictures, time, held, snap, setSnap, drawnTo, subject }}
      rest={hit ?? view.slices.find((s) => s.id === chosen?.id)}
      onMove={edges.move}
      onLetDie={() => edges.letDie()}
    />
  );
  const table = (
    <SliceTable
      {...wave}
      {...{ time, pad, held, heard, many }}
      slices={tableSlices}
      chosenId={chosen?.id ?? null}
      selected={ids}
      listening={listens && (listened?.unheard ?? 1) > 0}
      onChoose={choose}
    />
  );
  return (
    <>
      <SliceTools
        {...{ view, desk, onFill, onBare, onBookmark }}
        sliceCount={slices.length}
        onSplit={split}
        inStretch={stretch !== null}
        fillCount={ids.size > 1 ? ids.size : null}
        bareCount={bare.length}
        bookmarkCount={bookmarks.length}
        loop={hearing.loop}
        setLoop={hearing.setLoop}
      />
      <div className="flex flex-none">
        <Overview {...{ recording, source, arrivals, spans, pictures, strip, bookmarks }} />
        <ViewTools {...{ unit, setUnit, gain, setGain, tall, setTall }} onZoom={zoom} />
      </div>
      {hit && <HitNote hit={hit} />}
      <Stage
        {...wave}
        {...{ pictures, time, spans, gain, pad, heard, stretch, setStretch, levels }}
        slices={subjects.slices}
        stored={hit ? NO_SLICES : view.slices}
        chosenId={subject?.id ?? null}
        selected={subjects.selected}
        marks={splitMarks}
        onThreshold={(amplitude, done) => split({ thresholdDb: thresholdOf(amplitude) }, done)}
        onDownbeat={(frame, done) => split({ downbeatFrame: Math.max(0, frame) }, done)}
        onChoose={choose}
        onAdd={(frame) => subjects.onSlices(() => gestures.add(frame))()}
        onDragEdge={(id, edge, frame, done) => edges.move(id, edge, drawnTo(edge, frame), done)}
        widthRef={stage}
        onSliceStretch={gestures.sliceStretch}
        onKeepStretch={chosen && stretch && stretch.end > chosen.startFrame ? gestures.keep : null}
      />
      {!tall && <GrowHandle bench={bench} />}
      {!tall && !low && <div className="flex h-32 flex-none gap-2 bg-paper">{loupes}</div>}
      {!tall && <Bench height={bench.height}>{low ? <LowTabs loupes={loupes} slices={table} /> : table}</Bench>}
    </>
  );
}

const NO_SLICES: never[] = [];
