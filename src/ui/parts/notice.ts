import { toast } from 'sonner';

/** The current message of each subject. */
const standing = new Map<string, string | number>();

/**
 * Shows a message in place of the previous one on the subject. It is a new toast each time: text put into one that is
 * fading out would fade with it.
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

/** Shows a message; repeated text is shown once. */
export function tell(message: string, options: { durationMs?: number } = {}): void {
  tellInstead(message, message, options);
}

/** Shows an error. */
export function complain(message: string, options: { durationMs?: number } = {}): void {
  tellInstead(message, message, { ...options, error: true });
}
