'use client';

import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useMemo, useRef, useState } from 'react';
import { toast } from 'sonner';
import type { CutView, RecordingView } from '@/contract/views';
import { PAD_COUNT } from '@/core/kit/model';
import { exactGrid } from '@/core/onset/grid';
import {
  addMark,
  addStretch,
  changesNothing,
  keepUpTo,
  lockMarks,
  type Mark,
  type MarkChanges,
  mergeMarks,
  removeMarks,
  untilItDiesAway,
} from '@/core/onset/marks';
import { diesAwayAt } from '@/core/onset/silence';
import type { Split } from '@/core/onset/split';
import { applyToKit } from '../data/apply';
import { useCommands } from '../data/commit';
import { keys, useAnalysisProgress, useHits } from '../data/queries';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { fillPads } from '../pads/laying';
import { leaveControl } from '../parts/focus';
import { useWaveSource } from '../parts/MiniWave';
import { useBookmark } from '../parts/use-bookmark';
import { useStatus } from '../shell/status';
import { soundNow } from '../sound/sound';
import { GrowHandle, useBenchHeight } from './GrowHandle';
import { markedStretchOf, stretchOf } from './Handles';
import { Loupe } from './Loupe';
import { Overview } from './Overview';
import { SliceTable } from './SliceTable';
import { SliceTools } from './SliceTools';
import { Stage } from './Stage';
import { bareStretches, stripOf } from './strip';
import type { Time, TimeUnit } from './time';
import { type Edge, snapped, useHitEdges, useSliceEdges, useSnap } from './use-edges';
import { useHearing } from './use-hearing';
import { useMarks } from './use-marks';
import { type Manner, useSelection } from './use-selection';
import { useSliceKeys } from './use-slice-keys';
import { useSpan } from './use-span';
import { useSplit } from './use-split';
import { ViewTools, type ZoomTo } from './ViewTools';
import { fitAll, fitStretch, type MarkedStretch, reveal, zoomAt } from './view';

