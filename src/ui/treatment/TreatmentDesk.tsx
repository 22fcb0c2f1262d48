'use client';

import { useMemo, useRef, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { isLayered } from '@/core/hit/key';
import { settledRoots } from '@/core/hit/root';
import { initialValues } from '@/core/parameter/values';
import { POINT, type Point } from '@/core/treatment/equaliser';
import { valuesOf } from '@/core/treatment/step';
import { settingsOf } from '@/core/voice/source';
import { useCommands } from '../data/commit';
import { Bench } from '../pads/Bench';
import { useSize } from '../parts/canvas';
import { pitch } from '../parts/figures';
import { useSpan, useSpanShown } from '../parts/use-span';
import { VoicePanel } from '../voice/VoicePanel';
import { VoiceShape } from '../voice/VoiceShape';
import { EdgeLoupes } from './EdgeLoupes';
import { Figures } from './Figures';
import { handlesOf } from './handles';
import { SoundView } from './SoundView';
import { StepEditor } from './StepEditor';
import { StepList } from './StepList';
import type { Subject } from './subject';
import { TreatedWave } from './TreatedWave';
import { TreatmentHead } from './TreatmentHead';
import { useGainCurve, useInspected, useUntreated, useWaveIn } from './use-inspected';
import { useSteps } from './use-steps';
import { useTreatmentKeys } from './use-treatment-keys';

interface TreatmentDeskProps {
  readonly subject: Subject;
  readonly recording: RecordingView;
  /** Where a layer's page goes back to. */
  readonly back?: string;
}

/** A sound large, before and after; its spectrum and pitch, its steps, and the settings of the one that is chosen. */
export function TreatmentDesk({ subject, recording, back }: TreatmentDeskProps) {
  const { steps, sound, hit } = subject;
  const edits = useSteps(subject);
  const { commit } = useCommands();
  const [chosenId, setChosenId] = useState<string | null>(steps[0]?.id ?? null);
  const [point, setPoint] = useState(0);
  const [showsEdges, setShowsEdges] = useState(Boolean(subject.hit?.voice));
  const step = steps.find((s) => s.id === chosenId) ?? steps[0];
  const untreated = useUntreated(sound);
  const isTreated = steps.some((s) => s.active);
  const after = useInspected(sound, recording);
  const before = useInspected(untreated, recording);
  const now = after.value;
  const was = before.value;
  const beforeFrames = was?.figures.frames ?? sound.endFrame - sound.startFrame;
  const afterFrames = now?.figures.frames ?? beforeFrames;
  const frames = Math.max(1, beforeFrames, afterFrames);

  const voice = useMemo(() => hit?.voice && settingsOf(hit.voice), [hit?.voice]);
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const spans = useSpan(box, frames);
  const span = useSpanShown(spans);
  const view = useMemo(
    () => ({
      columns: Math.round(size.width),
      start: span.start,
      end: span.start + Math.round(size.width) * span.framesPerPixel,
    }),
    [size.width, span],
  );
  const scene = {
    before: useWaveIn(untreated, recording, isTreated ? view : null),
    after: useWaveIn(sound, recording, view),
    curve: useGainCurve(sound, recording, step?.active ? step.id : null, view),
    ...{ span, afterFrames, beforeFrames, sampleRate: recording.sampleRate },
  };
  const handles = useMemo(
    () => (step?.active ? handlesOf(step, afterFrames, recording.sampleRate) : []),
    [step, afterFrames, recording.sampleRate],
  );

  const matchDb = now && was ? was.figures.lufs - now.figures.lufs : 0;
  const toggleEdges = () => setShowsEdges(hit !== null && !isLayered(hit) && !showsEdges);
  const hear = useTreatmentKeys({
    ...{ subject, untreated, recording, step, edits, matchDb, toggleEdges, spans, frames },
    onChoose: setChosenId,
  });
  const points =
    step?.processor === 'equaliser' ? (valuesOf(step) as unknown as { points: readonly Point[] }).points : null;
  const onPoints = (next: readonly Point[], said: string, done: boolean) => {
    if (!step) return;
    if (done) edits.set(step, said, { points: next });
    else edits.preview(step, { points: next });
  };
  const roots = settledRoots(sound);
  const setRoot = (rootHz: number | null) => {
    if (!hit) return;
    const said = rootHz === null ? 'dropped the root' : `set the root to ${pitch(rootHz)}`;
    const { id, rev, name } = hit;
    void commit(`${said} of ${name}`, [{ op: 'update', doc: 'hit', id, rev, set: { rootHz } }]);
  };
  return (
    <>
      <TreatmentHead
        {...{ subject, recording, matchDb, showsEdges, back }}
        isBefore={hear.isBefore}
        onSwap={hear.swap}
        onEdges={toggleEdges}
      />
      <TreatedWave
        {...{ box, size, scene, handles, spans, frames }}
        name={subject.name}
        onHandle={(values, label, done) =>
          step && (done ? edits.set(step, label, values) : edits.preview(step, values))
        }
      >
        {after.error && (
          <p role="alert" className="absolute inset-x-0 top-10 text-center text-madder">
            The sound could not be rendered: {after.error}
          </p>
        )}
        {showsEdges && voice && <VoiceShape voice={voice} {...size} {...span} sampleRate={recording.sampleRate} />}
        {!now && !after.error && <p className="absolute inset-x-0 top-10 text-center text-soft">Rendering …</p>}
      </TreatedWave>
      <Figures
        now={now?.figures ?? null}
        was={isTreated ? (was?.figures ?? null) : null}
        roots={roots}
        onFade={() => setChosenId(edits.add('fades', { outMs: 10 }))}
        sampleRate={recording.sampleRate}
      />
      <div className="flex h-[clamp(190px,28vh,222px)] flex-none bg-sheet">
        {showsEdges && hit?.voice ? (
          <VoicePanel hit={hit} voice={hit.voice} />
        ) : showsEdges && hit && !isLayered(hit) ? (
          <EdgeLoupes hitId={hit.id} recording={recording} />
        ) : (
          <>
            <div className="min-w-0 flex-1 border-line border-r p-2">
              <SoundView
                hit={sound}
                {...{ untreated, recording, was, now, points, point, onPoints }}
                seconds={frames / recording.sampleRate}
                onPoint={setPoint}
                onRoot={hit ? setRoot : null}
                pitchFirst={step?.processor === 'tune'}
              />
            </div>
            <StepList
              known={{
                rootHz: roots?.now ?? now?.figures.rootHz ?? null,
                lengthMs: (1000 * afterFrames) / recording.sampleRate,
              }}
              {...{ subject, recording, edits }}
              chosenId={step?.id ?? null}
              onChoose={setChosenId}
            />
            {step && (
              <StepEditor
                {...{ subject, step, recording, edits, point }}
                rootHz={roots?.was ?? was?.figures.rootHz ?? null}
                cancelled={was?.figures.cancelled ?? []}
                inSight={() => {
                  const { start, framesPerPixel } = spans.get();
                  const from = sound.startFrame + start;
                  return { start: from, end: Math.min(sound.endFrame, from + spans.width() * framesPerPixel) };
                }}
                onPoint={setPoint}
                onHearBand={() => points?.[point] && hear.band(step, bandOf(points[point] as Point))}
              />
            )}
          </>
        )}
      </div>
      <Bench />
    </>
  );
}

/** The part of the spectrum that a point works on, alone. */
function bandOf(point: Point): Point {
  return {
    ...initialValues(POINT),
    kind: 'band',
    frequencyHz: point.frequencyHz,
    widthOct: Math.max(0.3, point.widthOct),
  };
}
