import Link from 'next/link';
import type { Change } from '@/contract/edits';
import type { HitView, ResolvedMember } from '@/contract/views';
import { THIRD_OCTAVE_NAMES } from '@/core/layering/bands';
import type { Member } from '@/core/layering/model';
import { MEMBER_PARAMETERS, type MemberValues } from '@/core/layering/parameters';
import { clip } from '@/core/parameter/values';
import type { MendFound } from '@/worker/layers';
import { useCommands } from '../data/commit';
import { dropDraft, setDraft } from '../data/drafts';
import { decibels } from '../parts/figures';
import { ParameterRows } from '../parts/ParameterRows';
import { setMember } from './edits';
import type { Building } from './use-building';

const KEYS = ['offsetFrames', 'levelDb', 'pan', 'semitones', 'cents', 'inverted'] as const;

interface LayerPanelProps {
  readonly hit: HitView;
  readonly member: ResolvedMember;
  readonly building: Building;
  readonly onSet: (member: ResolvedMember, said: string, set: Partial<Member>) => void;
}

/** How the chosen layer lies in the sum, and the changes that would give back what the sum loses. */
export function LayerPanel({ hit, member, building, onSet }: LayerPanelProps) {
  const { commit } = useCommands();
  const remove = () =>
    void commit(`took ${member.hit.name} out of ${hit.name}`, [
      { op: 'remove', doc: 'member', id: member.id, rev: member.rev },
    ]);
  return (
    <section aria-label="Layer" className="flex w-[46%] min-w-0 flex-none flex-col px-4 py-1">
      <header className="flex h-7 flex-none items-center gap-3 text-[12px]">
        <h2 className="truncate font-semibold">{member.hit.name}</h2>
        <Link
          className="text-verdigris underline"
          href={`/hits/${member.hit.id}`}
          title="The hit itself, everywhere it plays"
        >
          open
        </Link>
        <Link
          className="text-verdigris underline"
          href={`/hits/${hit.id}/layers/${member.id}`}
          title="What is done to it in this layered hit only"
        >
          steps here · {member.steps.length}
        </Link>
        {hit.members.length > 1 && (
          <button type="button" className="ml-auto rounded px-1 text-soft hover:text-madder" onClick={remove}>
            take out
          </button>
        )}
      </header>
      <div className="min-h-0 flex-1 overflow-y-auto">
        {building.mends.map((mend) => (
          <MendLine key={mendName(mend)} {...{ hit, building, mend }} />
        ))}
        <ParameterRows
          of={MEMBER_PARAMETERS}
          keys={KEYS}
          values={member as MemberValues}
          onPreview={(key, value) =>
            value === null ? dropDraft('member', member.id) : setDraft('member', member.id, { [key]: value })
          }
          onSet={(said, values) => {
            onSet(member, `changed the ${said}`, values as Partial<Member>);
            dropDraft('member', member.id);
          }}
        />
      </div>
    </section>
  );
}

function MendLine({ hit, building, mend }: { hit: HitView; building: Building; mend: MendFound }) {
  const { commit } = useCommands();
  const { trial, setTrial, hear } = building;
  const name = mendName(mend);
  const isTried = trial?.name === name;
  const member = hit.members[mend.layer];
  const said = toldMend(mend, member?.hit.name ?? '');
  if (!mend.edgesHz && !member) return null;
  const take = () => {
    setTrial(null);
    const changes: Change[] = mend.edgesHz
      ? [{ op: 'update', doc: 'hit', id: hit.id, rev: hit.rev, set: { edgesHz: mend.edgesHz } }]
      : [setMember(member as ResolvedMember, mendedValues(mend, member as ResolvedMember))];
    void commit(`mended ${hit.name}: ${said}`.slice(0, 200), changes);
  };
  const listen = () => {
    setTrial(isTried ? null : { name, of: (of) => mendedHit(of, mend) });
    hear(isTried ? hit : mendedHit(hit, mend));
  };
  return (
    <div className="my-1 flex items-center gap-2 rounded-lg border border-madder px-2 py-1" data-testid="mend">
      <span className="min-w-0 flex-1 text-[13px]">
        {said} gives back {decibels(mend.gainDb)} at {THIRD_OCTAVE_NAMES[mend.band]} Hz
      </span>
      <button type="button" className="quiet-button" aria-pressed={isTried} onClick={listen}>
        {isTried ? 'As it was' : 'Hear it'}
      </button>
      <button type="button" className="next-button" onClick={take}>
        Take it
      </button>
    </div>
  );
}

function mendName({ layer, frames, turns, edgesHz = [] }: MendFound): string {
  return `mend ${layer} ${frames} ${turns} ${edgesHz.join()}`;
}

/** A mend in words: "Barrel 9 samples later, turned", "The edge at 120 Hz moved to 95 Hz". */
function toldMend({ frames, turns, edgesHz }: MendFound, name: string): string {
  if (edgesHz) return `Edges at ${edgesHz.join(', ')} Hz`;
  const moved = frames === 0 ? [] : [`${Math.abs(frames)} samples ${frames > 0 ? 'later' : 'earlier'}`];
  return `${name} ${[...moved, ...(turns ? ['turned'] : [])].join(', ')}`;
}

function mendedValues({ frames, turns }: MendFound, { offsetFrames, inverted }: ResolvedMember) {
  return {
    offsetFrames: clip(MEMBER_PARAMETERS.offsetFrames, offsetFrames + frames),
    inverted: inverted !== turns,
  };
}

function mendedHit(hit: HitView, mend: MendFound): HitView {
  if (mend.edgesHz) return { ...hit, edgesHz: [...mend.edgesHz] };
  const members = hit.members.map((member, n) =>
    n === mend.layer ? { ...member, ...mendedValues(mend, member) } : member,
  );
  return { ...hit, members };
}
