import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { HitView, ImportAnswer } from '@/contract/views';
import { browserId, postJson, tabId } from '../data/api';
import { keys } from '../data/queries';
import { complain, tell } from '../parts/notice';

/** Prints the hit as it sounds to a recording of its own, ready to be split anew. */
export function PrintButton({ hit }: { hit: HitView }) {
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  const print = async () => {
    const { title, duplicate } = await postJson<ImportAnswer>(`/api/hits/${hit.id}/print`, {
      browser: browserId(),
      tab: tabId,
    });
    await client.invalidateQueries({ queryKey: keys.recordings });
    tell(
      duplicate
        ? `This sound was printed before: it is the recording “${title}”.`
        : `Printed: the recording “${title}”.`,
    );
  };
  return (
    <button
      type="button"
      className="quiet-button"
      title="As it sounds, to a recording of its own with the rights of its source"
      disabled={busy}
      onClick={() => {
        setBusy(true);
        print()
          .catch((error: Error) => complain(error.message))
          .finally(() => setBusy(false));
      }}
    >
      {busy ? 'Printing …' : 'Print'}
    </button>
  );
}
