import { toast } from 'sonner';

interface Notice {
  readonly durationMs?: number | undefined;
  /** Something to do about it, offered beside the message. */
  readonly action?: { readonly label: string; readonly onClick: () => void };
}

/** The current message of each subject. */
const standing = new Map<string, string | number>();

/**
 * Shows a message in place of the previous one on the subject. It is a new toast each time: text put into one that is
 * fading out would fade with it.
 */
export function tellInstead(
  matter: string,
  message: string,
  { error = false, durationMs, action }: Notice & { error?: boolean } = {},
): void {
  const before = standing.get(matter);
  if (before !== undefined) toast.dismiss(before);
  standing.set(matter, (error ? toast.error : toast)(message, { duration: durationMs, action }));
}

/** Shows a message; repeated text is shown once. */
export function tell(message: string, options: Notice = {}): void {
  tellInstead(message, message, options);
}

/** Shows an error. */
export function complain(message: string, options: Notice = {}): void {
  tellInstead(message, message, { ...options, error: true });
}
