'use client';

import dynamic from 'next/dynamic';
import Link from 'next/link';
import { useMemo } from 'react';
import { draftedRecordings, useDrafts } from '../data/drafts';
import { useRecordings } from '../data/queries';
import { useOpenedHit } from '../data/use-opened-hit';
import { hitSubject, memberSubject, recordingSubject } from './subject';

const opening = <p className="m-auto text-soft">Opening the sound …</p>;

// Its filters and pictures are loaded with the first hit that is opened.
const TreatmentDesk = dynamic(() => import('./TreatmentDesk').then((m) => m.TreatmentDesk), {
  ssr: false,
  loading: () => opening,
});

/** A hit being treated: what is done to its sound, seen and heard against what it was. */
export function TreatmentPage({ hitId }: { hitId: string }) {
  const { hit, recording, error, isPending } = useOpenedHit(hitId);
  const subject = useMemo(() => hit && hitSubject(hit), [hit]);
  if (subject && recording) return <TreatmentDesk key={hitId} subject={subject} recording={recording} />;
  return isPending ? opening : <NotThere what="hit" error={error} />;
}

/** A layer of a layered hit being treated: what is done to its hit in this one only. */
export function MemberTreatmentPage({ hitId, memberId }: { hitId: string; memberId: string }) {
  const { hit, recordings, error, isPending } = useOpenedHit(hitId);
  const member = hit?.members.find(({ id }) => id === memberId);
  const subject = useMemo(() => hit && member && memberSubject(hit, member), [hit, member]);
  const recording = recordings.find((r) => r.id === member?.hit.recordingId);
  if (subject && recording)
    return <TreatmentDesk key={memberId} subject={subject} recording={recording} back={`/hits/${hitId}/layers`} />;
  return isPending ? opening : <NotThere what="hit" error={error} />;
}

/** A whole recording being treated: its hits inherit the steps. `from` and `to` are the frames that are shown and heard. */
export function RecordingTreatmentPage({ recordingId, from, to }: { recordingId: string; from: number; to: number }) {
  const recordings = useRecordings();
  const drafts = useDrafts();
  const stored = recordings.data?.find((r) => r.id === recordingId);
  const recording = useMemo(() => stored && draftedRecordings(drafts, [stored])[0], [stored, drafts]);
  const subject = useMemo(() => recording && recordingSubject(recording, from, to), [recording, from, to]);
  if (subject && recording) return <TreatmentDesk key={recordingId} subject={subject} recording={recording} />;
  if (recordings.isPending && !recordings.error) return opening;
  return <NotThere what="recording" error={recordings.error} />;
}

function NotThere({ what, error }: { what: 'hit' | 'recording'; error: Error | null }) {
  return (
    <div className="m-auto text-center">
      <p className="mb-3 text-madder">
        {error
          ? `The ${what} could not be opened: ${error.message}`
          : `There is no such ${what}: it may have been removed.`}
      </p>
      <Link className="quiet-button inline-block leading-[26px]" href={`/${what}s`}>
        To the {what}s
      </Link>
    </div>
  );
}
