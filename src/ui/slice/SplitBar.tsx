'use client';

import { Popover, PopoverButton, PopoverPanel } from '@headlessui/react';
import { SlidersHorizontal } from 'lucide-react';
import { type ReactNode, useRef } from 'react';
import {
  BANDS,
  type Band,
  NOTE_VALUES,
  type NoteValue,
  SPLIT_METHODS,
  type Split,
  type SplitMethod,
} from '@/core/onset/split';
import { sureness } from '../parts/figures';
import { NumberField } from '../parts/NumberField';
import { Slide } from '../parts/Slide';
import type { SplitDesk } from './use-split';

const METHOD: Readonly<Record<SplitMethod, { label: string; title: string }>> = {
  attack: { label: 'Attack', title: 'A slice from each attack to the next, or until its sound has died away' },
  silence: { label: 'Silence', title: 'A slice for each sound between two silences: for takes of single sounds' },
  grid: { label: 'Grid', title: 'Slices of one length, by tempo, bars and beats' },
  marks: { label: 'File’s marks', title: 'A slice at each cue point and region that the file came with' },
};

const BAND: Readonly<Record<Band, string>> = {
  all: 'all of it',
  low: 'lows, under 250 Hz',
  mid: 'mids',
  high: 'highs, over 3 kHz',
};

type Change = (set: Partial<Split>, done: boolean) => void;

interface SplitBarProps {
  readonly desk: SplitDesk;
  readonly onChange: Change;
  /** A stretch is marked: the split goes for it alone. */
  readonly inStretch: boolean;
}

/** The four ways to split, and the few settings of the one that is chosen. */
export function SplitBar({ desk, onChange, inStretch }: SplitBarProps) {
  const { split, heard } = desk;
  const markCount = heard.fileMarks.length;
  return (
    <div className="flex items-center gap-2">
      <fieldset className="flex items-center" aria-label={inStretch ? 'Split the stretch by' : 'Split by'}>
        {inStretch && <span className="mr-1 whitespace-nowrap text-soft">Stretch by</span>}
        {SPLIT_METHODS.filter((m) => m !== 'marks' || markCount > 0).map((method) => (
          <button
            key={method}
            type="button"
            title={METHOD[method].title}
            aria-pressed={split.method === method}
            className={`h-7 border-b-2 px-2 ${split.method === method ? 'border-verdigris font-semibold' : 'border-transparent text-soft hover:text-ink'}`}
            onClick={() => onChange({ method }, true)}
          >
            {METHOD[method].label}
            {method === 'marks' && ` ${markCount}`}
          </button>
        ))}
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
type Duration = readonly [key: DurationKey, label: string, low: number, high: number];

const ATTACK_MS: readonly Duration[] = [
  ['spacingMs', 'Least spacing', 5, 1000],
  ['preRollMs', 'Start before the attack', 0, 500],
];
const SILENCE_MS: readonly Duration[] = [
  ['shortestSoundMs', 'Shortest sound', 2, 10000],
  ['shortestGapMs', 'Shortest gap', 5, 20000],
  ['leadInMs', 'Lead-in kept', 0, 2000],
  ['tailMs', 'Tail kept', 0, 10000],
];

/** The greatest number of slices, and which are kept where there are more. */
function Most({ split, onChange, kept }: { split: Split; onChange: Change; kept: string }) {
  return (
    <>
      <NumberField
        label="At most"
        unit="slices"
        value={split.strongest}
        low={1}
        high={100000}
        digits={0}
        empty="all"
        onCommit={(strongest) => onChange({ strongest }, true)}
        onClear={() => onChange({ strongest: null }, true)}
      />
      <p className="text-[12px] text-soft">Of more, {kept} are kept.</p>
    </>
  );
}

/** Settings in milliseconds, one under the other. */
function Durations({ of, split, onChange }: { of: readonly Duration[]; split: Split; onChange: Change }) {
  return of.map(([key, label, low, high]) => (
    <NumberField
      key={key}
      label={label}
      unit="ms"
      value={split[key]}
      low={low}
      high={high}
      onCommit={(value) => onChange({ [key]: value }, true)}
    />
  ));
}

function AttackSettings({ split, onChange }: { split: Split; onChange: Change }) {
  return (
    <>
      <Slide
        label="Sensitivity"
        unit="%"
        low={0}
        high={100}
        value={Math.round(split.sensitivity * 100)}
        onChange={(v, done) => onChange({ sensitivity: v / 100 }, done)}
      />
      <More label="More settings of the split by attack">
        <Durations of={ATTACK_MS} split={split} onChange={onChange} />
        <Choice
          label="Listen to"
          value={split.band}
          options={BANDS.map((b) => [b, BAND[b]])}
          onChoose={(band) => onChange({ band: band as Band }, true)}
        />
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
        label="Silence under"
        unit="dBFS"
        low={-100}
        high={0}
        value={Math.round(thresholdDb ?? -60)}
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
        label="Tempo"
        unit="BPM"
        value={bpm}
        low={20}
        high={400}
        digits={2}
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
      <select
        aria-label="Note value of the grid"
        className="figure w-[74px]"
        value={split.noteValue}
        onChange={(event) => onChange({ noteValue: event.target.value as NoteValue }, true)}
      >
        {NOTE_VALUES.map((value) => (
          <option key={value} value={value}>
            {value.replace('T', ' trip.')}
          </option>
        ))}
      </select>
      <Slide
        label="Follow the player"
        unit="%"
        low={0}
        high={100}
        value={Math.round(split.pull * 100)}
        onChange={(v, done) => onChange({ pull: v / 100 }, done)}
      />
      <More label="More settings of the grid">
        <NumberField
          label="Beats in a bar"
          unit=""
          value={split.beats}
          low={1}
          high={32}
          digits={0}
          onCommit={(beats) => onChange({ beats }, true)}
        />
        <Choice
          label="A beat is a"
          value={String(split.beatUnit)}
          options={['2', '4', '8', '16'].map((u) => [u, `1/${u}`])}
          onChoose={(unit) => onChange({ beatUnit: Number(unit) as Split['beatUnit'] }, true)}
        />
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

function Choice({
  label,
  value,
  options,
  onChoose,
}: {
  label: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChoose: (value: string) => void;
}) {
  return (
    <label className="flex h-8 items-center gap-2">
      <span className="flex-1">{label}</span>
      <select value={value} onChange={(event) => onChoose(event.target.value)}>
        {options.map(([v, text]) => (
          <option key={v} value={v}>
            {text}
          </option>
        ))}
      </select>
    </label>
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
        className="z-40 mt-1 w-[300px] rounded-lg border border-edge bg-sheet p-3 shadow-lg"
      >
        {children}
      </PopoverPanel>
    </Popover>
  );
}

const LONGEST_BETWEEN_TAPS_MS = 2500;

/** The tempo of what was tapped last: the mean of the times between taps, from the third on. */
function useTaps(onTempo: (bpm: number) => void): () => void {
  const taps = useRef<number[]>([]);
  return () => {
    const now = performance.now();
    if (now - (taps.current.at(-1) ?? 0) > LONGEST_BETWEEN_TAPS_MS) taps.current = [];
    taps.current = [...taps.current, now].slice(-16);
    const [first] = taps.current;
    if (taps.current.length < 4 || first === undefined) return;
    const bpm = (60_000 * (taps.current.length - 1)) / (now - first);
    if (bpm >= 20 && bpm <= 400) onTempo(Math.round(bpm * 10) / 10);
  };
}
