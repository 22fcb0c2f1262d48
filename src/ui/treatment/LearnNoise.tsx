import { useState } from 'react';
import type { RecordingView } from '@/contract/views';
import type { LearntTone } from '@/worker/pool.worker';
import { complain, tell } from '../parts/notice';
import { learnRoom, quietestMoment, type RoomStretch, roomBefore } from './learn-room';

const FORGOTTEN: LearntTone = { room: '', humHz: null, rest: '' };

/** Shows where a noise reduction's noise comes from; learns it from the quietest moment of the recording, or from what is in sight. */
export function LearnNoise({
  recording,
  inSight,
  learnt,
  onLearn,
}: {
  recording: RecordingView;
  /** The stretch of the recording that the wave shows. */
  inSight: () => RoomStretch;
  learnt: LearntTone;
  onLearn: (tone: LearntTone) => void;
}) {
  const [busy, setBusy] = useState(false);
  const learn = async (from: RoomStretch | null, nowhere: string) => {
    const tone = from && (await learnRoom(recording, from));
    if (!tone || !from) {
      tell(nowhere);
      return;
    }
    onLearn(tone);
    const hum = tone.humHz === null ? '' : `, with a hum of ${tone.humHz.toFixed(2)} Hz in it`;
    tell(`Learnt from ${(from.start / recording.sampleRate).toFixed(2)} s on${hum}.`);
  };
  const run = (work: () => Promise<void>) => () => {
    setBusy(true);
    work()
      .catch((error: Error) => complain(error.message))
      .finally(() => setBusy(false));
  };
  const isLearnt = learnt.room !== '';
  const button = 'flex-none rounded px-1 text-verdigris hover:underline disabled:text-soft';
  return (
    <p className="flex h-[26px] items-center gap-1 border-line border-b">
      <span className="w-[104px] flex-none">Room tone</span>
      <span className="min-w-0 flex-1 truncate text-soft">
        {busy ? 'listening …' : isLearnt ? 'learnt from the recording' : 'estimated from the hit'}
      </span>
      <button
        type="button"
        className={button}
        disabled={busy || !recording.analysed}
        title="Learn it from the room before the take, or from the quietest moment of the recording"
        onClick={run(async () => {
          const before = await roomBefore(recording);
          if (before) {
            onLearn(before);
            tell('Learnt from the room before the take.');
            return;
          }
          await learn(
            await quietestMoment(recording),
            'There is no stretch of room tone in this recording; the noise is estimated from the hit itself.',
          );
        })}
      >
        {isLearnt ? 'learn again' : 'learn it'}
      </button>
      <button
        type="button"
        className={button}
        disabled={busy}
        title="Learn it from what the wave shows: zoom to a stretch of room tone first"
        onClick={run(() => learn(inSight(), 'What is in sight is too short to learn from: show 50 ms at least.'))}
      >
        in sight
      </button>
      {isLearnt && (
        <button
          type="button"
          className="flex-none rounded px-1 text-soft hover:text-ink"
          onClick={() => onLearn(FORGOTTEN)}
        >
          forget
        </button>
      )}
    </p>
  );
}
