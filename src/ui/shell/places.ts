import { usePathname } from 'next/navigation';
import { useEffect, useState } from 'react';

/** The places of the application, in the order of work, each with its key: those of before kept theirs. */
export const PLACES = [
  ['/record', 'Record', 6],
  ['/recordings', 'Recordings', 1],
  ['/slice', 'Slice', 2],
  ['/hits', 'Hits', 3],
  ['/kits', 'Kits', 4],
  ['/grooves', 'Grooves', 5],
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
