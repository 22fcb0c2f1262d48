import { listenToMissing } from '@/server/analysis/describe';
import { workspace } from '@/server/workspace';
import { SlicePage } from '@/ui/slice/SlicePage';

interface Props {
  readonly params: Promise<{ id: string }>;
  readonly searchParams: Promise<{ view?: string }>;
}

export default async function Page({ params, searchParams }: Props) {
  const { id } = await params;
  // Shelves ask for what is heard in all slices: that is begun while the page is on its way.
  if ((await searchParams).view === 'shelves') {
    const { db, threads } = workspace();
    if (listenToMissing(db, id)) threads.wake();
  }
  return <SlicePage key={id} recordingId={id} />;
}
