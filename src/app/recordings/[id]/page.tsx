import type { Metadata } from 'next';
import { RecordingTreatmentPage } from '@/ui/treatment/TreatmentPage';

export const metadata: Metadata = { title: 'Undercroft · Recording' };

type Query = Readonly<Record<string, string | string[] | undefined>>;

/** `from` and `to` are frames of the recording; without them its beginning is shown. */
export default async function Page({
  params,
  searchParams,
}: {
  params: Promise<{ id: string }>;
  searchParams: Promise<Query>;
}) {
  const [{ id }, query] = await Promise.all([params, searchParams]);
  const frame = (name: string, missing: number) => {
    const value = Number(query[name] ?? missing);
    return Number.isSafeInteger(value) && value >= 0 ? value : missing;
  };
  return <RecordingTreatmentPage recordingId={id} from={frame('from', 0)} to={frame('to', Number.MAX_SAFE_INTEGER)} />;
}
