import { useEffect, useRef, useState } from 'react';
import { openSound } from './open-sound';
import type { Samples } from './samples';

type Answer<T> = { readonly of: string; readonly value: T } | { readonly of: string; readonly error: string };

/** The worker's answer about what `key` stands for; the last one until the next is there. Nothing is asked for a null key. */
export function useAnswer<T>(key: string | null, ask: (samples: Samples) => Promise<T>): Answer<T> | null {
  const [answer, setAnswer] = useState<Answer<T> | null>(null);
  const latest = useRef(key);
  latest.current = key;
  // biome-ignore lint/correctness/useExhaustiveDependencies: the key stands for all that is asked
  useEffect(() => {
    if (key === null) return;
    const current = (set: Answer<T>) => latest.current === key && setAnswer(set);
    openSound()
      .then((sound) => ask(sound.samples))
      .then(
        (value) => current({ of: key, value }),
        (error: Error) => current({ of: key, error: error.message }),
      );
  }, [key]);
  return answer;
}

export function answered<T>(answer: Answer<T> | null): { readonly value: T | null; readonly error: string | null } {
  if (!answer) return { value: null, error: null };
  return 'value' in answer ? { value: answer.value, error: null } : { value: null, error: answer.error };
}
