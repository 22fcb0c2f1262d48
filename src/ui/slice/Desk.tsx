'use client';

import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useDeferredValue, useMemo, useRef, useState } from 'react';
import type { CutView } from '@/contract/views';
import { exactGrid } from '@/core/onset/grid';
import type { Split } from '@/core/onset/split';
import { type MarkedStretch, reveal } from '@/picture/span';
import type { Time, TimeUnit } from '@/picture/time';
import { useAnalysisProgress, useHits } from '../data/queries';
import { SharedHit } from '../kits/SharedHit';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { leaveControl } from '../parts/focus';
import { ListenAgain } from '../parts/ListenAgain';
import { useWaveSource } from '../parts/MiniWave';
import { useBookmark } from '../parts/use-bookmark';
import { useMedia } from '../parts/use-media';
import { useStable } from '../parts/use-stable';
import { useStatus } from '../shell/status';
import { bySlice, useHeard } from '../shelves/use-heard';
import { soundNow } from '../sound/sound';
import { GrowHandle, useBenchHeight } from './GrowHandle';
import { Loupe } from './Loupe';
import { LowTabs } from './LowTabs';
import { Overview } from './Overview';
import { SliceTable } from './SliceTable';
import { SliceTools } from './SliceTools';
import { Stage } from './Stage';
import { bareStretches, stripOf } from './strip';
import { type Edge, snapped, useHitEdges, useSliceEdges, useSnap } from './use-edges';
import { useGestures } from './use-gestures';
import { useHearing } from './use-hearing';
import { useHeld } from './use-held';
import { useLaying } from './use-laying';
import { useMarks } from './use-marks';
import { useMoves } from './use-moves';
import { usePictures } from './use-pictures';
import { type Manner, useSelection } from './use-selection';
import { useSliceKeys } from './use-slice-keys';
import { useSpan } from './use-span';
import { useSplit } from './use-split';
import { ViewTools } from './ViewTools';

/** Of more slices than this it is not worked out beside the cutting what each is; the shelves do. */
const MOST_HEARD = 300;

