import { Zip, ZipPassThrough } from 'fflate';
import type { BundleFile } from '@/core/kit/bundle';

/** A zip of files as a stream, made as it is read: one file in memory at a time. WAV files hardly shrink, so none are packed. */
export function zipStream(files: Iterator<BundleFile>): ReadableStream<Uint8Array> {
  let out: ReadableStreamDefaultController<Uint8Array>;
  const zip = new Zip((error, bytes) => {
    if (error) out.error(error);
    else if (bytes.length > 0) out.enqueue(bytes);
  });
  return new ReadableStream({
    start(controller) {
      out = controller;
    },
    pull() {
      const next = files.next();
      if (next.done) {
        zip.end();
        out.close();
        return;
      }
      const entry = new ZipPassThrough(next.value.path);
      zip.add(entry);
      entry.push(next.value.bytes, true);
    },
  });
}
