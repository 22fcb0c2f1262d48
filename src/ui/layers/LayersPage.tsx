'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useOpenedHit } from '../data/use-opened-hit';

const opening = <p className="m-auto text-soft">Opening the layers …</p>;

// Its pictures and charts are loaded with the first layered hit that is opened.
const LayersDesk = dynamic(() => import('./LayersDesk').then((m) => m.LayersDesk), {
  ssr: false,
  loading: () => opening,
});

/** A layered hit being built: its layers on one axis, how they add, and what is done to their sum. */
export function LayersPage({ hitId }: { hitId: string }) {
  const { hit, recording, hits, error, isPending } = useOpenedHit(hitId);
  if (hit && recording && hit.members.length > 0)
    return <LayersDesk key={hitId} hit={hit} recording={recording} hits={hits} />;
  if (isPending) return opening;
  return (
    <div className="m-auto text-center">
      <p className="mb-3 text-madder">{whyNot(error, hit?.name)}</p>
      <Link className="quiet-button inline-block leading-[26px]" href="/hits">
        To the hits
      </Link>
    </div>
  );
}

function whyNot(error: Error | null, name: string | undefined): string {
  if (error) return `The layers could not be opened: ${error.message}`;
  if (name === undefined) return 'There is no such hit: it may have been removed.';
  return `“${name}” has no layers: choose it and others on Hits, then “Layer them”.`;
}
