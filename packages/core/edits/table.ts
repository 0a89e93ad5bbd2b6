import type { z } from 'zod';
import { add } from './add';
import { caption, lookOfCaptions } from './caption';
import { attach, detach } from './detach';
import { crossfade } from './crossfade';
import { freeze, reset } from './freeze';
import { gang, ungang } from './gang';
import { closeGap, closeGaps, keepStretch, liftStretch, takeOutStretch } from './gaps';
import { bringInStep, link, unlink } from './link';
import { mark, setMark, unmark } from './marks';
import { move } from './move';
import { keepTake, narrate, swapTake } from './narrate';
import { nest, renameNest } from './nest';
import { takeOutParts } from './parts';
import { duplicate, paste } from './paste';
import { rate } from './rate';
import { remove } from './remove';
import { rename } from './rename';
import { roll, slide, slip, swap } from './seam';
import { set } from './set';
import { describe, setPoster } from './describe';
import { setFormats } from './setFormats';
import { setLook } from './setLook';
import { setSound } from './setSound';
import { orderShelf, replaceMedia, setRanges, shelve, unshelve } from './shelf';
import { soundEdge } from './soundEdge';
import { shape } from './shape';
import { setSpeed } from './speed';
import { split } from './split';
import { addTrack, orderTrack, removeTracks, setTrack } from './tracks';
import { trim } from './trim';
import { unnest } from './unnest';

/** Every edit there is, by name. A new edit is one function and one line here. */
export const EDITS = {
  add,
  addTrack,
  attach,
  bringInStep,
  caption,
  closeGap,
  closeGaps,
  crossfade,
  detach,
  duplicate,
  freeze,
  gang,
  keepStretch,
  keepTake,
  liftStretch,
  link,
  lookOfCaptions,
  mark,
  move,
  narrate,
  nest,
  orderShelf,
  orderTrack,
  paste,
  rate,
  remove,
  removeTracks,
  rename,
  renameNest,
  replaceMedia,
  reset,
  roll,
  set,
  setFormats,
  describe,
  setPoster,
  setLook,
  setMark,
  setRanges,
  setSound,
  setSpeed,
  setTrack,
  shape,
  shelve,
  slide,
  slip,
  soundEdge,
  split,
  swap,
  swapTake,
  takeOutParts,
  takeOutStretch,
  trim,
  ungang,
  unlink,
  unmark,
  unnest,
  unshelve,
} as const;

export type EditName = keyof typeof EDITS;
export type EditParams<N extends EditName> = z.input<(typeof EDITS)[N]['params']>;

export function isEditName(name: string): name is EditName {
  return Object.hasOwn(EDITS, name);
}
