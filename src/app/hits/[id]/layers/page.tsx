import { LayersPage } from '@/ui/layers/LayersPage';

interface Props {
  readonly params: Promise<{ id: string }>;
}

export default async function Page({ params }: Props) {
  const { id } = await params;
  return <LayersPage hitId={id} />;
}
