import { KitsPage } from '@/ui/kits/KitsPage';

export default function Page() {
  return <KitsPage />;
}
