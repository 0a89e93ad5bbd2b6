import { PieceFormat, shapeOf } from '../piece';
import { defineEdit, EditRefused } from './edit';

/**
 * Gives a piece another shape. Pictures are placed by shares of the frame and keep their focus points as near its middle as they can, so
 * that what matters in them stays in it.
 */
export const shape = defineEdit({
  params: PieceFormat.pick({ width: true, height: true }),
  title: (size) => `${shapeOf(size)?.name ?? `${size.width} × ${size.height}`} piece`,
  apply(piece, { width, height }) {
    if (piece.format.width === width && piece.format.height === height) throw new EditRefused('The piece has that shape already.');
    Object.assign(piece.format, { width, height });
  },
});
