import { HitsPage } from '@/ui/hits/HitsPage';

interface Props {
  /** `hit` is one that is to be chosen. */
  readonly searchParams: Promise<{ hit?: string | string[] }>;
}

export default async function Page({ searchParams }: Props) {
  const { hit } = await searchParams;
  return <HitsPage asked={typeof hit === 'string' ? hit : null} />;
}
