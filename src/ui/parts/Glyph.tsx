import { glyphOf, STROKE, tintOf } from '@/picture/glyph';

/** A family's glyph in its tint; a dot for an unknown family. */
export function Glyph({ family, size = 16 }: { family: string | null; size?: number }) {
  const { path, solid } = glyphOf(family);
  return (
    <svg
      width={size}
      height={size}
      viewBox="0 0 16 16"
      role="img"
      aria-label={family ?? 'family not known'}
      style={{ color: `var(--${tintOf(family)})`, flex: 'none' }}
    >
      <path
        d={path}
        fill={solid ? 'currentColor' : 'none'}
        stroke={solid ? 'none' : 'currentColor'}
        strokeWidth={STROKE}
      />
    </svg>
  );
}
