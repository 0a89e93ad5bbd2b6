import { pictureLayers, type FrameDescription } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { drawFrame, filesFor, type Scratch } from '@flimzy/stage';
import { getFonts } from '../material/fonts';
import { changePixels } from './pixels';
import type { Picture, Pictures } from './pictures';

type Drawable = CanvasImageSource;

/** Canvas `n` of some, at a size; with alpha, what is not drawn on is transparent. Pixels of one that is `read` are at hand. */
export function sized(canvases: OffscreenCanvas[], n: number, width: number, height: number, alpha: boolean, willReadFrequently = false) {
  const made = (canvases[n] ??= new OffscreenCanvas(width, height));
  if (made.width !== width || made.height !== height) Object.assign(made, { width, height });
  const c = made.getContext('2d', { alpha, willReadFrequently });
  if (!c) throw new Error('no 2D canvas');
  return { context: c, image: made };
}

/** Draws frames in a worker: gets their pictures and fonts, and has the stage draw them. */
export class Painter {
  private readonly scratches: OffscreenCanvas[] = [];
  private readonly groups: OffscreenCanvas[] = [];
  private readonly read: OffscreenCanvas[] = [];
  private readonly scratch: Scratch<Drawable> = {
    canvas: (n, width, height) => sized(this.scratches, n, width, height, false),
    layer: (depth, width, height) => sized(this.groups, depth, width, height, true),
    pixels: (width, height) => {
      const made = sized(this.read, 0, width, height, true, true);
      return { ...made, change: (work) => changePixels(made.context, width, height, work) };
    },
  };

  /**
   * @param origin of the app, once it is known
   * @param onTrouble told, a sentence, of what could not be had; the rest is drawn
   */
  constructor(
    private readonly pictures: Pictures,
    private readonly origin: () => string,
    private readonly onTrouble: (sentence: string) => void,
  ) {}

  /** Gets the pictures of a frame and draws it. Returns which source frames are on screen. */
  async draw(
    doc: Pick<Piece, 'media'>,
    frame: FrameDescription,
    onward: boolean,
    context: OffscreenCanvasRenderingContext2D,
    whose = '',
  ): Promise<{ media: string; frame: number }[]> {
    const wanted = new Map(pictureLayers(frame.layers).map(({ picture }) => [picture.clip, picture]));
    const got = new Map<string, Picture>();
    await Promise.all(
      [...wanted].map(async ([clip, picture]) => {
        const facts = doc.media[picture.media];
        const one = await this.pictures.get(picture, facts, onward, whose).catch(() => {
          this.onTrouble(`“${facts?.name ?? 'A clip'}” cannot be shown just now.`);
          return null;
        });
        if (one) got.set(clip, one);
      }),
    );
    await getFonts(filesFor(frame.layers), this.origin()).catch(() => this.onTrouble('A font of a title cannot be had just now.'));
    try {
      drawFrame<Drawable>(context, frame, context.canvas.width / frame.width, (p) => got.get(p.clip) ?? null, this.scratch);
    } finally {
      for (const { done } of got.values()) done();
    }
    return [...wanted].flatMap(([clip, { media }]) => {
      const shown = got.get(clip)?.frame;
      return shown === null || shown === undefined ? [] : [{ media, frame: shown }];
    });
  }
}
