import { Volume2, VolumeX } from 'lucide-react';
import type { HitView, ResolvedMember } from '@/contract/views';
import { OUT_DB } from '@/core/layering/parameters';
import { LANES_RULER } from '@/picture/lanes';
import type { LevelsOfLayers } from '@/worker/layers';
import type { Inspected } from '@/worker/pool.worker';
import { decibels, minus } from '../parts/figures';
import { Glyph } from '../parts/Glyph';

interface LaneHeadsProps {
  readonly hit: HitView;
  readonly heights: { readonly lane: number; readonly sum: number };
  readonly chosen: string | undefined;
  readonly levels: LevelsOfLayers | null;
  readonly inspected: Inspected | null;
  readonly lostDb: number | null;
  readonly onChoose: (memberId: string) => void;
  readonly onSet: (member: ResolvedMember, said: string, set: { muted?: boolean; alone?: boolean }) => void;
}

/** Names, places and levels of the layers beside their lanes, and the sum's figures under them. */
export function LaneHeads(props: LaneHeadsProps) {
  const { hit, heights, chosen, levels, inspected, lostDb, onChoose, onSet } = props;
  const { steps } = hit;
  const sum = levels?.sum;
  return (
    <div className="flex w-[232px] flex-none flex-col border-line border-r" style={{ paddingTop: LANES_RULER }}>
      <ul aria-label="Layers">
        {hit.members.map((member) => (
          <LaneHead
            key={member.id}
            {...{ hit, member, onChoose, onSet }}
            height={heights.lane}
            isChosen={member.id === chosen}
          />
        ))}
      </ul>
      <div className="min-h-0 flex-1 border-ink border-t px-3 pt-1" data-testid="sum">
        <p className="font-semibold">
          Sum{' '}
          {steps.length > 0 && inspected && (
            <span className="figure font-normal text-[12px] text-soft">
              after {steps.length} {steps.length === 1 ? 'step' : 'steps'} {decibels(inspected.figures.truePeakDbtp)}TP
            </span>
          )}
        </p>
        <p className="figure truncate text-[12px]">
          {sum ? `${decibels(sum.peakDbfs)}FS · ${decibels(sum.truePeakDbtp)}TP` : '…'}
        </p>
        <p
          className="figure truncate text-[12px]"
          title="Highest momentary loudness; what the lows lose against the layers’ own powers"
        >
          {sum && `${minus(sum.lufs.toFixed(1))} LUFS`}
          {lostDb !== null && (
            <span className={lostDb >= 1 ? 'text-madder' : 'text-verdigris'}> · lost {decibels(lostDb)}</span>
          )}
        </p>
      </div>
    </div>
  );
}

/** Lanes lower than this have their heads on one line, in pixels. */
const LOW_PX = 44;

interface LaneHeadProps extends Pick<LaneHeadsProps, 'hit' | 'onChoose' | 'onSet'> {
  readonly member: ResolvedMember;
  readonly height: number;
  readonly isChosen: boolean;
}

function LaneHead({ hit, member, height, isChosen, onChoose, onSet }: LaneHeadProps) {
  const { name, family } = member.hit;
  const isLow = height < LOW_PX;
  const lines = isLow ? 'inline' : 'block';
  return (
    <li
      data-testid="lane"
      aria-current={isChosen}
      className={`relative flex overflow-hidden border-line border-t px-2 ${isLow ? 'items-center' : 'items-start'} gap-2 ${isChosen ? 'bg-selection' : 'bg-sheet'}`}
      style={{ height }}
    >
      <button
        type="button"
        className={`flex min-w-0 flex-1 items-start gap-2 text-left ${isLow ? '' : 'pt-1'}`}
        onClick={() => onChoose(member.id)}
      >
        <Glyph family={family} />
        <span className="min-w-0 flex-1 leading-[18px]">
          <span className="block truncate font-semibold">{name}</span>
          {!isLow && <span className="block truncate text-[12px] text-soft">{toldOf(hit, member)}</span>}
        </span>
        <span className="figure flex-none whitespace-nowrap text-right text-[12px] leading-[18px]">
          <span className={lines}>{minus(String(member.offsetFrames))} smp</span>{' '}
          {!isLow && <span className={lines}>{decibels(member.levelDb)}</span>}
        </span>
      </button>
      <span className={`flex flex-none items-center ${isLow ? 'gap-1' : 'flex-col pt-1'}`}>
        <button
          type="button"
          className="rounded text-soft hover:text-ink"
          aria-label={`${member.muted ? 'Unmute' : 'Mute'} ${name}`}
          aria-pressed={member.muted}
          title={member.muted ? 'Muted: heard again' : 'Mute'}
          onClick={() => onSet(member, member.muted ? 'unmuted' : 'muted', { muted: !member.muted })}
        >
          {member.muted ? <VolumeX size={15} aria-hidden /> : <Volume2 size={15} aria-hidden />}
        </button>
        <button
          type="button"
          className={`rounded px-0.5 text-[11px] ${member.alone ? 'bg-verdigris text-sheet' : 'text-soft hover:text-ink'}`}
          aria-label={`${name} alone`}
          aria-pressed={member.alone}
          title="Heard alone, with others that are alone (Alt ↑ ↓)"
          onClick={() => onSet(member, member.alone ? 'no longer alone' : 'alone', { alone: !member.alone })}
        >
          alone
        </button>
      </span>
    </li>
  );
}

/** What a layer does in the sum, in a few words. */
function toldOf({ edgesHz }: HitView, member: ResolvedMember): string {
  const { inverted, steps, pan } = member;
  const parts = [
    ...bandsTold(member, edgesHz),
    ...(inverted ? ['turned'] : []),
    ...(pan === 0 ? [] : [`${Math.round(Math.abs(pan) * 100)} % ${pan < 0 ? 'left' : 'right'}`]),
    ...(steps.length === 0 ? [] : [`${steps.length} ${steps.length === 1 ? 'step' : 'steps'}`]),
  ];
  return parts.join(' · ') || (member.hit.members.length > 0 ? `${member.hit.members.length} layers` : 'all of it');
}

function bandsTold({ bandsDb }: ResolvedMember, edgesHz: readonly number[]): string[] {
  if (edgesHz.length === 0) return [];
  const full = Array.from({ length: edgesHz.length + 1 }, (_, band) => (bandsDb[band] ?? 0) > OUT_DB);
  const from = full.indexOf(true);
  const to = full.lastIndexOf(true);
  if (from < 0) return ['in no band'];
  if (from === 0 && to === edgesHz.length) return ['all bands'];
  if (from === 0) return [`under ${edgesHz[to]} Hz`];
  if (to === edgesHz.length) return [`over ${edgesHz[from - 1]} Hz`];
  return [`${edgesHz[from - 1]} to ${edgesHz[to]} Hz`];
}
