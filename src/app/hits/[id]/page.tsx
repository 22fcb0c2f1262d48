import { TreatmentPage } from '@/ui/treatment/TreatmentPage';

interface Props {
  readonly params: Promise<{ id: string }>;
}

export default async function Page({ params }: Props) {
  const { id } = await params;
  return <TreatmentPage hitId={id} />;
}
