import { HitsPage } from '@/ui/hits/HitsPage';

export default function Page() {
  return <HitsPage />;
}
