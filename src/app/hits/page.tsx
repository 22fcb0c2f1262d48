import { Suspense } from 'react';
import { HitsPage } from '@/ui/hits/HitsPage';

export default function Page() {
  // What the address asks for is known in the browser only.
  return (
    <Suspense>
      <HitsPage />
    </Suspense>
  );
}
