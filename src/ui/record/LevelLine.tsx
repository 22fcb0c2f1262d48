import { toDb } from '@/core/signal/units';
import type { Told } from '@/worker/recorder.worker';
import { clock, minus } from '../parts/figures';
import { useStore } from '../parts/store';
import { faultInWords } from './faults';
import { recorder } from './recorder';

/** The bar's lowest level. */
const LOWEST_DB = -72;
const CHANNELS = ['left', 'right'] as const;

/** Level of the input: a bar for each channel with what is held, loudness, the room, the clip lamp, and what is wrong. */
export function LevelLine() {
  const told = useStore(recorder.told);
  const isClosed = useStore(recorder.state, ({ phase }) => phase === 'closed');
  if (!told)
    return (
      <p className="flex h-[52px] flex-none items-center border-line border-t px-4 text-soft">
        No input is open. “Listen” shows what comes in; “Record” opens it for a take and lets it go again.
      </p>
    );
  const { meter, roomDb } = told;
  return (
    <div className="flex h-[52px] flex-none items-center gap-3 border-line border-t px-4">
      <div className="min-w-[72px] flex-1">
        {CHANNELS.slice(0, meter.peaks.length).map((channel, c) => (
          <Bar key={channel} channel={channel} peak={meter.peaks[c] ?? 0} held={meter.held[c] ?? 0} />
        ))}
      </div>
      <Figure
        label="Held"
        title="Highest peak since the lamp was put out"
        value={inDb(Math.max(0, ...meter.held))}
        unit="dBFS"
      />
      <Figure label="Loudness" title="Of the last 400 ms (ITU-R BS.1770)" value={ofDb(meter.lufs)} unit="LUFS" />
      <Figure
        label="Room"
        title="Level of the room before the first stroke; kept with the take for splitting at silence and taking noise down"
        value={roomDb === null ? '–' : ofDb(roomDb)}
        unit="dBFS"
      />
      <button
        type="button"
        data-testid="clip-lamp"
        disabled={meter.clipped === 0}
        className={`h-6 w-[54px] flex-none rounded border text-[11px] ${meter.clipped === 0 ? 'border-line text-edge' : 'border-madder bg-madder text-on-ink'}`}
        title={meter.clipped === 0 ? 'Lights when the input reaches full scale' : 'Put the lamp out'}
        onClick={() => recorder.resetMeter()}
      >
        clip
      </button>
      <Faults told={told} isClosed={isClosed} />
    </div>
  );
}

function Faults({ told, isClosed }: { told: Told; isClosed: boolean }) {
  const { frames, sampleRate, gaps, sending, faults } = told;
  const [first] = faults;
  const held = sending.held / sampleRate;
  return (
    <p className="min-w-0 flex-[2] text-[12px] leading-[15px]" role="status" aria-label="What is told of the input">
      {isClosed ? (
        <span className="text-soft">The input was let go; the next take opens it again.</span>
      ) : first ? (
        <span className="text-madder">{faultInWords(first)}</span>
      ) : told.phase === 'recording' ? (
        <span className="text-soft">
          <span className="figure">{clock(frames / sampleRate)}</span> recorded, of it{' '}
          <span className="figure">{clock(Math.max(0, frames / sampleRate - held))}</span> on the disk
          {gaps > 0 ? `; ${gaps} frames were lost` : ', no gaps'}
        </span>
      ) : (
        <span className="text-soft">All is well: nothing clips.</span>
      )}
    </p>
  );
}

function Figure({ label, title, value, unit }: { label: string; title: string; value: string; unit: string }) {
  return (
    <span className="flex flex-none flex-col text-[12px] leading-[15px]" title={title}>
      <span className="text-soft">{label}</span>
      <span className="figure w-[84px]">
        {value} <span className="text-soft">{unit}</span>
      </span>
    </span>
  );
}

function Bar({ channel, peak, held }: { channel: string; peak: number; held: number }) {
  const share = (level: number) => `${Math.max(0, Math.min(1, 1 - toDb(level) / LOWEST_DB)) * 100}%`;
  return (
    // biome-ignore lint/a11y/useSemanticElements: the browser's own meter has no mark for the held peak
    <div
      role="meter"
      aria-label={`Level of the input, ${channel}`}
      aria-valuemin={LOWEST_DB}
      aria-valuemax={0}
      aria-valuenow={Math.round(Math.max(LOWEST_DB, Math.min(0, toDb(peak))))}
      className="relative my-[5px] h-[6px] bg-sunk"
    >
      <span className="absolute inset-y-0 left-0 bg-verdigris" style={{ width: share(peak) }} />
      <span className="absolute inset-y-[-2px] w-[2px] bg-ink" style={{ left: share(held) }} />
    </div>
  );
}

function inDb(level: number): string {
  return ofDb(toDb(level));
}

function ofDb(db: number): string {
  return db > -120 ? minus(db.toFixed(1)) : '−∞';
}
