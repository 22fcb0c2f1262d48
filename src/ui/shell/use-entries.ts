import { useRouter } from 'next/navigation';
import { useHits, useKits, useLiveRecordings } from '../data/queries';
import { useSupplied } from '../imports/use-supplied';
import { useKitDesk } from '../pads/kit-context';
import { actionsHere } from '../parts/actions';
import { useStore } from '../parts/store';
import { PLACES, useSliceAddress } from './places';

/** A destination or an action. */
export interface Entry {
  readonly key: string;
  readonly group: 'Places' | 'Do' | 'Recordings' | 'Kits' | 'Hits';
  readonly name: string;
  /** Other names it is found by. */
  readonly also: readonly string[];
  readonly hint: string;
  readonly run: () => void;
}

/** All entries of the command box in order; nothing until the hits are loaded or have failed. */
export function useEntries(): { readonly entries: readonly Entry[]; readonly ready: boolean } {
  const router = useRouter();
  const recordings = useLiveRecordings();
  const kits = useKits();
  const hits = useHits();
  const slice = useSliceAddress();
  const actions = [...useStore(actionsHere).values()].flat();
  const { choose } = useKitDesk();
  const putSupplied = useSupplied();
  // Listed together with the hits, so that the first match is chosen among them too.
  const ready = hits.data !== undefined || hits.failureCount > 0;
  if (!ready) return { entries: [], ready };
  const entries: Entry[] = [
    ...PLACES.map(
      ([href, name, key]): Entry => ({
        key: `place ${href}`,
        group: 'Places',
        name,
        also: [`go to ${name}`],
        hint: `Ctrl Shift ${key}`,
        run: () => router.push(href === '/slice' ? slice : href),
      }),
    ),
    ...actions.map(
      ({ name, key, run }): Entry => ({ key: `do ${name}`, group: 'Do', name, also: [], hint: key ?? '', run }),
    ),
    {
      key: 'do supplied',
      group: 'Do',
      name: 'Put in the starter kit and its hits',
      also: ['supplied sounds'],
      hint: '',
      run: () => void putSupplied(),
    },
    ...recordings.map(
      ({ id, title, otherNames }): Entry => ({
        key: id,
        group: 'Recordings',
        name: title,
        also: otherNames,
        hint: '',
        run: () => router.push(`/slice/${id}`),
      }),
    ),
    ...(kits.data ?? []).map(
      ({ id, name, padCount, author, about, words }): Entry => ({
        key: id,
        group: 'Kits',
        name,
        also: [author, about, ...words].filter((text) => text !== ''),
        hint: `${padCount} pads`,
        run: () => {
          choose(id);
          router.push('/kits');
        },
      }),
    ),
    ...(hits.data ?? [])
      .filter((hit) => hit.binnedAt === null)
      .map(
        ({ id, name, family }): Entry => ({
          key: id,
          group: 'Hits',
          name,
          also: [],
          hint: family ?? '',
          run: () => router.push(`/hits?hit=${id}`),
        }),
      ),
  ];
  return { entries, ready };
}
