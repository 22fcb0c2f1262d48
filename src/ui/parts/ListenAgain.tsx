import { useQueryClient } from '@tanstack/react-query';
import { postJson } from '../data/api';
import { keys } from '../data/queries';
import { refetch } from '../data/turns';
import { complain } from './notice';

/** Retries an analysis that was given up. */
export function ListenAgain({ recordingId, reason }: { recordingId: string; reason: string }) {
  const client = useQueryClient();
  return (
    <button
      type="button"
      className="rounded border border-line px-1 font-text text-madder hover:border-edge"
      title={`It was not listened to: ${reason}`}
      onClick={(event) => {
        event.stopPropagation();
        postJson(`/api/recordings/${recordingId}/listen`, {}).then(
          () => refetch(client, keys.recordings, keys.cut(recordingId)),
          (error: Error) => complain(error.message),
        );
      }}
    >
      listen again
    </button>
  );
}
