import type { RecordingView } from '@/contract/views';
import type { MarkChanges } from '@/core/onset/marks';
import { type Colours, type Context2D, FIGURE_FONT_FAMILY, fitCanvas, type Palette } from '@/picture/canvas';
import { drawLoupe, edgesShown, type LoupeScene } from '@/picture/loupe';
import { drawStage, NO_SCENE, type StageScene } from '@/picture/stage';
import { WaveSource } from '@/picture/wave-source';
import { drawWindow, type WindowScene } from '@/picture/window';

/** The canvases of Slice, each with its content. */
export interface Scenes {
  readonly stage: StageScene;
  readonly start: LoupeScene;
  readonly end: LoupeScene;
  readonly window: WindowScene;
}

export type PictureName = keyof Scenes;

/** Size in CSS pixels, device pixels to one of these, and the theme's colours. */
export interface Sheet {
  readonly width: number;
  readonly height: number;
  readonly ratio: number;
  readonly colours: Colours;
}

/** Messages of the page: a recording, a canvas, a change of content, dragged edges. None is answered. */
export type PictureMessage =
  | { readonly tell: 'open'; readonly recording: RecordingView; readonly fontUrl: string }
  | { readonly tell: 'attach'; readonly name: PictureName; readonly canvas: OffscreenCanvas }
  | { readonly tell: 'hold'; readonly held: MarkChanges | null }
  | { readonly tell: 'show'; readonly name: PictureName; readonly part: Partial<Scenes[PictureName] & Sheet> };

interface Picture {
  readonly canvas: OffscreenCanvas;
  /** Created with the first drawing: an opaque canvas is black until then. */
  context: Context2D | null;
  scene: Scenes[PictureName] & Sheet;
}

const NO_SHEET: Sheet = { width: 0, height: 0, ratio: 1, colours: {} as Colours };
const NO_LOUPE = { span: NO_SCENE.span, slice: { id: '', startFrame: 0, endFrame: 0 }, gain: 1 } as const;
const EMPTY: Scenes = {
  stage: NO_SCENE,
  start: { edge: 'start', ...NO_LOUPE },
  end: { edge: 'end', ...NO_LOUPE },
  window: { span: NO_SCENE.span, stageWidth: 0, totalFrames: 1 },
};

const pictures = new Map<PictureName, Picture>();
const stale = new Set<PictureName>();
let source: WaveSource | null = null;
let held: MarkChanges | null = null;

/**
 * Draws the pictures of Slice in a thread of its own, at most once a frame: committing a canvas of this size takes the
 * page longer than everything else in panning.
 */
self.onmessage = ({ data }: MessageEvent<PictureMessage>) => {
  if (data.tell === 'open') {
    source = new WaveSource(data.recording, touchAll);
    void loadFont(data.fontUrl);
  } else if (data.tell === 'attach') {
    pictures.set(data.name, { canvas: data.canvas, context: null, scene: { ...EMPTY[data.name], ...NO_SHEET } });
  } else if (data.tell === 'hold') {
    hold(data.held);
  } else {
    const picture = pictures.get(data.name);
    if (!picture) return;
    picture.scene = { ...picture.scene, ...data.part } as Picture['scene'];
    touch(data.name);
  }
};

/** A dragged edge changes the stage, and the loupe that shows it. */
function hold(changes: MarkChanges | null): void {
  for (const [name, { scene }] of pictures) {
    const edges = (h: MarkChanges | null) => edgesShown(scene as LoupeScene, h, scene.width).join();
    if (name === 'stage' || (name !== 'window' && edges(held) !== edges(changes))) touch(name);
  }
  held = changes;
}

function touchAll(): void {
  for (const name of pictures.keys()) touch(name);
}

function touch(name: PictureName): void {
  if (stale.size === 0) requestAnimationFrame(drawStale);
  stale.add(name);
}

function drawStale(): void {
  const names = [...stale];
  stale.clear();
  for (const name of names) draw(name);
}

function draw(name: PictureName): void {
  const picture = pictures.get(name);
  if (!picture || !source || picture.scene.width === 0 || picture.scene.height === 0) return;
  const { width, height, ratio, colours } = picture.scene;
  const palette: Palette = (token) => colours[token as keyof Colours];
  picture.context ??= picture.canvas.getContext('2d', { alpha: name === 'window' }) as Context2D;
  fitCanvas(picture.canvas, picture.context, width, height, ratio);
  const { context, scene } = picture;
  if (name === 'stage') drawStage(context, source, scene as StageScene, held, width, height, ratio, palette);
  else if (name === 'window') drawWindow(context, scene as WindowScene, width, height, palette);
  else drawLoupe(context, source, scene as LoupeScene, held, width, height, palette);
}

async function loadFont(url: string): Promise<void> {
  const font = new FontFace(FIGURE_FONT_FAMILY, `url(${url})`, { weight: '200 800' });
  (self as unknown as { fonts: FontFaceSet }).fonts.add(await font.load());
  // A canvas keeps the font that was available when it was set.
  for (const { context } of pictures.values()) if (context) context.font = '10px sans-serif';
  touchAll();
}
