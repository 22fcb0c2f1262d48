'use client';

import { useEffect, useState } from 'react';
import { useHotkeys } from 'react-hotkeys-hook';
import { LONGEST_NAME } from '@/core/naming/names';
import { Bench } from '../pads/Bench';
import { useActions } from '../parts/actions';
import { Choice } from '../parts/Choice';
import { pageKey } from '../parts/focus';
import { useStore } from '../parts/store';
import { TextField } from '../parts/TextField';
import { useStatus } from '../shell/status';
import { Growing } from './Growing';
import { InputPanel } from './InputPanel';
import { LevelLine } from './LevelLine';
import { isRecording, recorder } from './recorder';
import { readCaptureSettings } from './settings';
import { TakeTable } from './TakeTable';
import { useInputs } from './use-inputs';
import { useKeptWithTakes } from './use-kept-with-takes';
import { useLayStroke } from './use-lay-stroke';
import { useSeries } from './use-series';

/** Takes from a microphone, our own output, or an instrument that ships with the application. */
export function RecordPage() {
  const state = useStore(recorder.state);
  const inputs = useInputs();
  const series = useSeries();
  const [chosen, setChosen] = useState<number | null>(null);
  const lay = useLayStroke(chosen);
  useEffect(readCaptureSettings, []);
  useKeptWithTakes();
  const { phase, problem } = state;
  const isBusy = isRecording(state);
  const record = () => void (isBusy ? recorder.stop() : recorder.record());
  const listen = () => void (phase === 'closed' ? recorder.listen() : recorder.close());
  useHotkeys('f8', record, pageKey);
  useHotkeys('shift+f8', listen, pageKey);
  useHotkeys('f9', () => void lay(), pageKey);
  useActions([
    { name: isBusy ? 'Stop recording' : 'Record a take', key: 'F8', run: record },
    { name: phase === 'closed' ? 'Listen to the input' : 'Let the input go', key: 'Shift F8', run: listen },
    { name: 'Lay the stroke on a pad', key: 'F9', run: () => void lay() },
  ]);
  useStatus('F8 record and stop · Shift F8 listen · F9 lay the last stroke, or the chosen one, on a pad');
  return (
    <>
      <div className="flex h-10 flex-none items-center gap-3 border-line border-b bg-sheet px-4">
        <h1 className="font-semibold">Record</h1>
        <Choice
          label="Input"
          className="h-7 max-w-[240px] rounded-md border border-line px-2"
          value={inputs.chosen}
          options={inputs.options}
          onChoose={inputs.choose}
        />
        <span className="flex items-baseline gap-1">
          <span className="text-soft">as</span>
          <TextField
            label="Title of the takes"
            className="w-[180px] border-line border-b px-1"
            maxLength={LONGEST_NAME - 20}
            value={series.title}
            onCommit={series.setTitle}
          />
          <span className="figure text-soft">{series.number}</span>
        </span>
        <span className="ml-auto" />
        <button type="button" className="quiet-button" title="F9" onClick={() => void lay()}>
          Lay {chosen === null ? 'last stroke' : 'stroke'} on a pad
        </button>
        <button
          type="button"
          className="quiet-button"
          aria-pressed={phase !== 'closed'}
          disabled={phase === 'opening' || phase === 'at once' || isBusy}
          title="Shift F8"
          onClick={listen}
        >
          {phase === 'closed' || phase === 'opening' ? 'Listen' : 'Let go'}
        </button>
        <button
          type="button"
          className={isBusy ? 'next-button bg-madder' : 'next-button'}
          disabled={phase === 'opening' || phase === 'at once'}
          title="F8"
          onClick={record}
        >
          {WORDS[phase] ?? 'Record'}
        </button>
      </div>
      <div className="flex min-h-0 flex-1 bg-sheet">
        <div className="flex min-h-0 min-w-0 flex-1 flex-col">
          {problem && (
            <p role="alert" className="flex-none border-madder border-b px-4 py-2 text-madder">
              {problem}
            </p>
          )}
          <Growing chosen={chosen} onChoose={setChosen} />
          <LevelLine />
          <div className="max-h-[42%] min-h-[64px] flex-none overflow-y-auto border-line border-t">
            <TakeTable takes={series.takes} />
          </div>
        </div>
        <InputPanel />
      </div>
      <Bench />
    </>
  );
}

const WORDS: Readonly<Record<string, string>> = {
  opening: 'Opening …',
  counting: 'Stop (counting in)',
  waiting: 'Stop (waiting)',
  recording: 'Stop',
  'at once': 'Recording …',
};
