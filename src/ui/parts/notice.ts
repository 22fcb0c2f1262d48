import { toast } from 'sonner';

/** The message that stands now on each matter. */
const standing = new Map<string, string | number>();

/**
 * Tells something in the place of what was told before on the same matter. It is a new message each time: words put into
 * one that is fading out already would fade with it, unread.
 */
export function tellInstead(
  matter: string,
  message: string,
  { error = false, durationMs }: { error?: boolean; durationMs?: number | undefined } = {},
): void {
  const before = standing.get(matter);
  if (before !== undefined) toast.dismiss(before);
  standing.set(matter, (error ? toast.error : toast)(message, { duration: durationMs }));
}

/** Tells something in passing; the same words told again stand once. */
export function tell(message: string, options: { durationMs?: number } = {}): void {
  tellInstead(message, message, options);
}

/** The same of what went wrong. */
export function complain(message: string, options: { durationMs?: number } = {}): void {
  tellInstead(message, message, { ...options, error: true });
}
