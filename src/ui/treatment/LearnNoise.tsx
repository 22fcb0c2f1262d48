import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { complain, tell } from '../parts/notice';
import { learnRoom } from './learn-room';

/** Shows where a noise reduction's noise comes from, and learns it from the quietest moment of the recording. */
export function LearnNoise({
  recording,
  isLearnt,
  onLearn,
}: {
  recording: RecordingView;
  isLearnt: boolean;
  onLearn: (room: string) => void;
}) {
  const [busy, setBusy] = useState(false);
  const learn = async () => {
    const learnt = await learnRoom(recording);
    if (!learnt)
      tell('There is no stretch of room tone in this recording; the noise is estimated from the hit itself.');
    else {
      onLearn(learnt.room);
      tell(`Learnt from the quietest moment of the recording, at ${learnt.atS.toFixed(2)} s.`);
    }
  };
  return (
    <p className="flex h-[26px] items-center gap-2 border-line border-b">
      <span className="w-[104px] flex-none">Room tone</span>
      <span className="truncate text-soft">{isLearnt ? 'learnt from the recording' : 'estimated from the hit'}</span>
      <button
        type="button"
        className="ml-auto flex-none rounded px-1 text-verdigris hover:underline disabled:text-soft"
        disabled={busy || !recording.analysed}
        onClick={() => {
          setBusy(true);
          learn()
            .catch((error: Error) => complain(error.message))
            .finally(() => setBusy(false));
        }}
      >
        {busy ? 'listening …' : isLearnt ? 'learn again' : 'learn it'}
      </button>
      {isLearnt && (
        <button type="button" className="flex-none rounded px-1 text-soft hover:text-ink" onClick={() => onLearn('')}>
          forget
        </button>
      )}
    </p>
  );
}