/** Where a recording is cut: the colonnade and the wave, the loupes, and the table beside the pads. */
export function Desk({ view, hitId }: { view: CutView; hitId: string | null }) {
  const { recording, candidates } = view;
  const router = useRouter();
  const client = useQueryClient();
  const { commit } = useCommands();
  const kit = useKitDesk();
  const { source, arrivals } = useWaveSource(recording);
  const marks = useMarks(view);
  const { slices, store } = marks;
  const desk = useSplit(view, marks);
  const { chosen, index, ids, setChosen, chooseAll } = useSelection(slices);
  const [stretch, setStretch] = useState<MarkedStretch | null>(null);
  const [gain, setGain] = useState(1);
  const [unit, setUnit] = useState<TimeUnit>('seconds');
  const [snap, setSnap] = useSnap();
  const [tall, setTall] = useState(false);
  const bench = useBenchHeight();
  const stage = useRef<HTMLDivElement>(null);
  const { span, setSpan, width } = useSpan(stage, recording.frames);
  const { hear, loop, setLoop } = useHearing(recording);
  const moveEdge = useSliceEdges(view.slices, marks, recording.frames);
  const hits = useHits(hitId !== null);
  const hit = hits.data?.find((h) => h.id === hitId && h.recordingId === recording.id);
  const hitEdges = useHitEdges(hit, recording);
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
  const rest = hit ?? view.slices.find((s) => s.id === chosen?.id);

  const choose = useCallback(
    (id: string | null, how: Manner = 'alone') => {
      setChosen(id, how);
      setStretch(null);
      const slice = slices.find((s) => s.id === id);
      if (!slice) {
        if (id === null) soundNow()?.stopAudition();
        return;
      }
      setSpan((s) => reveal(s, slice.startFrame, slice.endFrame, width(), recording.frames));
      if (how === 'alone') hear(slice.startFrame, slice.endFrame);
    },
    [slices, hear, setSpan, setChosen, width, recording.frames],
  );
  const step = (by: number, how: Manner = 'alone') => {
    leaveControl();
    const next = slices[index < 0 ? (by > 0 ? 0 : slices.length - 1) : index + by];
    if (next) choose(next.id, how);
  };

  const dragEdge = useCallback(
    (id: string, edge: Edge, frame: number, done: boolean) => {
      if (hit) {
        hitEdges.move(edge, frame, done);
        return;
      }
      setChosen(id);
      setStretch(null);
      moveEdge(id, edge, frame, done);
    },
    [hit, hitEdges.move, moveEdge, setChosen],
  );
  const drawnTo = useCallback(
    (edge: Edge, frame: number) => snapped(snap, edge, frame, candidates, source, recording.sampleRate),
    [snap, candidates, source, recording.sampleRate],
  );
  const nudge = (edge: Edge, frames: number) => {
    if (subject) dragEdge(subject.id, edge, (edge === 'start' ? subject.startFrame : subject.endFrame) + frames, true);
  };
  /** Stores what a gesture did to the marks; says so where there was nothing to do. */
  const cut = (label: string, changes: MarkChanges, otherwise: string): string[] => {
    if (!changesNothing(changes)) return store(label, changes);
    toast(otherwise);
    return [];
  };
  const add = (frame: number) => {
    const natural = candidates.find((c) => Math.abs(c.frame - frame) < 0.01 * recording.sampleRate)?.decayEnd;
    const made = addMark(view.slices, frame, recording.frames, natural);
    const [id] = cut('added a mark', made, 'There is a mark at this place already.');
    if (id) setChosen(id);
  };
  const remove = () => {
    if (hit || !chosen) return;
    const left = slices.filter((s) => !ids.has(s.id));
    const next = left.find((s) => s.startFrame >= chosen.startFrame) ?? left.at(-1);
    const label = ids.size === 1 ? 'removed a mark' : `removed ${ids.size} marks`;
    cut(label, removeMarks(view.slices, [...ids]), 'There is no mark to remove.');
    setChosen(next?.id ?? null);
  };
  const merge = () => {
    const next = slices[index + 1];
    const wanted = ids.size > 1 ? [...ids] : chosen && next ? [chosen.id, next.id] : [];
    cut(
      `merged ${wanted.length} slices`,
      mergeMarks(view.slices, wanted),
      'There is no slice after this one to merge with.',
    );
    if (chosen) setChosen(slices.find((s) => wanted.includes(s.id))?.id ?? null);
  };
  const endOf = (mark: Pick<Mark, 'startFrame'>) =>
    diesAwayAt(mark.startFrame, candidates, desk.heard.levels, recording.sampleRate, recording.frames);
  const letDie = () => {
    if (hit) {
      hitEdges.move('end', endOf(hit), true);
      return;
    }
    const changes = untilItDiesAway(view.slices, [...ids], endOf, recording.frames);
    cut('let sounds end where they die away', changes, 'The sound ends where it dies away already.');
  };
  const keep = () => {
    if (!chosen || !stretch) {
      toast('Mark the sound to keep by dragging on the wave; the chosen slice then runs to its end.');
      return;
    }
    cut(
      'kept sound after a slice',
      keepUpTo(view.slices, chosen.id, stretch.end, recording.frames),
      'The marked stretch ends before the slice does.',
    );
    setStretch(null);
  };
  const lock = () => {
    const locked = slices.some((s) => ids.has(s.id) && !s.locked);
    cut(
      locked ? 'locked slices' : 'unlocked slices',
      lockMarks(view.slices, [...ids], locked),
      'Choose a slice first.',
    );
  };
  const split = (set: Partial<Split>, done: boolean) =>
    desk.change(set, done, stretch ? { startFrame: stretch.start, endFrame: stretch.end } : null);
  const goToBare = (by: 1 | -1) => {
    const rate = recording.sampleRate;
    const centre = (span.start + (width() * span.framesPerPixel) / 2) / rate;
    const middle = (s: (typeof bare)[number]) => (s.start + s.end) / 2;
    const next =
      by > 0
        ? (bare.find((s) => middle(s) > centre + 0.05) ?? bare[0])
        : (bare.findLast((s) => middle(s) < centre - 0.05) ?? bare.at(-1));
    if (!next) {
      toast(recording.analysed ? 'Nowhere does struck sound stand alone here.' : 'Still listening.');
      return;
    }
    setSpan(() => fitStretch(next.start * rate, next.end * rate, width(), recording.frames));
    setChosen(slices.find((s) => s.startFrame >= next.start * rate - 0.05 * rate)?.id ?? null);
    hear(Math.round(next.start * rate), Math.round(next.end * rate));
  };
  const setBookmark = useBookmark();
  const pad = view.cut?.pad;
  const lay = () => {
    const marked = stretch && markedStretchOf(recording, stretch, pad);
    const wanted = marked ?? (chosen ? stretchOf(recording, chosen, index + 1, pad) : null);
    if (wanted) kit.lay(wanted, null, 'next');
  };
  const layOn = (position: number) => {
    const marked = stretch && markedStretchOf(recording, stretch, pad);
    const wanted = marked ?? (chosen ? stretchOf(recording, chosen, index + 1, pad) : null);
    if (!wanted) {
      toast('Choose a slice first, or mark a stretch; Shift and a pad’s key then lay it there.');
      return;
    }
    const there = kit.view?.pads.find((p) => p.position === position);
    if (kit.lay(wanted, position, 'instead') !== null && there)
      toast(`Laid instead of ${there.name}; Ctrl Z brings it back.`);
  };
  const fill = () => {
    if (!kit.view) {
      toast('Make a kit first: there is none to fill.');
      return;
    }
    const recordings = client.getQueryData<RecordingView[]>(keys.recordings) ?? [recording];
    const free = PAD_COUNT - kit.view.pads.length;
    const stretches = slices.flatMap((s, i) =>
      ids.size > 1 && !ids.has(s.id) ? [] : [stretchOf(recording, s, i + 1, pad)],
    );
    const changes = fillPads(
      kit.view,
      stretches,
      () => crypto.randomUUID(),
      (v, c) => applyToKit(v, c, recordings),
    );
    if (changes.length === 0) {
      toast('All 32 pads have a sound. Make a new kit to fill.');
      return;
    }
    void commit(`filled the pads from ${recording.title}`, changes);
    if (stretches.length > free)
      toast(`${free} slices laid; ${stretches.length - free} more did not fit on the 32 pads.`);
  };
  const zoom = (what: ZoomTo) => {
    const w = width();
    const total = recording.frames;
    const centre = subject ? Math.max(0, Math.min(w, (subject.startFrame - span.start) / span.framesPerPixel)) : w / 2;
    const wanted = stretch ?? (subject && { start: subject.startFrame, end: subject.endFrame });
    if (what === 'fit') setSpan(() => fitAll(w, total));
    else if (what === 'slice') wanted && setSpan(() => fitStretch(wanted.start, wanted.end, w, total));
    else setSpan((s) => zoomAt(s, what === 'in' ? 0.5 : 2, centre, w, total));
  };
  const playOrStop = () => {
    const sound = soundNow();
    if (sound?.playhead()) sound.stopAudition();
    else if (stretch) hear(stretch.start, stretch.end);
    else if (subject) hear(subject.startFrame, subject.endFrame);
    else hear(0, recording.frames);
  };
  const addAtPlayhead = () => {
    const head = soundNow()?.playhead()?.frame;
    if (stretch && head === undefined) {
      const made = addStretch({ startFrame: stretch.start, endFrame: stretch.end }, recording.frames);
      const [id] = cut('made a slice of a stretch', made, 'The stretch is too short for a slice.');
      if (id) choose(id);
      return;
    }
    const middle = subject
      ? (subject.startFrame + subject.endFrame) / 2
      : span.start + (width() * span.framesPerPixel) / 2;
    add(Math.round(head ?? middle));
  };
  const leaveHit = () => router.replace(`/slice/${recording.id}`);

  useSliceKeys({
    step,
    chooseAll,
    playOrStop,
    playFrom: () => hear(stretch?.start ?? subject?.startFrame ?? 0, recording.frames),
    playWhole: () => hear(0, recording.frames),
    toggleLoop: () => setLoop(!loop),
    nudge: (edge, ms) => nudge(edge, Math.round((ms / 1000) * recording.sampleRate)),
    nudgeFrames: nudge,
    lay,
    layOn,
    add: addAtPlayhead,
    remove,
    merge,
    letDie,
    keep,
    lock,
    bookmark: () => setBookmark(recording, subject?.startFrame),
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
        arrivals={arrivals}
        time={time}
        startFrame={subject.startFrame}
        endFrame={subject.endFrame}
        restFrame={edge === 'start' ? rest.startFrame : rest.endFrame}
        snap={snap}
        setSnap={setSnap}
        drawnTo={drawnTo}
        onMove={(frame, done) => dragEdge(subject.id, edge, frame, done)}
        onLetDie={letDie}
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
        onFill={fill}
        fillCount={ids.size > 1 ? ids.size : null}
        bareCount={bare.length}
        onBare={() => goToBare(1)}
        bookmarkCount={bookmarks.length}
        onBookmark={() => setBookmark(recording, subject?.startFrame)}
        loop={loop}
        setLoop={setLoop}
      />
      <div className="flex flex-none">
        <Overview
          recording={recording}
          source={source}
          arrivals={arrivals}
          span={span}
          setSpan={setSpan}
          stageWidth={width()}
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
          <Link className="quiet-button leading-[24px]" href={`/slice/${recording.id}`}>
            Back to the slices
          </Link>
        </p>
      )}
      <Stage
        recording={recording}
        source={source}
        arrivals={arrivals}
        slices={stageSlices}
        stored={shown ? NO_SLICES : view.slices}
        chosenId={subject?.id ?? null}
        selected={selected}
        time={time}
        marks={splitMarks}
        onThreshold={onThreshold}
        onDownbeat={(frame, done) => split({ downbeatFrame: Math.max(0, frame) }, done)}
        span={span}
        setSpan={setSpan}
        gain={gain}
        stretch={stretch}
        setStretch={setStretch}
        onChoose={choose}
        onAdd={add}
        onDragEdge={(id, edge, frame, done) => dragEdge(id, edge, drawnTo(edge, frame), done)}
        widthRef={stage}
        pad={pad}
      />
      {!tall && <GrowHandle bench={bench} />}
      {!tall && (
        <div className="flex h-32 flex-none gap-2 bg-paper">
          {subject ? (
            <>
              {loupe('start')}
              {loupe('end')}
            </>
          ) : (
            <p className="m-auto text-soft">
              {recording.analysed
                ? 'Choose a slice to see its start and end magnified here.'
                : `Listening for onsets, ${Math.floor(progress * 100)} % … the marks appear when all of it has been heard.`}
            </p>
          )}
        </div>
      )}
      {!tall && (
        <Bench height={bench.height}>
          <SliceTable
            recording={recording}
            slices={slices}
            source={source}
            time={time}
            chosenId={chosen?.id ?? null}
            selected={ids}
            pad={pad}
            onChoose={choose}
          />
        </Bench>
      )}
    </>
  );
}

const NO_SLICES: never[] = [];
