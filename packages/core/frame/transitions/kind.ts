import { EASES, type Direction, type Transition } from '../../properties';
import type { Layer } from '../layers';
import type { Placed, Size } from '../placement';

/** What a transition draws between two pictures, each given as its layers; none where there is nothing. */
export interface TransitionKindEntry {
  /** Which of its figures it makes use of. */
  takes: readonly ('direction' | 'soft' | 'colour' | 'shape')[];
  /** @param p how far along it is, 0 to 1 */
  draw(p: number, from: Layer[], to: Layer[], frame: Size, options: Transition): Layer[];
}

/** Starts and ends slowly. */
export const eased = EASES.slowBoth;

type Group = Extract<Layer, { kind: 'group' }>;

/** Layers as one picture, seen so much of, somewhere else; none of nothing. */
export function whole(layers: Layer[], opacity = 1, more: Omit<Group, 'kind' | 'layers' | 'opacity'> = {}): Layer[] {
  if (layers.length === 0 || opacity <= 0) return [];
  return [{ kind: 'group', layers, opacity, ...more }];
}

/** The frame moved so many times its size in a direction. */
export function shifted({ width, height }: Size, direction: Direction, by: number): Placed {
  const across = direction === 'left' ? -by : direction === 'right' ? by : 0;
  const down = direction === 'up' ? -by : direction === 'down' ? by : 0;
  return { rect: { x: across * width, y: down * height, width, height } };
}

/** The frame so many times as large, about its middle, and turned. */
export function grown({ width, height }: Size, times: number, turn = 0): Placed {
  const rect = { x: ((1 - times) * width) / 2, y: ((1 - times) * height) / 2, width: width * times, height: height * times };
  return turn === 0 ? { rect } : { rect, turn };
}
