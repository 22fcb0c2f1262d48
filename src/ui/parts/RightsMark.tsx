import { Ban, CircleHelp } from 'lucide-react';
import { heldBack, RIGHTS_LABEL, type RightsFields } from '@/core/rights/rights';

/** Marks a sound that may not be shared, or of unknown rights; nothing otherwise. */
export function RightsMark({ rights, size = 13 }: { rights: RightsFields | undefined; size?: number }) {
  const held = rights ? heldBack(rights) : null;
  if (!rights || !held) return null;
  const Icon = rights.rightsKind === 'not-shared' ? Ban : CircleHelp;
  return (
    <span
      role="img"
      className="inline-flex flex-none text-madder"
      aria-label={`Rights: ${RIGHTS_LABEL[rights.rightsKind]}`}
      title={held}
    >
      <Icon size={size} aria-hidden />
    </span>
  );
}
