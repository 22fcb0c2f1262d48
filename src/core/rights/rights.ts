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

/** From what binds most to what binds least. */
const STRICTEST: readonly RightsKind[] = ['not-shared', 'unknown', 'other', 'cc-by', 'own', 'cc0', 'public-domain'];
const LONGEST_OWNER = 200;
const LONGEST_TEXT = 2000;

/** The rights of one recording among several whose sounds are mixed. */
export interface RightsOf extends RightsFields {
  readonly title: string;
  readonly rightsOwner: string;
}

/** The rights of a sound that several recordings are in: the strictest terms, every owner, and the terms of each in words. */
export function combinedRights(all: readonly RightsOf[]): Omit<RightsOf, 'title'> {
  const rightsKind = STRICTEST.find((kind) => all.some((one) => one.rightsKind === kind)) ?? 'unknown';
  const [first] = all;
  const isOne = all.every((one) => one.rightsKind === rightsKind && one.rightsText === first?.rightsText);
  const owners = [...new Set(all.map(({ rightsOwner }) => rightsOwner).filter((owner) => owner !== ''))];
  const texts = all.map(({ title, rightsKind: kind, rightsText }) =>
    [`${title}: ${RIGHTS_LABEL[kind]}`, ...(rightsText.trim() === '' ? [] : [rightsText.trim()])].join(' - '),
  );
  // Another licence whose terms nobody has told stays without terms, which keeps it from being passed on.
  const isTold = all.every((one) => one.rightsKind !== 'other' || one.rightsText.trim() !== '');
  const text = isOne ? (first?.rightsText ?? '') : rightsKind === 'other' && !isTold ? '' : texts.join('; ');
  return {
    rightsKind,
    rightsOwner: owners.join('; ').slice(0, LONGEST_OWNER),
    rightsText: text.slice(0, LONGEST_TEXT),
  };
}
