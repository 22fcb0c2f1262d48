import { useEffect, useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { CAPTURE_PARAMETERS } from '@/core/capture/parameters';
import { FASTEST, SLOWEST } from '@/core/drummer/drummer';
import { RHYTHMS } from '@/core/drummer/rhythms';
import { number } from '@/core/parameter/parameter';
import { useLiveRecordings } from '../data/queries';
import { Choice } from '../parts/Choice';
import { Parameter } from '../parts/Parameter';
import { ParameterRows } from '../parts/ParameterRows';
import { useStore } from '../parts/store';
import type { InputChoice } from './input';
import { recorder } from './recorder';
import { captureSettings, setCapture } from './settings';

const CRANK = number({
  ...{ label: 'Crank', unit: 'of full speed', low: SLOWEST, high: FASTEST, step: 0.05, digits: 2, initial: 1 },
});
const LENGTH = number({ label: 'Length', unit: 's', low: 2, high: 300, step: 1, digits: 0, initial: 30 });

/** How a take begins and ends, and what belongs to the chosen input. */
export function InputPanel() {
  const choice = useStore(recorder.choice);
  const settings = useStore(captureSettings);
  const { begin } = settings;
  const keys = [
    'begin' as const,
    ...(begin === 'count' ? ['countBeats' as const] : []),
    ...(begin === 'loud' ? ['loudDb' as const, 'beforeS' as const] : []),
    'stopAfterS' as const,
    'channels' as const,
  ];
  return (
    <aside className="w-[340px] flex-none overflow-y-auto border-line border-l px-4 py-2" aria-label="Input">
      {choice.kind === 'drummer' && <DrummerRows choice={choice} />}
      {choice.kind === 'simulated' && <SimulatedRows choice={choice} />}
      <h2 className="mt-1 mb-1 font-semibold text-[12px]">The take</h2>
      <ParameterRows
        of={CAPTURE_PARAMETERS}
        keys={keys}
        values={settings}
        onSet={(_said, set) => {
          setCapture(set);
          recorder.settle();
        }}
      />
      <InputFacts />
    </aside>
  );
}

function DrummerRows({ choice }: { choice: InputChoice & { kind: 'drummer' } }) {
  return (
    <section aria-label="Fairground drummer" className="mb-3">
      <h2 className="mb-1 font-semibold text-[12px]">Fairground drummer</h2>
      <p className="mb-1 text-[12px] text-soft leading-[16px]">
        A clockwork drummer without a clock out. Turned slowly, its strokes stand apart.
      </p>
      <div className="flex h-[26px] items-center gap-2 border-line border-b">
        <span className="w-[104px] flex-none">Rhythm</span>
        <Choice
          label="Rhythm"
          value={choice.rhythm}
          options={RHYTHMS.map(({ name }, i) => [i, `${i + 1} ${name}`] as const)}
          onChoose={(rhythm) => recorder.choose({ ...choice, rhythm })}
        />
      </div>
      <Parameter
        of={CRANK}
        value={choice.speed}
        unit="speed"
        onPreview={(speed) => speed !== null && recorder.choose({ ...choice, speed })}
        onCommit={(speed) => speed !== null && recorder.choose({ ...choice, speed })}
      />
      <AtOnce seconds={lapSeconds(choice)} />
    </section>
  );
}

/** One lap of a rhythm at a speed, in whole seconds, with its tail. */
function lapSeconds({ rhythm, speed }: InputChoice & { kind: 'drummer' }): number {
  const { bpm, perBeat, drums } = RHYTHMS[rhythm] as (typeof RHYTHMS)[number];
  const steps = Math.max(...Object.values(drums).map(({ length }) => length));
  return Math.min(LENGTH.high, Math.ceil((60 * steps) / (bpm * perBeat * speed)) + 2);
}

function SimulatedRows({ choice }: { choice: InputChoice & { kind: 'simulated' } }) {
  const recordings = useLiveRecordings();
  return (
    <section aria-label="Simulated input" className="mb-3">
      <h2 className="mb-1 font-semibold text-[12px]">Simulated input</h2>
      <p className="mb-1 text-[12px] text-soft leading-[16px]">
        A recording as if it came from a microphone: over room noise, its level swings, and now and then it clips.
      </p>
      <div className="flex h-[26px] items-center gap-2 border-line border-b">
        <span className="w-[104px] flex-none">Plays</span>
        <Choice
          label="Simulated input plays"
          className="flex-1"
          value={choice.recording.id}
          options={recordings.map(({ id, title }) => [id, title] as const)}
          onChoose={(id) => {
            const recording = recordings.find((one) => one.id === id);
            if (recording) recorder.choose({ ...choice, recording });
          }}
        />
      </div>
      <AtOnce seconds={Math.ceil(lengthOf(choice.recording))} />
    </section>
  );
}

function lengthOf({ frames, sampleRate }: RecordingView): number {
  return Math.min(LENGTH.high, frames / sampleRate);
}

/** Records the instrument for so long, faster than it is heard. */
function AtOnce({ seconds }: { seconds: number }) {
  const [wanted, setWanted] = useState<number | null>(null);
  const phase = useStore(recorder.state, (state) => state.phase);
  // What another rhythm or speed needs is another length.
  useEffect(() => {
    if (seconds > 0) setWanted(null);
  }, [seconds]);
  const length = wanted ?? Math.max(LENGTH.low, seconds);
  return (
    <div className="mt-1">
      <Parameter of={LENGTH} value={length} initial={seconds} onCommit={setWanted} />
      <button
        type="button"
        className="quiet-button mt-2"
        disabled={phase !== 'closed' && phase !== 'listening'}
        title="Record so much of it without waiting"
        onClick={() => void recorder.atOnce(length)}
      >
        Record {length} s at once
      </button>
    </div>
  );
}

/** What the browser tells of the open input. */
function InputFacts() {
  const { phase, label, latencyMs, doctored, monitors } = useStore(recorder.state);
  const choice = useStore(recorder.choice);
  if (phase === 'closed' || phase === 'opening' || phase === 'at once') return null;
  return (
    <section aria-label="The open input" className="mt-3 text-[12px] leading-[17px]">
      <h2 className="mb-1 font-semibold">The open input</h2>
      <p className="truncate" title={label}>
        {label}
      </p>
      {choice.kind === 'device' && (
        <p className="text-soft">
          {latencyMs === null
            ? 'The browser does not tell its delay.'
            : `${latencyMs.toFixed(0)} ms late, as the browser tells.`}
        </p>
      )}
      {doctored.length > 0 && (
        <p className="text-madder">
          The browser goes on with {doctored.join(', ')} although it was asked not to: takes will suffer. Try another
          browser, or switch it off in the system.
        </p>
      )}
      {choice.kind !== 'output' && (
        <label className="mt-1 flex items-center gap-2">
          <input type="checkbox" checked={monitors} onChange={(event) => recorder.monitor(event.target.checked)} />
          Hear it {choice.kind === 'device' && <span className="text-soft">(with headphones: it may feed back)</span>}
        </label>
      )}
    </section>
  );
}
