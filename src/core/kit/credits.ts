import { heldBack, RIGHTS_LABEL, type RightsKind } from '../rights/rights';

/** A recording a kit takes sound from, with the pads that use it. */
export interface Credit {
  readonly title: string;
  readonly rightsKind: RightsKind;
  readonly owner: string;
  readonly text: string;
  readonly pads: readonly string[];
  /** The recordings of a workspace that it stands for. */
  readonly recordingIds?: readonly string[];
}

/**
 * The credits sheet of a kit or of hits, as plain text: owners, terms, and whether the sounds may be shared; `notes` on the
 * files follow.
 */
export function creditsSheet(what: string, credits: readonly Credit[], notes: readonly string[] = []): string {
  const lines = [`Credits for ${what}`, ''];
  if (credits.length === 0) lines.push('It holds no sounds.', '');
  for (const credit of credits) {
    lines.push(credit.title);
    lines.push(`  whose:          ${credit.owner || 'unknown'}`);
    lines.push(
      `  licence:        ${RIGHTS_LABEL[credit.rightsKind]}${credit.text ? ` - ${credit.text.replace(/\s+/g, ' ')}` : ''}`,
    );
    lines.push(`  may be shared:  ${mayBeShared(credit)}`);
    if (credit.pads.length > 0) lines.push(`  heard on:       ${credit.pads.join(', ')}`);
    lines.push('');
  }
  if (notes.length > 0) lines.push('About the files', ...notes.map((note) => `  ${note}`), '');
  return lines.join('\r\n');
}

function mayBeShared({ rightsKind, text }: Credit): string {
  if (rightsKind === 'not-shared') return 'NO';
  return heldBack({ rightsKind, rightsText: text }) === null ? 'yes' : 'unknown - ask before passing it on';
}
