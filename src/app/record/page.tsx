import { RecordPage } from '@/ui/record/RecordPage';

export default function Page() {
  return <RecordPage />;
}
