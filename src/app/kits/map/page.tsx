import { KitMap } from '@/ui/kits/KitMap';

export default function Page() {
  return <KitMap />;
}
