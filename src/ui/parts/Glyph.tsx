import type { ReactNode } from 'react';
import type { Family } from '@/core/hit/model';

/** Name of the colour token of each family; the glyph tells it too, so that colour is never the only sign. */
export const FAMILY_TINT: Readonly<Record<Family, string>> = {
  kick: 'slate',
  tom: 'umber',
  snare: 'madder',
  rim: 'madder',
  clap: 'madder',
  'closed hat': 'ochre',
  'open hat': 'ochre',
  cymbal: 'verdigris',
  percussion: 'plum',
  tonal: 'plum',
  voice: 'plum',
  effect: 'plum',
};

export function tintOf(family: string | null): string {
  return FAMILY_TINT[family as Family] ?? 'soft';
}

const DRAWN: Readonly<Record<Family, ReactNode>> = {
  kick: <circle cx="8" cy="8" r="5.5" fill="currentColor" />,
  tom: <circle cx="8" cy="8" r="5.5" />,
  snare: <path d="M8 2.5a5.5 5.5 0 1 0 0 11a5.5 5.5 0 1 0 0-11M3 6.3h10M3 9.7h10" />,
  rim: <path d="M7 4a4.8 4.8 0 1 0 4.8 4.8M8 8l6-6" />,
  clap: <path d="M4 13l4-10M9 13l4-10" />,
  'closed hat': <path d="M2 6.2h12M2 9.8h12" />,
  'open hat': <path d="M2 11h12M2 8l11.5-4.5" />,
  cymbal: <ellipse cx="8" cy="8" rx="6" ry="2.8" transform="rotate(-18 8 8)" />,
  percussion: <path d="M8 2.8L13.5 13h-11z" />,
  tonal: <path d="M1.5 8c2.2-6.5 4.3-6.5 6.5 0s4.3 6.5 6.5 0" />,
  voice: <path d="M12.6 5A5.5 5.5 0 1 0 13.5 8" />,
  effect: <path d="M8 1.5v4M8 10.5v4M1.5 8h4M10.5 8h4" />,
};

/** A family's sign, 16 px, in its tint; a dot where the family is not known. */
export function Glyph({ family, size = 16 }: { family: string | null; size?: number }) {
  const drawn = DRAWN[family as Family];
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      fill="none"
      stroke="currentColor"
      strokeWidth="1.6"
      role="img"
      aria-label={family ?? 'family not known'}
      style={{ color: `var(--${tintOf(family)})`, flex: 'none' }}
    >
      {drawn ?? <circle cx="8" cy="8" r="1.6" fill="currentColor" stroke="none" />}
    </svg>
  );
}
