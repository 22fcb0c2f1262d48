import { useQueryClient } from '@tanstack/react-query';
import { useRouter } from 'next/navigation';
import type { HitView, RecordingView } from '@/contract/views';
import type { MadeVoice, MakeVoice } from '@/contract/voices';
import { HIT_INITIAL } from '@/core/hit/initial';
import type { TreatedHit } from '@/core/hit/key';
import { sparse } from '@/core/parameter/values';
import { VOICE_PARAMETERS } from '@/core/voice/parameters';
import { VOICE_RATE } from '@/core/voice/source';
import type { StartingPoint } from '@/core/voice/starting-points';
import { browserId, postJson, tabId } from '../data/api';
import { keys } from '../data/queries';
import { useKitDesk } from '../pads/kit-context';
import { stretchOfHit } from '../pads/laying';

/** A voice that is no hit yet, to be heard: as a hit of no recording. */
export function voiceToHear({ name, family, voice }: StartingPoint): { hit: TreatedHit; recording: RecordingView } {
  const settings = sparse(VOICE_PARAMETERS, voice);
  const hit = {
    ...HIT_INITIAL,
    ...{ id: '', name, family, recordingId: 'voice', startFrame: 0, endFrame: 1, sliceId: null, steps: [] },
    voice: { settings, seed: 1, velocity: 127 },
  };
  const recording = { id: 'voice', sampleRate: VOICE_RATE, channelCount: 1, frames: 1 } as RecordingView;
  return { hit, recording };
}

/** Makes a hit of a starting point, lays it on the chosen pad where that is free, else on the next one, and opens it. */
export function useMakeVoice(): (point: StartingPoint) => Promise<void> {
  const client = useQueryClient();
  const router = useRouter();
  const { view, chosen, lay } = useKitDesk();
  return async ({ name, family, voice }) => {
    const body: MakeVoice = {
      ...{ browser: browserId(), tab: tabId, name, family },
      voice: { settings: sparse(VOICE_PARAMETERS, voice), seed: 1, velocity: 127 },
    };
    const { hitId, recordingId } = await postJson<MadeVoice>('/api/voices', body);
    await Promise.all([
      client.refetchQueries({ queryKey: keys.recordings }),
      client.refetchQueries({ queryKey: keys.hits }),
    ]);
    const hit = client.getQueryData<readonly HitView[]>(keys.hits)?.find(({ id }) => id === hitId);
    const recording = client
      .getQueryData<readonly RecordingView[]>(keys.recordings)
      ?.find(({ id }) => id === recordingId);
    const isFree = chosen !== null && view?.pads.every(({ position }) => position !== chosen);
    if (view && hit && recording) lay(stretchOfHit(hit, recording), isFree ? chosen : null, 'next');
    router.push(`/hits/${hitId}`);
  };
}
