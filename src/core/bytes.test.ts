import fc from 'fast-check';
import { fromBase64 } from './bytes';

test("bytes come back from base64 as they were, of any length; against Node's own writer (RFC 4648, section 4)", () => {
  fc.assert(
    fc.property(fc.uint8Array({ maxLength: 300 }), (bytes) => {
      expect(fromBase64(Buffer.from(bytes).toString('base64'))).toEqual(bytes);
    }),
  );
});
