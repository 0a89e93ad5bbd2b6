import { fileName, sheetFrames, type SheetFrame, type SheetWish } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';
import { formatTimecode } from '@flimzy/core/time';
import { saveFile } from '../look/saveFile';
import type { PreviewEngine } from '../open/engine';

/** Pixels of a page: A4 upright at 150 a inch. */
const PAGE = { width: 1240, height: 1754 };
const MARGIN = 60;
const GAP = 24;
/** Under each frame its time and name. */
const CAPTION = 44;
const HEAD = 70;

interface Grid {
  columns: number;
  rows: number;
  width: number;
  height: number;
}

/** How frames stand on a page: upright ones five beside each other, flat ones three. */
function gridOf(piece: Piece): Grid {
  const ratio = piece.format.width / piece.format.height;
  const columns = ratio < 1 ? 5 : ratio === 1 ? 4 : 3;
  const width = Math.floor((PAGE.width - 2 * MARGIN - (columns - 1) * GAP) / columns);
  const height = Math.round(width / ratio);
  const rows = Math.max(1, Math.floor((PAGE.height - 2 * MARGIN - HEAD + GAP) / (height + CAPTION + GAP)));
  return { columns, rows, width, height };
}

const shortened = (context: OffscreenCanvasRenderingContext2D, text: string, room: number): string => {
  if (context.measureText(text).width <= room) return text;
  let kept = text;
  while (kept.length > 1 && context.measureText(`${kept}…`).width > room) kept = kept.slice(0, -1);
  return `${kept}…`;
};

/** Draws the frames of one page. @param tall whether the page has its whole height even with few frames */
async function drawPage(
  engine: PreviewEngine,
  piece: Piece,
  frames: readonly SheetFrame[],
  title: string,
  tall: boolean,
  onDone: () => void,
): Promise<OffscreenCanvas> {
  const { columns, width, height, rows } = gridOf(piece);
  const used = tall ? rows : Math.ceil(frames.length / columns);
  const canvas = new OffscreenCanvas(PAGE.width, tall ? PAGE.height : 2 * MARGIN + HEAD + used * (height + CAPTION + GAP) - GAP);
  const context = canvas.getContext('2d') as OffscreenCanvasRenderingContext2D;
  context.fillStyle = '#ffffff';
  context.fillRect(0, 0, canvas.width, canvas.height);
  context.fillStyle = '#17191a';
  context.textBaseline = 'alphabetic';
  context.font = '34px BricolageGrotesque_600SemiBold';
  context.fillText(shortened(context, title, PAGE.width - 2 * MARGIN), MARGIN, MARGIN + 34);
  for (const [n, { time, name }] of frames.entries()) {
    const x = MARGIN + (n % columns) * (width + GAP);
    const y = MARGIN + HEAD + Math.floor(n / columns) * (height + CAPTION + GAP);
    const picture = await engine.still(piece, time, width * 2);
    if (!picture) throw new Error('a frame could not be drawn');
    context.drawImage(picture, x, y, width, height);
    picture.close();
    context.fillStyle = '#17191a';
    context.font = '18px DMMono_400Regular';
    context.fillText(formatTimecode(time, piece.format.rate), x, y + height + 20);
    context.font = '16px InstrumentSans_400Regular';
    context.fillText(shortened(context, name, width), x, y + height + 40);
    onDone();
  }
  return canvas;
}

/**
 * Draws a contact sheet and hands it over as a file: one tall PNG, or a PDF of A4 pages.
 * @param onProgress gets how much is drawn, 0 to 1
 */
export async function saveContactSheet(
  engine: PreviewEngine,
  piece: Piece,
  wish: SheetWish,
  kind: 'png' | 'pdf',
  onProgress: (share: number) => void,
): Promise<void> {
  const frames = sheetFrames(piece, wish);
  let drawn = 0;
  const onDone = () => onProgress((drawn += 1) / frames.length);
  const name = fileName(`${piece.name} contact sheet`, kind);
  if (kind === 'png') {
    const canvas = await drawPage(engine, piece, frames, piece.name, false, onDone);
    return saveFile(await canvas.convertToBlob({ type: 'image/png' }), name);
  }
  const { PDFDocument } = await import('pdf-lib');
  const document = await PDFDocument.create();
  document.setTitle(piece.name);
  const { columns, rows } = gridOf(piece);
  const each = columns * rows;
  const pages = Math.ceil(frames.length / each);
  for (let n = 0; n < pages; n += 1) {
    const title = pages > 1 ? `${piece.name}, ${n + 1} of ${pages}` : piece.name;
    const canvas = await drawPage(engine, piece, frames.slice(n * each, (n + 1) * each), title, true, onDone);
    const jpeg = await document.embedJpg(await (await canvas.convertToBlob({ type: 'image/jpeg', quality: 0.9 })).arrayBuffer());
    // In points: 72 a inch.
    const size = [(PAGE.width * 72) / 150, (PAGE.height * 72) / 150] as [number, number];
    document.addPage(size).drawImage(jpeg, { x: 0, y: 0, width: size[0], height: size[1] });
  }
  saveFile(new Blob([new Uint8Array(await document.save())], { type: 'application/pdf' }), name);
}
