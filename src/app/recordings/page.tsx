import { RecordingsPage } from '@/ui/recordings/RecordingsPage';

export default function Page() {
  return <RecordingsPage />;
}
