import { SlicePage } from '@/ui/slice/SlicePage';

export default async function Page({ params }: { params: Promise<{ id: string }> }) {
  const { id } = await params;
  return <SlicePage key={id} recordingId={id} />;
}
