import { glyphOf, STROKE, tintOf } from '@/picture/glyph';

/** A family's sign in its tint; a dot where the family is not known. */
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
