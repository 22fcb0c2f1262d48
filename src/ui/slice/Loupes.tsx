'use client';

import type { RecordingView } from '@/contract/views';
import { useAnalysisProgress } from '../data/queries';
import { ListenAgain } from '../parts/ListenAgain';
import { Loupe, type LoupeProps } from './Loupe';

type Shared = Omit<LoupeProps, 'edge' | 'slice' | 'restFrame' | 'onMove'>;

interface LoupesProps extends Shared {
  /** The slice or hit whose edges are magnified, and the same as it is stored. */
  readonly subject: LoupeProps['slice'] | undefined;
  readonly rest: LoupeProps['slice'] | undefined;
  readonly onMove: (id: string, edge: LoupeProps['edge'], frame: number, done: boolean) => void;
}

/** Start and end of what is chosen, magnified; a word on what to do where nothing is chosen. */
export function Loupes({ subject, rest, onMove, ...shared }: LoupesProps) {
  if (!subject || !rest) return <NothingChosen recording={shared.recording} />;
  return (['start', 'end'] as const).map((edge) => (
    <Loupe
      key={edge}
      {...shared}
      edge={edge}
      slice={subject}
      restFrame={edge === 'start' ? rest.startFrame : rest.endFrame}
      onMove={(frame, done) => onMove(subject.id, edge, frame, done)}
    />
  ));
}

function NothingChosen({ recording }: { recording: RecordingView }) {
  const progress = useAnalysisProgress(recording.id);
  if (recording.analysed)
    return <p className="m-auto text-soft">Choose a slice to see its start and end magnified here.</p>;
  if (recording.unlistened !== null)
    return (
      <p className="m-auto text-soft">
        It was not listened to: {recording.unlistened}.{' '}
        <ListenAgain recordingId={recording.id} reason={recording.unlistened} />
      </p>
    );
  return (
    <p className="m-auto text-soft">
      Listening for onsets, {Math.floor(progress * 100)} % … the marks appear when all of it has been heard.
    </p>
  );
}
