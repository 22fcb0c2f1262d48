import Link from 'next/link';
import type { HitView } from '@/contract/views';
import { SharedHit } from '../kits/pad/SharedHit';
import { useKitDesk } from '../pads/kit-context';

/** Says that a hit's own edges are shown, which pads follow them, and the way back to the slices. */
export function HitNote({ hit }: { hit: HitView }) {
  const { view: kit } = useKitDesk();
  return (
    <p className="flex h-8 flex-none items-center gap-3 border-line border-b bg-selection px-4" role="note">
      <span>
        The hit <b>{hit.name}</b> on its recording
        {hit.kits.length > 0 ? `; every pad that plays it follows (${hit.kits.join(', ')})` : ''}.
      </span>
      {kit && hit.kits.length > 1 && hit.kits.includes(kit.kit.name) && <SharedHit view={kit} hit={hit} />}
      <Link className="quiet-button leading-[24px]" href={`/slice/${hit.recordingId}`}>
        Back to the slices
      </Link>
    </p>
  );
}
