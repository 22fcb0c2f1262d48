'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { SlidersHorizontal } from 'lucide-react';
import type { ReactNode } from 'react';
import { SPLIT_PARAMETERS as P, type Split, type SplitMethod } from '@/core/onset/split';
import { Choice } from '../parts/Choice';
import { ChoiceLine } from '../parts/ChoiceLine';
import { sureness } from '../parts/figures';
import { NumberField } from '../parts/NumberField';
import { Slide } from '../parts/Slide';
import { useTaps } from '../parts/use-taps';
import type { SplitDesk } from './use-split';

const TITLE: Readonly<Record<SplitMethod, string>> = {
  attack: 'A slice from each attack to the next, or until its sound has died away',
  silence: 'A slice for each sound between two silences: for takes of single sounds',
  grid: 'Slices of one length, by tempo, bars and beats',
  marks: 'A slice at each cue point and region that the file came with',
};

type Change = (set: Partial<Split>, done: boolean) => void;

interface SplitBarProps {
  readonly desk: SplitDesk;
  readonly onChange: Change;
  /** A stretch is marked: the split applies to it alone. */
  readonly inStretch: boolean;
}

/** The four ways to split, with the settings of the chosen one. */
export function SplitBar({ desk, onChange, inStretch }: SplitBarProps) {
  const { split, heard } = desk;
  const markCount = heard.fileMarks.length;
  return (
    <div className="flex items-center gap-2">
      <fieldset className="flex items-center" aria-label={inStretch ? 'Split the stretch by' : 'Split by'}>
        {inStretch && <span className="mr-1 whitespace-nowrap text-soft">Stretch by</span>}
        {P.method.options.map(([method, label]) =>
          method === 'marks' && markCount === 0 ? null : (
            <button
              key={method}
              type="button"
              title={TITLE[method]}
              aria-pressed={split.method === method}
              className={`h-7 border-b-2 px-2 ${split.method === method ? 'border-verdigris font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
              onClick={() => onChange({ method }, true)}
            >
              {label}
              {method === 'marks' && ` ${markCount}`}
            </button>
          ),
        )}
      </fieldset>
      {split.method === 'attack' && <AttackSettings split={split} onChange={onChange} />}
      {split.method === 'silence' && <SilenceSettings desk={desk} onChange={onChange} />}
      {split.method === 'grid' && <GridSettings desk={desk} onChange={onChange} />}
      {split.method === 'marks' && (
        <More label="More settings of the split at the file’s marks">
          <Most split={split} onChange={onChange} kept="the first marks" />
        </More>
      )}
    </div>
  );
}

type DurationKey = 'spacingMs' | 'preRollMs' | 'shortestSoundMs' | 'shortestGapMs' | 'leadInMs' | 'tailMs';
const ATTACK_MS: readonly DurationKey[] = ['spacingMs', 'preRollMs'];
const SILENCE_MS: readonly DurationKey[] = ['shortestSoundMs', 'shortestGapMs', 'leadInMs', 'tailMs'];

/** The greatest number of slices, and which to keep of more. */
function Most({ split, onChange, kept }: { split: Split; onChange: Change; kept: string }) {
  return (
    <>
      <NumberField
        of={P.strongest}
        value={split.strongest}
        onCommit={(strongest) => onChange({ strongest }, true)}
        onClear={() => onChange({ strongest: null }, true)}
      />
      <p className="text-[12px] text-soft">Of more, {kept} are kept.</p>
    </>
  );
}

/** Settings in milliseconds. */
function Durations({ of, split, onChange }: { of: readonly DurationKey[]; split: Split; onChange: Change }) {
  return of.map((key) => (
    <NumberField key={key} of={P[key]} value={split[key]} onCommit={(value) => onChange({ [key]: value }, true)} />
  ));
}

function AttackSettings({ split, onChange }: { split: Split; onChange: Change }) {
  return (
    <>
      <Slide
        of={P.sensitivity}
        value={split.sensitivity}
        onChange={(sensitivity, done) => onChange({ sensitivity }, done)}
      />
      <More label="More settings of the split by attack">
        <Durations of={ATTACK_MS} split={split} onChange={onChange} />
        <ChoiceLine of={P.band} value={split.band} onChoose={(band) => onChange({ band }, true)} />
        <Most split={split} onChange={onChange} kept="the strongest attacks" />
      </More>
    </>
  );
}

function SilenceSettings({ desk, onChange }: { desk: SplitDesk; onChange: Change }) {
  const { split, thresholdDb } = desk;
  return (
    <>
      <Slide
        of={P.thresholdDb}
        low={-100}
        value={Math.round(thresholdDb ?? P.thresholdDb.none.first)}
        onChange={(v, done) => onChange({ thresholdDb: v }, done)}
      />
      <button
        type="button"
        className="quiet-button px-2"
        disabled={split.thresholdDb === null}
        title="The threshold that the room tone of this recording suggests"
        onClick={() => onChange({ thresholdDb: null }, true)}
      >
        {split.thresholdDb === null ? 'by room tone' : 'Suggest'}
      </button>
      <More label="More settings of the split at silence">
        <Durations of={SILENCE_MS} split={split} onChange={onChange} />
        <Most split={split} onChange={onChange} kept="the loudest sounds" />
      </More>
    </>
  );
}

function GridSettings({ desk, onChange }: { desk: SplitDesk; onChange: Change }) {
  const { split, heard } = desk;
  const bpm = split.tempoBpm ?? heard.tempo?.bpm ?? null;
  const times = (factor: number) =>
    bpm !== null && onChange({ tempoBpm: Math.round(bpm * factor * 1000) / 1000 }, true);
  const tap = useTaps((tapped) => onChange({ tempoBpm: tapped }, true));
  return (
    <>
      <NumberField
        of={P.tempoBpm}
        value={bpm}
        empty="?"
        inline
        onCommit={(tempoBpm) => onChange({ tempoBpm }, true)}
        onClear={() => onChange({ tempoBpm: null }, true)}
      />
      <span className="flex">
        <button
          type="button"
          className="quiet-button px-1"
          title="Half the tempo"
          aria-label="Half the tempo"
          onClick={() => times(0.5)}
        >
          ÷2
        </button>
        <button
          type="button"
          className="quiet-button px-1"
          title="Twice the tempo"
          aria-label="Twice the tempo"
          onClick={() => times(2)}
        >
          ×2
        </button>
        <button type="button" className="quiet-button px-1" title="Tap the beat four times or more" onClick={tap}>
          Tap
        </button>
      </span>
      <Choice
        label="Note value of the grid"
        className="figure w-[74px]"
        value={split.noteValue}
        options={P.noteValue.options}
        onChoose={(noteValue) => onChange({ noteValue }, true)}
      />
      <Slide of={P.pull} value={split.pull} onChange={(pull, done) => onChange({ pull }, done)} />
      <More label="More settings of the grid">
        <NumberField of={P.beats} value={split.beats} onCommit={(beats) => onChange({ beats }, true)} />
        <ChoiceLine of={P.beatUnit} value={split.beatUnit} onChoose={(beatUnit) => onChange({ beatUnit }, true)} />
        <Most split={split} onChange={onChange} kept="the first steps" />
        <p className="mt-2 text-[12px] text-soft">
          {heard.tempo
            ? `Estimated: ${heard.tempo.bpm.toFixed(2)} BPM, ${sureness(heard.tempo.confidence)} sure.`
            : 'No tempo could be estimated here.'}{' '}
          Drag “1st bar” at the foot of the wave to where the first bar begins. “Follow the player” pulls each line of
          the grid towards the stroke nearest to it: at 0 % lines stand as a clock has them, at 100 % on the strokes.
        </p>
        <button
          type="button"
          className="quiet-button mt-2"
          disabled={split.tempoBpm === null && split.downbeatFrame === null}
          onClick={() => onChange({ tempoBpm: null, downbeatFrame: null }, true)}
        >
          Back to the estimate
        </button>
      </More>
    </>
  );
}

function More({ label, children }: { label: string; children: ReactNode }) {
  return (
    <Popover className="relative flex">
      <PopoverButton className="quiet-button px-2" aria-label={label} title={label}>
        <SlidersHorizontal size={14} aria-hidden />
      </PopoverButton>
      <PopoverPanel
        anchor="bottom start"
        className="z-40 mt-1 w-[340px] rounded-lg border border-edge bg-sheet p-3 shadow-lg"
      >
        {children}
      </PopoverPanel>
    </Popover>
  );
}
