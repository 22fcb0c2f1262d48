import { type Recording, RIGHTS_LABEL } from './model';

export { RIGHTS_LABEL };

export type RightsFields = Pick<Recording, 'rightsKind' | 'rightsText'>;

/** Why a sound under these rights cannot be passed on as things stand, and what to do; null where it may be. */
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
