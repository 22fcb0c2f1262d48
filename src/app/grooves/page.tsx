import { GroovesPage } from '@/ui/grooves/GroovesPage';

export default function Page() {
  return <GroovesPage />;
}