/** Where a recording is cut: the colonnade and the wave, the loupes, and the table beside the pads. */
export function Desk({ view, hitId }: { view: CutView; hitId: string | null }) {
  const { recording, candidates } = view;
  const router = useRouter();
  const { source, arrivals } = useWaveSource(recording);
  const marks = useMarks(view);
  const { slices } = marks;
  const alone = useMemo((): [CutView] => [view], [view]);
  const listens = view.slices.length <= MOST_HEARD;
  const listened = useHeard(alone, listens);
  const heardById = useMemo(() => bySlice(listened), [listened]);
  const desk = useSplit(view, marks, listened?.rhythm?.bpm ?? null);
  const selection = useSelection(slices);
  const { chosen, index, ids, setChosen, chooseAll } = selection;
  const [stretch, setStretch] = useState<MarkedStretch | null>(null);
  const [gain, setGain] = useState(1);
  const [unit, setUnit] = useState<TimeUnit>('seconds');
  const [snap, setSnap] = useSnap();
  const [tall, setTall] = useState(false);
  const low = useMedia('(max-height: 719px)');
  const bench = useBenchHeight();
  const stage = useRef<HTMLDivElement>(null);
  const spans = useSpan(stage, recording.frames);
  const { hear, loop, setLoop } = useHearing(recording);
  const held = useHeld();
  const pictures = usePictures(recording, held);
  const moveEdge = useSliceEdges(view.slices, marks, held, recording.frames);
  const hits = useHits(hitId !== null);
  const { view: kit } = useKitDesk();
  const hit = hits.data?.find((h) => h.id === hitId && h.recordingId === recording.id);
  const hitEdges = useHitEdges(hit, recording, held);
  const progress = useAnalysisProgress(recording.id);
  const { overview, bookmarks } = view.story;
  const strip = useMemo(() => stripOf(overview), [overview]);
  const bare = useMemo(() => bareStretches(strip.stretches), [strip]);
  const time = useMemo(
    (): Time => ({ unit, sampleRate: recording.sampleRate, grid: exactGrid(desk.split, desk.heard.tempo) }),
    [unit, recording.sampleRate, desk.split, desk.heard.tempo],
  );
  const splitMarks = useMemo(() => {
    const silence = desk.split.method === 'silence' && desk.thresholdDb !== null;
    // A threshold tells the mean square of 2 ms; a sine's peak is 3 dB over that.
    return { lines: desk.lines, threshold: silence ? 10 ** (((desk.thresholdDb as number) + 3) / 20) : null };
  }, [desk.lines, desk.split.method, desk.thresholdDb]);

  const shown = hitEdges.shown;
  const shownHitId = shown?.id;
  const selected = useMemo(() => (shownHitId ? new Set([shownHitId]) : ids), [shownHitId, ids]);
  const stageSlices = useMemo(() => (shown ? [shown] : slices), [shown, slices]);
  /** What loupes and keys speak of: the hit whose edges are shown, else the chosen slice. */
  const subject = shown ?? chosen;
  const moves = useMoves(recording, spans, bare, stretch, subject);
  const { zoom } = moves;
  const rest = hit ?? view.slices.find((s) => s.id === chosen?.id);

  const choose = useStable((id: string | null, how: Manner = 'alone', order?: readonly string[]) => {
    if (hit && id === hit.id) {
      hear(hit.startFrame, hit.endFrame, hit);
      return;
    }
    // Whoever chooses a slice is done with the hit.
    if (hit && id !== null) leaveHit();
    setChosen(id, how, order);
    setStretch(null);
    const slice = slices.find((s) => s.id === id);
    if (!slice) {
      if (id === null) soundNow()?.audition.stop();
      return;
    }
    spans.set((s) => reveal(s, slice.startFrame, slice.endFrame, spans.width(), recording.frames));
    if (how === 'alone') hear(slice.startFrame, slice.endFrame);
  });
  const step = (by: number, how: Manner = 'alone') => {
    leaveControl();
    const next = slices[index < 0 ? (by > 0 ? 0 : slices.length - 1) : index + by];
    if (next) choose(next.id, how);
  };

  const chosenId = chosen?.id;
  const dragEdge = useCallback(
    (id: string, edge: Edge, frame: number, done: boolean) => {
      if (hit) {
        hitEdges.move(edge, frame, done);
        return;
      }
      if (id !== chosenId) setChosen(id);
      setStretch(null);
      moveEdge(id, edge, frame, done);
    },
    [hit, hitEdges.move, moveEdge, setChosen, chosenId],
  );
  const drawnTo = useCallback(
    (edge: Edge, frame: number) => snapped(snap, edge, frame, candidates, source, recording.sampleRate),
    [snap, candidates, source, recording.sampleRate],
  );
  const nudge = (edge: Edge, frames: number) => {
    if (subject) dragEdge(subject.id, edge, (edge === 'start' ? subject.startFrame : subject.endFrame) + frames, true);
  };
  // The table follows a split in hand when there is time for it: the pictures come first.
  const tableSlices = useDeferredValue(slices);
  const gestures = useGestures(view, marks, selection, desk.heard, stretch, setStretch);
  const [doMerge, doLock, doLetDie, doRemove] = [
    useStable(gestures.merge),
    useStable(gestures.lock),
    useStable(() => gestures.letDie()),
    useStable(gestures.remove),
  ];
  const many = useMemo(
    () => ({ merge: doMerge, lock: doLock, letDie: doLetDie, remove: doRemove }),
    [doMerge, doLock, doLetDie, doRemove],
  );
  const letDie = (overNext = false) =>
    hit ? hitEdges.move('end', gestures.endOf(hit, overNext), true) : gestures.letDie(overNext);
  const split = useStable((set: Partial<Split>, done: boolean) =>
    desk.change(set, done, stretch ? { startFrame: stretch.start, endFrame: stretch.end } : null),
  );
  const goToBare = (by: 1 | -1) => {
    const found = moves.bareFrom(by);
    if (!found) return;
    setChosen(slices.find((s) => s.startFrame >= found.start - 0.05 * recording.sampleRate)?.id ?? null);
    hear(Math.round(found.start), Math.round(found.end));
  };
  const setBookmark = useBookmark();
  const pad = view.cut?.pad;
  const laying = useLaying(view, slices, selection, stretch, heardById);
  const playOrStop = () => {
    const sound = soundNow();
    if (sound?.audition.playhead()) sound.audition.stop();
    else if (stretch) hear(stretch.start, stretch.end);
    else if (subject) hear(subject.startFrame, subject.endFrame, shown ? hit : undefined);
    else hear(0, recording.frames);
  };
  const addAtPlayhead = () => {
    const head = soundNow()?.audition.playhead()?.frame;
    if (stretch && head === undefined) {
      gestures.sliceStretch();
      return;
    }
    const span = spans.get();
    const middle = subject
      ? (subject.startFrame + subject.endFrame) / 2
      : span.start + (spans.width() * span.framesPerPixel) / 2;
    gestures.add(Math.round(head ?? middle));
  };
  const onFill = useStable(laying.fill);
  const onBare = useStable(() => goToBare(1));
  const onBookmark = useStable(() => setBookmark(recording, subject?.startFrame));
  const leaveHit = () => router.replace(`/slice/${recording.id}`);

  /** What is done to slices is not done while a hit's edges are shown and no slice can be seen. */
  const ofSlices = (act: () => void) => () => {
    if (!hit) act();
  };

  useSliceKeys({
    step,
    chooseAll,
    playOrStop,
    playFrom: () => hear(stretch?.start ?? subject?.startFrame ?? 0, recording.frames),
    playWhole: () => hear(0, recording.frames),
    toggleLoop: () => setLoop(!loop),
    nudge: (edge, ms) => nudge(edge, Math.round((ms / 1000) * recording.sampleRate)),
    nudgeFrames: nudge,
    lay: ofSlices(laying.lay),
    layOn: (position) => ofSlices(() => laying.layOn(position))(),
    add: ofSlices(addAtPlayhead),
    remove: ofSlices(gestures.remove),
    merge: ofSlices(gestures.merge),
    letDie,
    keep: ofSlices(gestures.keep),
    lock: ofSlices(gestures.lock),
    bookmark: onBookmark,
    goToBare,
    zoom,
    toggleTall: () => setTall((t) => !t),
    leave: () => {
      if (stretch) setStretch(null);
      else if (hit) leaveHit();
    },
  });
  useStatus(
    hit
      ? `${hit.name} · Space hear · Shift ← → start · Shift ↓ ↑ end · ; until it dies away · Esc back to the slices`
      : chosen
        ? `Slice ${index + 1} of ${slices.length}${ids.size > 1 ? `, ${ids.size} chosen` : ''} · Space hear · ← → next · Shift ← → start · Shift ↓ ↑ end · ; until it dies away · Enter to the next free pad`
        : `${slices.length} slices · click one or press → · double-click adds a mark · drag marks a stretch · wheel zooms`,
  );

  const onThreshold = (amplitude: number, done: boolean) =>
    split({ thresholdDb: Math.round((20 * Math.log10(amplitude) - 3) * 2) / 2 }, done);
  const loupe = (edge: Edge) =>
    subject &&
    rest && (
      <Loupe
        edge={edge}
        recording={recording}
        source={source}
        pictures={pictures}
        time={time}
        slice={subject}
        held={held}
        restFrame={edge === 'start' ? rest.startFrame : rest.endFrame}
        snap={snap}
        setSnap={setSnap}
        drawnTo={drawnTo}
        onMove={(frame, done) => dragEdge(subject.id, edge, frame, done)}
        onLetDie={() => letDie()}
      />
    );
  const loupes = subject ? (
    <>
      {loupe('start')}
      {loupe('end')}
    </>
  ) : (
    <p className="m-auto text-soft">
      {!recording.analysed && recording.unlistened !== null && (
        <>
          It was not listened to: {recording.unlistened}.{' '}
          <ListenAgain recordingId={recording.id} reason={recording.unlistened} />
        </>
      )}
      {recording.analysed
        ? 'Choose a slice to see its start and end magnified here.'
        : recording.unlistened === null &&
          `Listening for onsets, ${Math.floor(progress * 100)} % … the marks appear when all of it has been heard.`}
    </p>
  );
  const table = (
    <SliceTable
      recording={recording}
      slices={tableSlices}
      source={source}
      arrivals={arrivals}
      time={time}
      chosenId={chosen?.id ?? null}
      selected={ids}
      pad={pad}
      held={held}
      heard={heardById}
      listening={listens && (listened?.unheard ?? 1) > 0}
      onChoose={choose}
      many={many}
    />
  );
  return (
    <>
      <SliceTools
        view={view}
        desk={desk}
        sliceCount={slices.length}
        onSplit={split}
        inStretch={stretch !== null}
        onFill={onFill}
        fillCount={ids.size > 1 ? ids.size : null}
        bareCount={bare.length}
        onBare={onBare}
        bookmarkCount={bookmarks.length}
        onBookmark={onBookmark}
        loop={loop}
        setLoop={setLoop}
      />
      <div className="flex flex-none">
        <Overview
          recording={recording}
          source={source}
          arrivals={arrivals}
          spans={spans}
          pictures={pictures}
          strip={strip}
          bookmarks={bookmarks}
        />
        <ViewTools
          unit={unit}
          setUnit={setUnit}
          gain={gain}
          setGain={setGain}
          onZoom={zoom}
          tall={tall}
          setTall={setTall}
        />
      </div>
      {hit && (
        <p className="flex h-8 flex-none items-center gap-3 border-line border-b bg-selection px-4" role="note">
          <span>
            The hit <b>{hit.name}</b> on its recording
            {hit.kits.length > 0 ? `; every pad that plays it follows (${hit.kits.join(', ')})` : ''}.
          </span>
          {kit && hit.kits.length > 1 && hit.kits.includes(kit.kit.name) && <SharedHit view={kit} hit={hit} />}
          <Link className="quiet-button leading-[24px]" href={`/slice/${recording.id}`}>
            Back to the slices
          </Link>
        </p>
      )}
      <Stage
        recording={recording}
        source={source}
        arrivals={arrivals}
        pictures={pictures}
        slices={stageSlices}
        stored={shown ? NO_SLICES : view.slices}
        chosenId={subject?.id ?? null}
        selected={selected}
        time={time}
        marks={splitMarks}
        onThreshold={onThreshold}
        onDownbeat={(frame, done) => split({ downbeatFrame: Math.max(0, frame) }, done)}
        spans={spans}
        gain={gain}
        stretch={stretch}
        setStretch={setStretch}
        onChoose={choose}
        onAdd={(frame) => ofSlices(() => gestures.add(frame))()}
        onDragEdge={(id, edge, frame, done) => dragEdge(id, edge, drawnTo(edge, frame), done)}
        widthRef={stage}
        onSliceStretch={gestures.sliceStretch}
        onKeepStretch={chosen && stretch && stretch.end > chosen.startFrame ? gestures.keep : null}
        pad={pad}
        heard={heardById}
      />
      {!tall && <GrowHandle bench={bench} />}
      {!tall && !low && <div className="flex h-32 flex-none gap-2 bg-paper">{loupes}</div>}
      {!tall && (
        <Bench height={bench.height}>
          {low ? (
            <LowTabs
              loupes={<div className="flex min-h-0 min-w-0 flex-1 flex-col overflow-hidden">{loupes}</div>}
              slices={table}
            />
          ) : (
            table
          )}
        </Bench>
      )}
    </>
  );
}

const NO_SLICES: never[] = [];
