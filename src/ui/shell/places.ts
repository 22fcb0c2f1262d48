import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';

/** The places of the application, in the order of work. */
export const PLACES = [
  ['/record', 'Record'],
  ['/recordings', 'Recordings'],
  ['/slice', 'Slice'],
  ['/hits', 'Hits'],
  ['/kits', 'Kits'],
  ['/grooves', 'Grooves'],
] as const;

/** The last recording on Slice, so that leaving and coming back loses nothing. */
export function useSliceAddress(): string {
  const path = usePathname();
  const [slice, setSlice] = useState('/slice');
  useEffect(() => {
    const id = path?.startsWith('/slice/') ? path.slice('/slice/'.length) : sessionStorage.getItem('undercroft.slice');
    if (id) setSlice(`/slice/${id}`);
  }, [path]);
  return slice;
}
