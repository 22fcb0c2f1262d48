'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useMemo } from 'react';
import { draftedHits, useDrafts } from '../data/drafts';
import { useHits, useRecordings } from '../data/queries';

const opening = <p className="m-auto text-soft">Opening the hit …</p>;

// Its filters and pictures are loaded with the first hit that is opened.
const TreatmentDesk = dynamic(() => import('./TreatmentDesk').then((m) => m.TreatmentDesk), {
  ssr: false,
  loading: () => opening,
});

/** A hit being treated: what is done to its sound, seen and heard against what it was. */
export function TreatmentPage({ hitId }: { hitId: string }) {
  const hits = useHits();
  const recordings = useRecordings();
  const drafts = useDrafts();
  const stored = hits.data?.find((h) => h.id === hitId);
  const hit = useMemo(() => stored && draftedHits(drafts, [stored])[0], [stored, drafts]);
  const recording = recordings.data?.find((r) => r.id === hit?.recordingId);
  const error = hits.error ?? recordings.error;
  if (hit && recording) return <TreatmentDesk key={hit.id} hit={hit} recording={recording} />;
  if (!error && (hits.isPending || recordings.isPending)) return opening;
  return (
    <div className="m-auto text-center">
      <p className="mb-3 text-madder">
        {error ? `The hit could not be opened: ${error.message}` : 'There is no such hit: it may have been removed.'}
      </p>
      <Link className="quiet-button inline-block leading-[26px]" href="/hits">
        To the hits
      </Link>
    </div>
  );
}
