import type { RecordingView } from '@/contract/views';
import { heldBack } from '@/core/rights/rights';
import { Choice, type Options } from '../parts/Choice';

/** Which recordings are shown, in addition to the search. */
export interface Filter {
  readonly what: string;
  readonly kind: string;
  readonly tag: string;
  readonly rights: 'any' | 'free' | 'held';
  readonly bin: boolean;
}

const RIGHTS_FILTERS: Options<Filter['rights']> = [
  ['any', 'any rights'],
  ['free', 'may be shared'],
  ['held', 'held back'],
];

export const ANY: Filter = { what: '', kind: '', tag: '', rights: 'any', bin: false };

export function passes(r: RecordingView, f: Filter): boolean {
  if ((r.binnedAt !== null) !== f.bin) return false;
  if (f.what !== '' && (r.what ?? 'none') !== f.what) return false;
  if (f.kind !== '' && r.fileKind !== f.kind) return false;
  if (f.tag !== '' && !r.tags.includes(f.tag)) return false;
  return f.rights === 'any' || (heldBack(r) !== null) === (f.rights === 'held');
}

export function Filters({
  rows,
  filter,
  onChange,
  binned,
}: {
  rows: readonly RecordingView[];
  filter: Filter;
  onChange: (filter: Filter) => void;
  binned: number;
}) {
  const kinds = [...new Set(rows.map((r) => r.fileKind))].sort();
  const tags = [...new Set(rows.flatMap((r) => r.tags))].sort((a, b) => a.localeCompare(b));
  const set = (part: Partial<Filter>) => onChange({ ...filter, ...part });
  const choice = (label: string, key: 'what' | 'kind' | 'tag', options: readonly (readonly [string, string])[]) => (
    <Choice
      label={label}
      className={`h-7 max-w-[110px] ${filter[key] === '' ? 'text-soft' : 'font-semibold text-verdigris'}`}
      value={filter[key]}
      options={options}
      onChoose={(value) => set({ [key]: value })}
    />
  );
  return (
    <>
      {choice('Show what', 'what', [
        ['', 'everything'],
        ['song', 'songs'],
        ['loop', 'loops'],
        ['take', 'takes'],
        ['one-shot', 'one-shots'],
        ['other', 'other'],
        ['none', 'not said'],
      ])}
      {kinds.length > 1 && choice('Show files', 'kind', [['', 'any file'], ...kinds.map((k) => [k, k] as const)])}
      {tags.length > 0 && choice('Show tag', 'tag', [['', 'any tag'], ...tags.map((t) => [t, t] as const)])}
      <Choice
        label="Show rights"
        className={`h-7 ${filter.rights === 'any' ? 'text-soft' : 'font-semibold text-verdigris'}`}
        value={filter.rights}
        options={RIGHTS_FILTERS}
        onChoose={(rights) => set({ rights })}
      />
      {(binned > 0 || filter.bin) && (
        <button
          type="button"
          aria-pressed={filter.bin}
          className={`rounded px-1 ${filter.bin ? 'font-semibold text-verdigris' : 'text-soft hover:text-ink'}`}
          onClick={() => set({ bin: !filter.bin })}
        >
          Bin {binned}
        </button>
      )}
    </>
  );
}
