import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import type { ImportAnswer } from '@/contract/views';
import { browserId, postJson, tabId } from '../data/api';
import { keys } from '../data/queries';
import { complain, tell } from '../parts/notice';
import type { Subject } from './subject';

/** Prints a hit or a recording as it sounds to a recording of its own, its marks carried over, ready to be split anew. */
export function PrintButton({ subject }: { subject: Subject }) {
  const client = useQueryClient();
  const [busy, setBusy] = useState(false);
  const { hit, sound } = subject;
  const print = async () => {
    const path = hit ? `/api/hits/${hit.id}/print` : `/api/recordings/${sound.recordingId}/print`;
    const { title, duplicate } = await postJson<ImportAnswer>(path, { browser: browserId(), tab: tabId });
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
      title={`${hit ? 'As it sounds' : 'All of it, as it sounds'}, to a recording of its own with the rights and marks of its source`}
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
