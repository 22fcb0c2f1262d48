'use client';

import { Play, Square } from 'lucide-react';
import { memo } from 'react';
import type { RecordingView } from '@/contract/views';
import { LONGEST_NAME } from '@/core/naming/names';
import { RIGHTS_LABEL } from '@/core/rights/rights';
import { useAnalysisProgress } from '../data/queries';
import { length } from '../parts/figures';
import { ListenAgain } from '../parts/ListenAgain';
import { ListHead } from '../parts/ListHead';
import { type Listing, selectModeOf } from '../parts/listing';
import { MiniWave } from '../parts/MiniWave';
import { RightsMark } from '../parts/RightsMark';
import { TextField } from '../parts/TextField';
import { VirtualRows } from '../parts/VirtualRows';
import { useRecordingEdits } from './use-edits';

const ROW = 46;
const COLUMNS =
  'grid grid-cols-[30px_minmax(150px,1.1fr)_minmax(160px,2fr)_64px_116px_54px_84px_minmax(88px,0.6fr)] items-center gap-3 px-3';

interface Props {
  readonly listing: Listing<RecordingView>;
  readonly playingId: string | null;
  readonly onHear: (recording: RecordingView) => void;
  readonly onOpen: (recording: RecordingView) => void;
  readonly nothing: string;
}

/** The archive as a table; only visible rows are rendered, so that thousands scroll smoothly. */
export function RecordingTable({ listing, playingId, onHear, onOpen, nothing }: Props) {
  const { shown, index, order, sortBy } = listing;
  const head = (column: string, label: string, right = false) => (
    <ListHead column={column} label={label} order={order} onSort={sortBy} right={right} />
  );
  return (
    <section aria-label="Recordings" className="flex min-h-0 flex-1 flex-col">
      <div className={`${COLUMNS} h-7 flex-none border-b border-line text-[12px] font-medium text-soft`}>
        <span />
        {head('title', 'Title')}
        {head('arrived', 'Wave, by arrival')}
        {head('length', 'Length', true)}
        {head('format', 'Format')}
        {head('tempo', 'BPM', true)}
        {head('taken', 'Hits · pads', true)}
        {head('rights', 'Rights')}
      </div>
      <VirtualRows
        count={shown.length}
        height={ROW}
        index={index}
        keyOf={(i) => (shown[i] as RecordingView).id}
        nothing={<p className="p-6 text-soft">{nothing}</p>}
      >
        {(i) => {
          const recording = shown[i] as RecordingView;
          return (
            // biome-ignore lint/a11y/useKeyWithClickEvents: the arrow keys of the page choose rows
            // biome-ignore lint/a11y/noStaticElementInteractions: see above
            <div
              data-testid="recording"
              data-recording={recording.id}
              data-chosen={i === index || undefined}
              className={`${COLUMNS} h-full border-b border-line ${
                listing.isSelected(recording.id) ? 'bg-selection' : 'hover:bg-paper'
              } ${i === index ? 'shadow-[inset_3px_0_0_var(--verdigris)]' : ''}`}
              onClick={(event) => listing.choose(recording.id, selectModeOf(event))}
              onDoubleClick={() => onOpen(recording)}
            >
              <Row recording={recording} playing={playingId === recording.id} onHear={() => onHear(recording)} />
            </div>
          );
        }}
      </VirtualRows>
    </section>
  );
}

const Row = memo(
  function Row({ recording: r, playing, onHear }: { recording: RecordingView; playing: boolean; onHear: () => void }) {
    const edits = useRecordingEdits();
    const about = [r.what, r.tags.join(', '), r.notes || r.fileName].filter(Boolean).join(' · ');
    return (
      <>
        <button
          type="button"
          className="grid size-7 place-items-center rounded-full border border-line bg-sheet hover:border-edge"
          aria-label={`${playing ? 'Stop' : 'Hear'} ${r.title}`}
          onClick={(event) => {
            event.stopPropagation();
            onHear();
          }}
        >
          {playing ? <Square size={11} aria-hidden /> : <Play size={12} aria-hidden />}
        </button>
        <div className="min-w-0">
          <TextField
            label="Title"
            value={r.title}
            maxLength={LONGEST_NAME}
            className="w-full font-semibold"
            onCommit={(title) => edits.set([r], `renamed ${r.title} to ${title}`, { title })}
          />
          <p className="truncate text-[12px] text-soft" title={[about, ...r.warnings].join('\n')}>
            {r.warnings.length > 0 && <span className="text-madder">{r.warnings[0]} · </span>}
            {about}
          </p>
        </div>
        <MiniWave recording={r} start={0} end={r.frames} height={38} gain={1 / Math.max(0.02, r.peak)} />
        <span className="figure text-right text-[12px]">{length(r.frames / r.sampleRate)}</span>
        <span className="figure whitespace-nowrap text-[12px] leading-[15px]">
          {r.fileKind.toUpperCase()} <span className="text-soft">{depthOf(r)}</span>
          <br />
          <span className="text-soft">{rateOf(r)}</span>
        </span>
        <span className="figure text-right text-[12px]">{r.tempoBpm === null ? '' : r.tempoBpm.toFixed(0)}</span>
        <span
          className="figure truncate text-right text-[12px]"
          title={r.kits.length > 0 ? `In ${r.kits.join(', ')}` : ''}
        >
          {r.analysed ? `${r.hitCount} · ${r.padCount}` : <Listening recording={r} />}
        </span>
        <span className="flex min-w-0 items-center gap-1 text-[12px]">
          <RightsMark rights={r} />
          <span className="truncate" title={r.rightsOwner}>
            {RIGHTS_LABEL[r.rightsKind]}
          </span>
        </span>
      </>
    );
  },
  (a, b) => a.recording === b.recording && a.playing === b.playing,
);

/** Bit depth, for files that have one: lossy ones are decoded to floats. */
function depthOf(r: RecordingView): string {
  if (['mp3', 'vorbis', 'opus', 'aac'].includes(r.fileKind)) return '';
  return `${r.validBits}-bit${r.encoding.startsWith('f') ? ' f' : ''}`;
}

function rateOf(r: RecordingView): string {
  const sides = r.channelCount === 1 ? 'mono' : r.channelCount === 2 ? 'stereo' : `${r.channelCount} ch`;
  return `${(r.sampleRate / 1000).toLocaleString('en', { maximumFractionDigits: 2 })} kHz ${sides}`;
}

function Listening({ recording: { id, unlistened } }: { recording: RecordingView }) {
  const share = useAnalysisProgress(id);
  if (unlistened !== null) return <ListenAgain recordingId={id} reason={unlistened} />;
  return <span title="Onsets are being found">listening {Math.floor(share * 100)} %</span>;
}
