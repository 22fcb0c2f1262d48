import Link from 'next/link';
import type { HitView, RecordingView } from '@/contract/views';
import { number } from '@/core/parameter/parameter';
import { useCommands } from '../data/commit';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';
import { Glyph } from '../parts/Glyph';
import { NumberField } from '../parts/NumberField';
import { complain } from '../parts/notice';
import { openSound } from '../sound/open-sound';
import { AddLayer } from './AddLayer';
import { BindMenu } from './BindMenu';
import { sharedChanges } from './edits';
import { LevelsMenu } from './LevelsMenu';
import { LineUpLayers } from './LineUpLayers';
import { PrintMenu } from './PrintMenu';
import type { Building } from './use-building';
import { Variants } from './Variants';

interface LayersHeadProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  readonly hits: readonly HitView[];
  readonly building: Building;
  readonly sampleRate: number;
  readonly tempoBpm: number;
  readonly setTempoBpm: (tempo: number) => void;
  /** Shows how the spectrum is shared. */
  readonly onShare: () => void;
}

const TEMPO = number({ label: 'Strokes a minute', unit: '', low: 20, high: 400, step: 1, initial: 120, whole: true });

/** What is built, and what can be done with all layers. */
export function LayersHead(props: LayersHeadProps) {
  const { hit, recording, hits, building, sampleRate, tempoBpm, setTempoBpm, onShare } = props;
  const { commit } = useCommands();
  const kit = useKitDesk();
  const { repeats, setRepeats, inspected } = building;
  const lengthMs = inspected ? (1000 * inspected.figures.frames) / sampleRate : null;
  const share = async () => {
    onShare();
    if (hit.edgesHz.length > 0 || hit.members.length < 2) return;
    const { samples } = await openSound();
    const { proposed } = await samples.sharing(hit, recording);
    void commit(`shared the spectrum of ${hit.name}`, sharedChanges(hit, proposed));
  };
  return (
    <div className="flex h-10 flex-none items-center gap-2 border-line border-b bg-sheet px-4 max-xl:gap-1">
      <Link className="whitespace-nowrap text-verdigris hover:underline" href={`/hits?hit=${hit.id}`}>
        ‹ Hits
      </Link>
      <Glyph family={hit.family} />
      <h1 className="min-w-0 truncate font-semibold">{hit.name}</h1>
      <span className="figure whitespace-nowrap text-[12px] text-soft max-xl:hidden">
        {hit.members.length} layers · {sampleRate / 1000} kHz
      </span>
      <AddLayer {...{ hit, hits }} />
      <span className="ml-auto" />
      <LineUpLayers {...{ hit, recording }} />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        title="Each layer the band in which it is strongest; edges are moved and bands set below"
        onClick={() => void share().catch((error: Error) => complain(error.message))}
      >
        Share<span className="max-xl:hidden"> the spectrum</span>
      </button>
      <LevelsMenu {...{ hit, building }} />
      <BindMenu {...{ hit, building }} />
      <Variants {...{ hit, recording, hits, lengthMs }} />
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        aria-pressed={repeats}
        title="Strikes it again and again while you build"
        onClick={() => setRepeats(!repeats)}
      >
        {repeats ? 'Stop' : 'Repeat'} ♩
      </button>
      {repeats && <NumberField of={TEMPO} value={tempoBpm} inline onCommit={setTempoBpm} />}
      <PrintMenu {...{ hit, recording }} />
      <button
        type="button"
        className="next-button whitespace-nowrap"
        title="Live: what is changed here is heard there (Enter)"
        onClick={() => kit.lay(stretchOfHit(hit, recording), null, 'next')}
      >
        To a pad
      </button>
    </div>
  );
}
