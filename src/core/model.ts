import { z } from 'zod';
import { FAMILIES } from './family';
import { LONGEST_NAME } from './naming/names';

/** Kinds of field that several documents share. */
export const Id = z.string().regex(/^[0-9a-z-]{8,40}$/, 'An id has 8 to 40 letters, digits and hyphens.');
export const Name = z
  .string()
  .min(1, 'A name needs at least one character.')
  .refine((s) => [...s].length <= LONGEST_NAME, `A name has at most ${LONGEST_NAME} characters.`)
  .refine((s) => s.isWellFormed(), 'A name cannot hold half of a character (a lone surrogate).')
  .refine((s) => !/[\u0000-\u001f\u007f]/.test(s), 'A name cannot hold control characters.')
  .refine((s) => s.trim() !== '', 'A name needs at least one visible character.');
export const Frame = z.number().int().min(0).max(Number.MAX_SAFE_INTEGER);

export const Tags = z
  .array(
    z
      .string()
      .min(1)
      .max(40)
      .refine((s) => s.isWellFormed(), 'A tag cannot hold half of a character (a lone surrogate).')
      .refine((s) => s.trim() === s && !/[,\u0000-\u001f]/.test(s), 'A tag holds no commas or control characters.'),
  )
  .max(30);

export const FamilyField = z.enum(FAMILIES);
