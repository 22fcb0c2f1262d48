'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { decibels, length } from '../parts/figures';
import { Glyph } from '../parts/Glyph';
import { tell } from '../parts/notice';
import { copySteps } from './chains';
import { PrintButton } from './PrintButton';
import { RecipeMenu } from './RecipeMenu';
import { isRecording, type Subject } from './subject';

const StrokesDialog = dynamic(() => import('../voice/StrokesDialog').then((m) => m.StrokesDialog), { ssr: false });

interface TreatmentHeadProps {
  readonly subject: Subject;
  readonly back: string | undefined;
  readonly recording: RecordingView;
  /** Loudness before minus loudness now, in dB. */
  readonly matchDb: number;
  readonly isBefore: boolean;
  readonly onSwap: () => void;
  readonly showsEdges: boolean;
  readonly onEdges: () => void;
}

/** What is treated, where it comes from, and what can be done with all of it. */
export function TreatmentHead(props: TreatmentHeadProps) {
  const { subject, recording, matchDb, isBefore, onSwap, showsEdges, onEdges, back } = props;
  const { hit, steps, sound } = subject;
  const kit = useKitDesk();
  const [prints, setPrints] = useState(false);
  const layers = hit?.members.length ?? 0;
  const isTreated = steps.some((step) => step.active);
  const { sampleRate } = recording;
  const seconds = (sound.endFrame - sound.startFrame) / sampleRate;
  return (
    <div className="flex h-10 flex-none items-center gap-3 border-line border-b bg-sheet px-4">
      <Link
        className="whitespace-nowrap text-verdigris hover:underline"
        href={back ?? (hit ? `/hits?hit=${hit.id}` : `/slice/${recording.id}`)}
      >
        {back ? '‹ Layers' : hit ? '‹ Hits' : '‹ Slice'}
      </Link>
      {hit && <Glyph family={hit.family} />}
      <h1 className="truncate font-semibold">{subject.name}</h1>
      <span className="figure truncate text-[12px] text-soft">
        {layers > 0
          ? `${layers} layers`
          : hit?.voice
            ? `struck voice at ${hit.voice.velocity}`
            : !isRecording(subject)
              ? `${recording.title} at ${(sound.startFrame / sampleRate).toFixed(3)} s · ${length(seconds)}`
              : seconds * sampleRate < recording.frames
                ? `${length(seconds)} of ${length(recording.frames / sampleRate)} shown, from ${(sound.startFrame / sampleRate).toFixed(1)} s`
                : `the whole recording, ${length(seconds)}`}
      </span>
      <span className="ml-auto" />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        aria-pressed={isBefore}
        title="Hear it as it was, at the loudness it has now ( / )"
        disabled={!isTreated}
        onClick={onSwap}
      >
        {isBefore ? 'Before' : 'After'}
        {isTreated && (
          <span className="figure text-soft">
            {' '}
            matched {matchDb > 0 ? '+' : ''}
            {decibels(matchDb)}
          </span>
        )}
      </button>
      <RecipeMenu targets={() => ({ subjects: [subject], changes: [] })} count={1} label="Recipe …" keeps={subject} />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        disabled={steps.length === 0}
        title="To add them to other hits, by “Treat …” or by “Recipe …”"
        onClick={() => {
          copySteps(subject);
          tell(
            `${steps.length} steps copied; “Treat …” on Hits, Slice and the pads adds them to what is chosen there.`,
          );
        }}
      >
        Copy steps
      </button>
      {back === undefined && <PrintButton subject={subject} />}
      {hit && layers > 0 && (
        <Link
          className="quiet-button whitespace-nowrap leading-[26px]"
          title="What it is the sum of"
          href={`/hits/${hit.id}/layers`}
        >
          Layers
        </Link>
      )}
      {hit && layers === 0 && (
        <button
          type="button"
          className="quiet-button whitespace-nowrap"
          aria-pressed={showsEdges}
          title={
            hit.voice ? 'What it is made of (Shift F4)' : 'Its start and end on the recording, magnified (Shift F4)'
          }
          onClick={onEdges}
        >
          {hit.voice ? 'Voice' : 'Edges'}
        </button>
      )}
      {hit?.voice && (
        <button
          type="button"
          className="quiet-button whitespace-nowrap"
          title="Print several strokes at several velocities"
          onClick={() => setPrints(true)}
        >
          Strokes …
        </button>
      )}
      {prints && hit && <StrokesDialog hit={hit} onClose={() => setPrints(false)} />}
      {hit && (
        <button
          type="button"
          className="next-button"
          title="To the next free pad (Enter)"
          onClick={() => kit.lay(stretchOfHit(hit, recording), null, 'next')}
        >
          To a pad
        </button>
      )}
    </div>
  );
}
