import { SliceStart } from '@/ui/slice/SliceStart';

export default function Page() {
  return <SliceStart />;
}
