import { type RefObject, useEffect, useMemo } from 'react';
import type { RecordingView } from '@/contract/views';
import type { MarkChanges } from '@/core/onset/marks';
import type { PictureMessage, PictureName, Scenes, Sheet } from '@/worker/picture.worker';
import { useColours } from '../parts/canvas';
import type { HeldEdges } from './use-held';

/** The pictures of Slice, drawn by a worker that the page keeps informed. */
export class Pictures {
  private worker: Worker | null = null;

  constructor(private readonly recording: RecordingView) {}

  /** Draws a picture over the whole of an element; returns the function that removes it. */
  attach(name: PictureName, host: HTMLElement): () => void {
    const element = document.createElement('canvas');
    element.ariaHidden = 'true';
    element.style.cssText = 'position:absolute;inset:0;width:100%;height:100%';
    host.prepend(element);
    const canvas = element.transferControlToOffscreen();
    this.tell({ tell: 'attach', name, canvas }, [canvas]);
    return () => element.remove();
  }

  /** Updates a picture. */
  show<N extends PictureName>(name: N, part: Partial<Scenes[N] & Sheet>): void {
    this.tell({ tell: 'show', name, part } as PictureMessage);
  }

  /** Shows dragged edges. */
  hold(held: MarkChanges | null): void {
    this.tell({ tell: 'hold', held });
  }

  close(): void {
    this.worker?.terminate();
    this.worker = null;
  }

  private tell(message: PictureMessage, transfer: Transferable[] = []): void {
    if (!this.worker) {
      this.worker = new Worker(new URL('../../worker/picture.worker.ts', import.meta.url));
      const font = new URL(
        '@fontsource-variable/atkinson-hyperlegible-mono/files/atkinson-hyperlegible-mono-latin-wght-normal.woff2',
        import.meta.url,
      );
      this.tell({ tell: 'open', recording: this.recording, fontUrl: font.href });
    }
    this.worker.postMessage(message, transfer);
  }
}

/** The pictures of a recording, for a component's life; they follow dragged edges. */
export function usePictures(recording: RecordingView, held: HeldEdges): Pictures {
  // biome-ignore lint/correctness/useExhaustiveDependencies: audio never changes, so the id stands for the recording
  const pictures = useMemo(() => new Pictures(recording), [recording.id]);
  useEffect(() => held.subscribe(() => pictures.hold(held.get())), [pictures, held]);
  useEffect(() => () => pictures.close(), [pictures]);
  return pictures;
}

/** Draws a picture over an element, following its size and the theme. */
export function usePicture(
  pictures: Pictures,
  name: PictureName,
  host: RefObject<HTMLElement | null>,
  { width, height }: { readonly width: number; readonly height: number },
): void {
  const colours = useColours();
  useEffect(() => (host.current ? pictures.attach(name, host.current) : undefined), [pictures, name, host]);
  useEffect(() => {
    if (colours) pictures.show(name, { width, height, ratio: window.devicePixelRatio || 1, colours });
  }, [pictures, name, width, height, colours]);
}
