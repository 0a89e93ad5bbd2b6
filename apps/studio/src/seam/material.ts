import type { Clip, Piece } from '@flimzy/core/piece';

/** A piece that shows all the material of a clip from its very start: frame at t = material at t, used or not. */
export function materialOf(piece: Piece, clip: Clip): Piece {
  const media = piece.media[clip.media];
  const whole: Clip = { ...clip, start: 0, from: 0, length: Math.max(1, media?.length ?? 1) };
  delete whole.link;
  delete whole.speed;
  return { ...piece, tracks: [{ id: 'material', kind: 'picture', name: 'Material', muted: false, clips: [whole] }], markers: undefined };
}
