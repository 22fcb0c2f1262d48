import { SlicePage } from '@/ui/slice/SlicePage';

interface Props {
  readonly params: Promise<{ id: string }>;
}

export default async function Page({ params }: Props) {
  const { id } = await params;
  return <SlicePage key={id} recordingId={id} />;
}
