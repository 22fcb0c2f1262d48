import { MemberTreatmentPage } from '@/ui/treatment/TreatmentPage';

interface Props {
  readonly params: Promise<{ id: string; member: string }>;
}

export default async function Page({ params }: Props) {
  const { id, member } = await params;
  return <MemberTreatmentPage hitId={id} memberId={member} />;
}
