import { drawnWidths, pictureLayers, type FrameDescription } from '@flimzy/core/frame';
import type { Piece } from '@flimzy/core/piece';
import { drawFrame, filesFor, type Scratch, type Seen } from '@flimzy/stage';
import { getFonts } from '../material/fonts';
import { changePixels } from './pixels';
import type { Picture, Pictures } from './pictures';
import { giveBack, pixelsOf, planesOf, type Planes } from './planes';

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
  private readonly decoded: OffscreenCanvas[] = [];
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
   * @param quick whether frames that are played may be a little less exact between their pixels, where they are drawn in less time so
   */
  constructor(
    private readonly pictures: Pictures,
    private readonly origin: () => string,
    private readonly onTrouble: (sentence: string) => void,
    private readonly quick = false,
  ) {}

  /** Picture `n` of a frame, for a width in which it is drawn. */
  private pictureOf(n: number, lying: Planes, drawn: number): Seen<Drawable> {
    const pixels = pixelsOf(lying, drawn);
    const { width, height } = pixels;
    const { context, image } = sized(this.decoded, n, width, height, false);
    context.putImageData(pixels, 0, 0);
    return { image, width, height };
  }

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
    const planes = new Map<string, Planes>();
    await Promise.all(
      [...wanted].map(async ([clip, picture]) => {
        const facts = doc.media[picture.media];
        const one = await this.pictures.get(picture, facts, onward, whose).catch(() => {
          this.onTrouble(`“${facts?.name ?? 'A clip'}” cannot be shown just now.`);
          return null;
        });
        if (!one) return;
        got.set(clip, one);
        const lying = onward && this.quick ? await planesOf(one.image).catch(() => null) : null;
        if (lying) planes.set(clip, lying);
      }),
    );
    await getFonts(filesFor(frame.layers), this.origin()).catch(() => this.onTrouble('A font of a title cannot be had just now.'));
    try {
      const scale = context.canvas.width / frame.width;
      const seen = new Map<string, Seen<Drawable>>(got);
      const widths = drawnWidths(frame.layers, frame.width);
      [...planes].forEach(([clip, lying], n) => seen.set(clip, this.pictureOf(n, lying, (widths.get(clip) ?? 0) * scale)));
      drawFrame<Drawable>(context, frame, scale, (p) => seen.get(p.clip) ?? null, this.scratch);
    } finally {
      for (const { done } of got.values()) done();
      for (const lying of planes.values()) giveBack(lying);
    }
    return [...wanted].flatMap(([clip, { media }]) => {
      const shown = got.get(clip)?.frame;
      return shown === null || shown === undefined ? [] : [{ media, frame: shown }];
    });
  }
}
