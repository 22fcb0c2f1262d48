'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useSearchParams } from 'next/navigation';
import { useEffect } from 'react';
import { useCut } from '../data/queries';

const opening = <p className="m-auto text-soft">Opening the recording …</p>;

// Loaded when a recording is opened: links on every page prefetch this one's scripts, and the desk is most of them.
const Shelves = dynamic(() => import('../shelves/Shelves').then((m) => m.Shelves), {
  ssr: false,
  loading: () => opening,
});
const Desk = dynamic(() => import('./Desk').then((m) => m.Desk), { ssr: false, loading: () => opening });

/**
 * A recording being cut. In the address: `?hit=` shows a hit's own edges, `?view=shelves` the slices by drum, `&with=`
 * adds other recordings.
 */
export function SlicePage({ recordingId }: { recordingId: string }) {
  const { data, error, refetch } = useCut(recordingId);
  const asked = useSearchParams();
  const hitId = asked.get('hit');
  useEffect(() => sessionStorage.setItem('undercroft.slice', recordingId), [recordingId]);
  // A view that is loaded stays, even if it cannot be fetched again.
  if (error && !data) {
    return (
      <div className="m-auto text-center">
        <p className="mb-3 text-madder">The recording could not be opened: {error.message}</p>
        <button type="button" className="quiet-button" onClick={() => void refetch()}>
          Try again
        </button>{' '}
        <Link className="quiet-button inline-block leading-[26px]" href="/recordings">
          To the recordings
        </Link>
      </div>
    );
  }
  if (!data) return opening;
  const withIds = (asked.get('with') ?? '').split(',').filter((id) => id !== '' && id !== recordingId);
  return asked.get('view') === 'shelves' ? (
    <Shelves view={data} withIds={withIds} />
  ) : (
    <Desk view={data} hitId={hitId} />
  );
}
