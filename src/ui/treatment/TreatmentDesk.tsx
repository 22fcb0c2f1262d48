'use client';

import Link from 'next/link';
import { useRef, useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { initialValues } from '@/core/parameter/values';

import { POINT, type Point } from '@/core/treatment/equaliser';
import { valuesOf } from '@/core/treatment/step';
import { drawTreated } from '@/picture/treated';
import { Bench } from '../pads/Bench';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { beginDrawing, useDrawing, usePalette, useSize } from '../parts/canvas';
import { decibels, length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { tell } from '../parts/notice';
import { copySteps } from './chains';
import { EqualiserView } from './EqualiserView';
import { Figures } from './Figures';
import { PrintButton } from './PrintButton';
import { RecipeMenu } from './RecipeMenu';
import { StepEditor } from './StepEditor';
import { StepList } from './StepList';
import { type Inspection, useGainCurve, useInspected, useUntreated } from './use-inspected';
import { useSteps } from './use-steps';
import { useTreatmentKeys } from './use-treatment-keys';

/** A hit's sound large, before and after; its spectrum, its steps, and the settings of the one that is chosen. */
export function TreatmentDesk({ hit, recording }: { hit: HitView; recording: RecordingView }) {
  const edits = useSteps(hit);
  const { steps } = hit;
  const [chosenId, setChosenId] = useState<string | null>(steps[0]?.id ?? null);
  const [point, setPoint] = useState(0);
  const step = steps.find((s) => s.id === chosenId) ?? steps[0];
  const box = useRef<HTMLDivElement>(null);
  const size = useSize(box);
  const { sampleRate } = recording;
  const untreated = useUntreated(hit);
  // Both waves lie on one time axis, so each gets the columns its own length takes.
  const beforeS = (hit.endFrame - hit.startFrame) / sampleRate;
  const columns = Math.round(size.width);
  const after = useInspected(hit, recording, columns);
  const before = useInspected(untreated, recording, columns);
  const now = inspected(after);
  const was = inspected(before);
  const afterS = now ? now.figures.frames / sampleRate : beforeS;
  const seconds = Math.max(0.01, beforeS, afterS);
  const curve = useGainCurve(hit, recording, step?.id ?? null, columns);
  const kit = useKitDesk();
  const isTreated = steps.some((s) => s.active);
  const matchDb = now && was ? was.figures.lufs - now.figures.lufs : 0;
  const hear = useTreatmentKeys({ hit, untreated, recording, steps, step, edits, matchDb, onChoose: setChosenId });
  const points =
    step?.processor === 'equaliser' ? (valuesOf(step) as unknown as { points: readonly Point[] }).points : null;
  const onPoints = (next: readonly Point[], said: string, done: boolean) => {
    if (!step) return;
    if (done) edits.set(step, said, { points: next });
    else edits.preview(step, { points: next });
  };
  return (
    <>
      <div className="flex h-10 flex-none items-center gap-3 border-line border-b bg-sheet px-4">
        <Link className="text-verdigris hover:underline" href={`/hits?hit=${hit.id}`}>
          ‹ Hits
        </Link>
        <Glyph family={hit.family} />
        <h1 className="truncate font-semibold">{hit.name}</h1>
        <span className="figure truncate text-[12px] text-soft">
          {recording.title} at {(hit.startFrame / sampleRate).toFixed(3)} s · {length(beforeS)}
        </span>
        <span className="ml-auto" />
        <button
          type="button"
          className="quiet-button whitespace-nowrap"
          aria-pressed={hear.isBefore}
          title="Hear it as it was, at the loudness it has now ( / )"
          disabled={!isTreated}
          onClick={hear.swap}
        >
          {hear.isBefore ? 'Before' : 'After'}
          {isTreated && (
            <span className="figure text-soft">
              {' '}
              matched {matchDb > 0 ? '+' : ''}
              {decibels(matchDb)}
            </span>
          )}
        </button>
        <RecipeMenu hits={[hit]} label="Recipe …" />
        <button
          type="button"
          className="quiet-button whitespace-nowrap"
          disabled={steps.length === 0}
          title="To add them to other hits, by “Treat …” on Hits or by “Recipe …” here"
          onClick={() => {
            copySteps(hit);
            tell(`${steps.length} steps copied; “Treat …” on Hits adds them to the hits chosen there.`);
          }}
        >
          Copy steps
        </button>
        <PrintButton hit={hit} />
        <Link className="quiet-button leading-[26px]" href={`/slice/${recording.id}?hit=${hit.id}`}>
          Edges
        </Link>
        <button
          type="button"
          className="next-button"
          title="To the next free pad (Enter)"
          onClick={() => kit.lay(stretchOfHit(hit, recording), null, 'next')}
        >
          To a pad
        </button>
      </div>
      <div ref={box} className="relative min-h-0 flex-1 bg-sheet" data-testid="treated-wave">
        <Wave
          name={hit.name}
          size={size}
          scene={{
            before: isTreated && was ? spread(was.pairs, beforeS / seconds) : null,
            after: now ? spread(now.pairs, afterS / seconds) : null,
            ...{ seconds, afterS, beforeS, curve: step?.active ? curve : null },
          }}
        />
        <Trouble after={after} />
      </div>
      <Figures now={now?.figures ?? null} was={isTreated ? (was?.figures ?? null) : null} sampleRate={sampleRate} />
      <div className="flex h-[222px] flex-none bg-sheet">
        <div className="min-w-0 flex-1 border-line border-r p-2">
          <EqualiserView
            {...{ recording, points, onPoints }}
            before={isTreated ? (was?.spectrum ?? null) : null}
            after={now?.spectrum ?? null}
            chosen={point}
            onChoose={setPoint}
          />
        </div>
        <StepList
          steps={steps}
          chosenId={step?.id ?? null}
          onChoose={setChosenId}
          onToggle={edits.toggle}
          onMove={edits.move}
          onAdd={(processor) => setChosenId(edits.add(processor))}
        />
        {step && (
          <StepEditor
            {...{ step, recording, edits, point }}
            rootHz={hit.rootHz ?? was?.figures.rootHz ?? null}
            onPoint={setPoint}
            onHearBand={() => points?.[point] && hear.band(step, bandOf(points[point] as Point))}
          />
        )}
      </div>
      <Bench />
    </>
  );
}

function inspected(inspection: Inspection) {
  return inspection && 'figures' in inspection ? inspection : null;
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

/** Columns of a wave drawn over a share of the width. */
function spread(pairs: Float32Array, share: number): Float32Array {
  const columns = pairs.length / 2;
  const wanted = Math.max(1, Math.round(columns * share));
  if (wanted >= columns) return pairs;
  const out = new Float32Array(2 * wanted);
  for (let x = 0; x < columns; x++) {
    const at = Math.min(wanted - 1, Math.floor((x * wanted) / columns));
    out[2 * at] = Math.min(out[2 * at] as number, pairs[2 * x] as number);
    out[2 * at + 1] = Math.max(out[2 * at + 1] as number, pairs[2 * x + 1] as number);
  }
  return out;
}

function Wave({
  name,
  size: { width, height },
  scene,
}: {
  name: string;
  size: { readonly width: number; readonly height: number };
  scene: Parameters<typeof drawTreated>[1];
}) {
  const canvas = useRef<HTMLCanvasElement>(null);
  const palette = usePalette();
  const { before, after, curve, seconds, afterS } = scene;
  useDrawing(() => {
    if (!canvas.current || width === 0) return;
    drawTreated(beginDrawing(canvas.current, width, height), scene, width, height, palette);
  }, [width, height, palette, before, after, curve, seconds, afterS]);
  return <canvas ref={canvas} className="absolute inset-0" aria-label={`Wave of ${name}`} style={{ width, height }} />;
}

function Trouble({ after }: { after: Inspection }) {
  if (after && 'error' in after)
    return (
      <p role="alert" className="absolute inset-x-0 top-10 text-center text-madder">
        The hit could not be rendered: {after.error}
      </p>
    );
  return after ? null : <p className="absolute inset-x-0 top-10 text-center text-soft">Rendering …</p>;
}
