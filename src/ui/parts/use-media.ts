import { useEffect, useState } from 'react';

/** Whether a CSS media query holds, followed as it changes. */
export function useMedia(query: string): boolean {
  const [holds, setHolds] = useState(false);
  useEffect(() => {
    const media = window.matchMedia(query);
    const follow = () => setHolds(media.matches);
    follow();
    media.addEventListener('change', follow);
    return () => media.removeEventListener('change', follow);
  }, [query]);
  return holds;
}
