import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import { quietestStretch } from '@/core/onset/silence';
import { getLevels } from '../data/api';
import { complain, tell } from '../parts/notice';
import { openSound } from '../sound/sound';

/** Wanted length of the room tone, and the shortest that is useful, in seconds. */
const WANTED_S = 0.8;
const LEAST_S = 0.1;

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
    const { sampleRate } = recording;
    const levels = await getLevels(recording.id);
    const quiet =
      quietestStretch(levels, WANTED_S * sampleRate) ?? quietestStretch(levels, LEAST_S * sampleRate) ?? null;
    const end = quiet && Math.min(quiet.end, recording.frames);
    const sound = await openSound();
    const room = quiet && end ? await sound.samples.learnNoise(recording, quiet.start, end) : null;
    if (!room || !quiet)
      tell('There is no stretch of room tone in this recording; the noise is estimated from the hit itself.');
    else {
      onLearn(room);
      tell(`Learnt from the quietest moment of the recording, at ${(quiet.start / sampleRate).toFixed(2)} s.`);
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
