'use client';

import { useRouter } from 'next/navigation';
import { useEffect } from 'react';
import { useLiveRecordings, useRecordings } from '../data/queries';
import { useImports } from '../imports/use-imports';

/** Slice without a recording: opens the first one, or says what is missing. */
export function SliceStart() {
  const { data } = useRecordings();
  const live = useLiveRecordings();
  const { open } = useImports();
  const router = useRouter();
  const first = live[0];
  useEffect(() => {
    if (first) router.replace(`/slice/${sessionStorage.getItem('undercroft.slice') ?? first.id}`);
  }, [first, router]);
  if (!data || first) return <p className="m-auto text-soft">Opening the recording …</p>;
  return (
    <div className="m-auto text-center">
      <p className="font-head text-2xl">Nothing to slice yet</p>
      <p className="mt-2 text-soft">Drop a sound file anywhere in this window, or choose one.</p>
      <button type="button" className="next-button mt-4" onClick={open}>
        Import …
      </button>
    </div>
  );
}
