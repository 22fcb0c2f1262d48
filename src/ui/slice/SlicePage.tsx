'use client';

import { useQueryClient } from '@tanstack/react-query';
import Link from 'next/link';
import { useCallback, useEffect, useMemo, useRef, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { toast } from 'sonner';
import type { CutView, RecordingView } from '@/contract/views';
import { PAD_COUNT } from '@/core/kit/model';
import {
  addMark,
  type MarkChanges,
  marksFromFile,
  moveEnd,
  moveStart,
  removeMark,
  splitByAttack,
} from '@/core/onset/marks';
import { type AttackSplit, DEFAULT_SPLIT } from '@/core/onset/select';
import { applyToKit } from '../data/apply';
import { useCommands } from '../data/commit';
import { keys, useAnalysisProgress, useCut } from '../data/queries';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { fillPads } from '../pads/laying';
import { leaveControl } from '../parts/focus';
import { useWaveSource } from '../parts/MiniWave';
import { useBookmark } from '../parts/use-bookmark';
import { useStatus } from '../shell/status';
import { openSound, soundNow } from '../sound/sound';
import { markedStretchOf, stretchOf } from './Handles';
import { Loupe } from './Loupe';
import { Overview } from './Overview';
import { SliceTable } from './SliceTable';
import { SliceTools } from './SliceTools';
import { Stage } from './Stage';
import { bareStretches, stripOf } from './strip';
import { useMarks } from './use-marks';
import { fitAll, fitStretch, type MarkedStretch, reveal, type Span, zoomAt } from './view';

const on = { preventDefault: true } as const;

/** Recordings up to this long are brought into sample memory whole, so that every slice answers at once. */
const KEEP_WHOLE_SECONDS = 60;

export function SlicePage({ recordingId }: { recordingId: string }) {
  const { data, error, refetch } = useCut(recordingId);
  useEffect(() => sessionStorage.setItem('undercroft.slice', recordingId), [recordingId]);
  if (error) {
    return (
      <div className="m-auto text-center">
        <p className="mb-3 text-madder">The recording could not be opened: {error.message}</p>
        <button type="button" className="quiet-button" onClick={() => void refetch()}>
          Try again
        </button>{' '}
        <Link className="quiet-button inline-block leading-[26px]" href="/recordings">
          To the recordings
        </Link>
      </div>
    );
  }
  if (!data) return <p className="m-auto text-soft">Opening the recording …</p>;
  return <Desk view={data} />;
}

function Desk({ view }: { view: CutView }) {
  const { recording } = view;
  const client = useQueryClient();
  const { commit } = useCommands();
  const kit = useKitDesk();
  const { source, arrivals } = useWaveSource(recording);
  const { slices, setPreview, store } = useMarks(view);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const [stretch, setStretch] = useState<MarkedStretch | null>(null);
  const [heldSplit, setHeldSplit] = useState<AttackSplit | null>(null);
  const [gain, setGain] = useState(1);
  const [tall, setTall] = useState(false);
  const stage = useRef<HTMLDivElement>(null);
  const { span, setSpan, width } = useSpan(stage, recording);
  const index = slices.findIndex((s) => s.id === chosenId);
  const chosen = slices[index];
  const rest = view.slices.find((s) => s.id === chosenId);
  const split = heldSplit ?? view.cut ?? DEFAULT_SPLIT;
  const progress = useAnalysisProgress(recording.id);
  const { overview, said, bookmarks } = view.story;
  const strip = useMemo(() => stripOf(overview), [overview]);
  const bare = useMemo(() => bareStretches(strip.stretches), [strip]);
  const fileMarks = said?.marks ?? [];

  useEffect(() => {
    if (recording.frames <= KEEP_WHOLE_SECONDS * recording.sampleRate) {
      openSound()
        .then((sound) => sound.ensure(recording, 0, recording.frames))
        .catch(() => {
          // Said when something is to be heard.
        });
    }
    return () => soundNow()?.stopAudition();
  }, [recording]);

  const hear = useCallback(
    (from: number, to: number) => {
      const play = async () => (soundNow() ?? (await openSound())).audition(recording, from, to);
      play().catch((e: Error) => toast.error(e.message));
    },
    [recording],
  );
  const choose = useCallback(
    (id: string | null) => {
      setChosenId(id);
      setStretch(null);
      const slice = slices.find((s) => s.id === id);
      if (!slice) {
        soundNow()?.stopAudition();
        return;
      }
      setSpan((s) => reveal(s, slice.startFrame, slice.endFrame, width(), recording.frames));
      hear(slice.startFrame, slice.endFrame);
    },
    [slices, hear, setSpan, width, recording.frames],
  );
  const step = (by: number) => {
    leaveControl();
    const next = slices[index < 0 ? (by > 0 ? 0 : slices.length - 1) : index + by];
    if (next) choose(next.id);
  };

  const dragEdge = useCallback(
    (id: string, edge: 'start' | 'end', frame: number, done: boolean) => {
      const changes =
        edge === 'start' ? moveStart(view.slices, id, frame) : moveEnd(view.slices, id, frame, recording.frames);
      const nothing = changes.update.length === 0;
      setChosenId(id);
      setStretch(null);
      if (!done || nothing) setPreview(done ? null : changes);
      else store(edge === 'start' ? 'moved a mark' : 'moved an end', changes);
    },
    [view.slices, recording.frames, setPreview, store],
  );
  const nudge = (edge: 'start' | 'end', ms: number) => {
    if (!chosen) return;
    dragEdge(
      chosen.id,
      edge,
      (edge === 'start' ? chosen.startFrame : chosen.endFrame) + Math.round((ms / 1000) * recording.sampleRate),
      true,
    );
  };
  const add = (frame: number) => {
    const natural = view.candidates.find((c) => Math.abs(c.frame - frame) < 0.01 * recording.sampleRate)?.decayEnd;
    const changes = addMark(view.slices, frame, recording.frames, natural);
    if (changes.create.length === 0) toast('There is a mark at this place already.');
    else setChosenId(store('added a mark', changes)[0] ?? null);
  };
  const remove = () => {
    if (!chosen) return;
    const next = slices[index + 1] ?? slices[index - 1];
    store('removed a mark', removeMark(view.slices, chosen.id));
    setChosenId(next?.id ?? null);
  };
  const resplit = (wanted: AttackSplit, done: boolean) => {
    const changes: MarkChanges = splitByAttack(
      view.slices,
      view.candidates,
      wanted,
      recording.sampleRate,
      recording.frames,
    );
    if (!done) {
      setHeldSplit(wanted);
      setPreview(changes);
      return;
    }
    setHeldSplit(null);
    if (!view.cut) return;
    const { id, rev } = view.cut;
    const set = { sensitivity: wanted.sensitivity, spacingMs: wanted.spacingMs };
    if (set.sensitivity === view.cut.sensitivity && set.spacingMs === view.cut.spacingMs) setPreview(null);
    else
      store(`split at sensitivity ${Math.round(wanted.sensitivity * 100)} %`, changes, [
        { op: 'update', doc: 'cut', id, rev, set },
      ]);
  };
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
    hear(Math.round(next.start * rate), Math.round(next.end * rate));
  };
  const setBookmark = useBookmark();
  const bookmark = () => setBookmark(recording, chosen?.startFrame);
  const layFileMarks = () => {
    const changes = marksFromFile(view.slices, fileMarks, view.candidates, recording.frames);
    if (changes.create.length === 0) toast("Slices start at all of the file's marks already.");
    else store(`laid ${changes.create.length} slices at the file's marks`, changes);
  };
  const lay = () => {
    const marked = stretch && markedStretchOf(recording, stretch);
    const wanted = marked ?? (chosen ? stretchOf(recording, slices, chosen) : null);
    if (wanted) kit.lay(wanted, null, 'next');
  };
  const fill = () => {
    if (!kit.view) {
      toast('Make a kit first: there is none to fill.');
      return;
    }
    const recordings = client.getQueryData<RecordingView[]>(keys.recordings) ?? [recording];
    const free = PAD_COUNT - kit.view.pads.length;
    const stretches = slices.map((s) => stretchOf(recording, slices, s));
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
  const zoom = (what: 'in' | 'out' | 'fit' | 'slice') => {
    const w = width();
    const total = recording.frames;
    const centre = chosen ? Math.max(0, Math.min(w, (chosen.startFrame - span.start) / span.framesPerPixel)) : w / 2;
    const wanted = stretch ? [stretch.start, stretch.end] : chosen ? [chosen.startFrame, chosen.endFrame] : null;
    if (what === 'fit') setSpan(() => fitAll(w, total));
    else if (what === 'slice') wanted && setSpan(() => fitStretch(wanted[0] as number, wanted[1] as number, w, total));
    else setSpan((s) => zoomAt(s, what === 'in' ? 0.5 : 2, centre, w, total));
  };
  const playOrStop = () => {
    const sound = soundNow();
    if (sound?.playhead()) sound.stopAudition();
    else if (stretch) hear(stretch.start, stretch.end);
    else if (chosen) hear(chosen.startFrame, chosen.endFrame);
    else hear(0, recording.frames);
  };
  const addAtPlayhead = () => {
    const head = soundNow()?.playhead()?.frame;
    add(
      Math.round(
        head ?? (chosen ? (chosen.startFrame + chosen.endFrame) / 2 : span.start + (width() * span.framesPerPixel) / 2),
      ),
    );
  };

  useHotkeys('left', () => step(-1), on);
  useHotkeys('right', () => step(1), on);
  useHotkeys('space', playOrStop, on);
  useHotkeys('shift+space', () => hear(stretch?.start ?? chosen?.startFrame ?? 0, recording.frames), on);
  useHotkeys('shift+left', () => nudge('start', -1), on);
  useHotkeys('shift+right', () => nudge('start', 1), on);
  useHotkeys('shift+down', () => nudge('end', -1), on);
  useHotkeys('shift+up', () => nudge('end', 1), on);
  useHotkeys('enter', lay, {
    ignoreEventWhen: (e) => (e.target as HTMLElement).closest('button, a, [role=menu], [role=dialog]') !== null,
  });
  useHotkeys('insert, period', addAtPlayhead, on);
  useHotkeys('delete, backspace', remove, on);
  useHotkeys('quote', bookmark, on);
  useHotkeys('f8', () => goToBare(1), on);
  useHotkeys('shift+f8', () => goToBare(-1), on);
  useHotkeys('equal', () => zoom('in'), on);
  useHotkeys('minus', () => zoom('out'), on);
  useHotkeys('bracketleft', () => zoom('slice'), on);
  useHotkeys('bracketright', () => zoom('fit'), on);
  useHotkeys('backquote', () => setTall((t) => !t), on);
  useHotkeys('escape', () => setStretch(null));
  useStatus(
    chosen
      ? `Slice ${index + 1} of ${slices.length} · Space hear · ← → next · Shift ← → start · Shift ↓ ↑ end · Enter to the next free pad · Delete removes the mark`
      : `${slices.length} slices · click one or press → · double-click adds a mark · drag marks a stretch · wheel zooms`,
  );

  const marksEdge = (edge: 'start' | 'end') => (frame: number, done: boolean) =>
    chosen && dragEdge(chosen.id, edge, frame, done);
  return (
    <>
      <SliceTools
        recording={recording}
        split={split}
        sliceCount={slices.length}
        onSplit={resplit}
        onFill={fill}
        gain={gain}
        setGain={setGain}
        onZoom={zoom}
        bareCount={bare.length}
        onBare={() => goToBare(1)}
        fileMarkCount={fileMarks.length}
        onFileMarks={layFileMarks}
        bookmarkCount={bookmarks.length}
        onBookmark={bookmark}
        tall={tall}
        setTall={setTall}
      />
      <Overview
        recording={recording}
        source={source}
        arrivals={arrivals}
        span={span}
        setSpan={setSpan}
        stageWidth={width()}
        strip={strip}
        bookmarks={view.story.bookmarks}
      />
      <Stage
        recording={recording}
        source={source}
        arrivals={arrivals}
        slices={slices}
        chosenId={chosenId}
        span={span}
        setSpan={setSpan}
        gain={gain}
        stretch={stretch}
        setStretch={setStretch}
        onChoose={choose}
        onAdd={add}
        onDragEdge={dragEdge}
        widthRef={stage}
      />
      {!tall && (
        <div className="flex h-32 flex-none gap-2 border-t border-line bg-paper">
          {chosen && rest ? (
            <>
              <Loupe
                edge="start"
                recording={recording}
                source={source}
                arrivals={arrivals}
                startFrame={chosen.startFrame}
                endFrame={chosen.endFrame}
                restFrame={rest.startFrame}
                onMove={marksEdge('start')}
              />
              <Loupe
                edge="end"
                recording={recording}
                source={source}
                arrivals={arrivals}
                startFrame={chosen.startFrame}
                endFrame={chosen.endFrame}
                restFrame={rest.endFrame}
                onMove={marksEdge('end')}
              />
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
        <Bench>
          <SliceTable recording={recording} slices={slices} source={source} chosenId={chosenId} onChoose={choose} />
        </Bench>
      )}
    </>
  );
}

/** The span that is shown; all of the recording until the person zooms. */
function useSpan(stage: React.RefObject<HTMLDivElement | null>, recording: RecordingView) {
  const [span, setSpan] = useState<Span>({ start: 0, framesPerPixel: recording.frames / 1280 });
  const width = useCallback(() => stage.current?.clientWidth ?? 1280, [stage]);
  useEffect(() => setSpan(fitAll(width(), recording.frames)), [width, recording.frames]);
  return { span, setSpan, width };
}
