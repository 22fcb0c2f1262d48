/** Byte arrays one after another, in a new array of its own buffer. */
export function joinBytes(pieces: readonly Uint8Array[]): Uint8Array<ArrayBuffer> {
  const out = new Uint8Array(pieces.reduce((sum, p) => sum + p.length, 0));
  let at = 0;
  for (const piece of pieces) {
    out.set(piece, at);
    at += piece.length;
  }
  return out;
}

const BASE64_DIGITS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';
const BASE64_VALUES = Uint8Array.from({ length: 128 }, (_, code) =>
  Math.max(0, BASE64_DIGITS.indexOf(String.fromCharCode(code))),
);

/** Bytes from base64 (RFC 4648, section 4). The audio thread has no `atob`. */
export function fromBase64(text: string): Uint8Array<ArrayBuffer> {
  const digits = text.replace(/=+$/, '');
  const out = new Uint8Array((digits.length * 3) >> 2);
  const value = (i: number) => BASE64_VALUES[digits.charCodeAt(i)] as number;
  for (let i = 0, at = 0; at < out.length; i += 4, at += 3) {
    // What would lie past the end is dropped.
    const group = (value(i) << 18) | (value(i + 1) << 12) | (value(i + 2) << 6) | value(i + 3);
    out[at] = group >> 16;
    out[at + 1] = group >> 8;
    out[at + 2] = group;
  }
  return out;
}

/** Bytes as base64 (RFC 4648, section 4); not for the audio thread. */
export function toBase64(bytes: Uint8Array): string {
  let text = '';
  for (const byte of bytes) text += String.fromCharCode(byte);
  return btoa(text);
}
