/** Terms of use of a recording. `unknown` is the honest default. */
export const RIGHTS = ['own', 'public-domain', 'cc0', 'cc-by', 'other', 'not-shared', 'unknown'] as const;
export type RightsKind = (typeof RIGHTS)[number];

export const RIGHTS_LABEL: Readonly<Record<RightsKind, string>> = {
  own: 'own work',
  'public-domain': 'public domain',
  cc0: 'CC0 1.0',
  'cc-by': 'CC BY 4.0',
  other: 'other licence',
  'not-shared': 'not to be shared',
  unknown: 'unknown',
};

/** Facts about a recording's rights that sharing it needs. */
export interface RightsFields {
  readonly rightsKind: RightsKind;
  readonly rightsText: string;
}

/** Why a sound under these rights cannot be shared yet, and what to do; null where it can be. */
export function heldBack({ rightsKind, rightsText }: RightsFields): string | null {
  switch (rightsKind) {
    case 'not-shared':
      return 'Its recording is marked as not to be shared. Use another sound, or ask its owner and set the rights anew.';
    case 'unknown':
      return 'Nobody has said whose its recording is. Set its rights on Recordings, or here.';
    case 'other':
      return rightsText.trim() === ''
        ? 'It is under another licence, but its terms are not told. Write them down, so that they can be passed on.'
        : null;
    default:
      return null;
  }
}
