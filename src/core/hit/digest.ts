import { audioKey, type TreatedHit } from './key';

/** A hit's `audioKey` as it goes into an address: its SHA-256 in hexadecimal digits. */
export async function audioDigest(hit: TreatedHit): Promise<string> {
  const bytes = new TextEncoder().encode(audioKey(hit));
  const digest = new Uint8Array(await crypto.subtle.digest('SHA-256', bytes));
  return Array.from(digest, (byte) => byte.toString(16).padStart(2, '0')).join('');
}
