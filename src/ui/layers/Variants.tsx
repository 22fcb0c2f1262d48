import { useState } from 'react';
import type { HitView, RecordingView } from '@/contract/views';
import { VariantGrid } from './VariantGrid';

interface VariantsProps {
  readonly hit: HitView;
  readonly recording: RecordingView;
  readonly hits: readonly HitView[];
  readonly lengthMs: number | null;
}

/** Opens the grid of a layered hit's variants. */
export function Variants(props: VariantsProps) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <button
        type="button"
        className="quiet-button whitespace-nowrap"
        title="Other sounds in the places of two layers, all of them at once"
        disabled={props.hit.members.length < 2}
        onClick={() => setOpen(true)}
      >
        Variants …
      </button>
      {open && <VariantGrid {...props} onClose={() => setOpen(false)} />}
    </>
  );
}
