import type { Mask } from './layers';
import type { Size } from './placement';

/** The least width of an edge, as a share of the frame, so that it has no steps. */
const SHARP = 0.003;

/** In so many steps a soft outline goes from nothing to all. */
const EDGE_STEPS = 16;

type Outline = Extract<Mask, { kind: 'outline' }>;
type Edge = Exclude<Mask, Outline>;

/** Between where an edge begins to go over and where it has: shares of the frame for one that goes across, of half its diagonal for a circle. */
export function edgeOf(mask: Edge): { from: number; to: number } {
  const soft = Math.max(SHARP, mask.soft);
  const to = mask.at * (1 + soft);
  // A small circle goes over from its middle on, so that there is something of it.
  return mask.kind === 'radial' ? { from: Math.max(0, to - soft), to: Math.max(0.001, to) } : { from: to - soft, to };
}

/** How large an outline is at each step of its edge, the largest first, in pixels of the piece for 1 of it; where it is seen through, all of them lie. */
export function outlineSizes(mask: Outline): number[] {
  const steps = mask.soft <= SHARP ? 1 : EDGE_STEPS;
  return Array.from({ length: steps }, (_, k) => (mask.at * (1 + mask.soft) - (mask.soft * k) / Math.max(1, steps - 1)) * mask.size);
}

/** Whether a closed line goes round a point: how often, not which way, decides (the nonzero rule). */
function within(points: Outline['points'], x: number, y: number): boolean {
  let turns = 0;
  points.forEach(([ax, ay], n) => {
    const [bx, by] = points[(n + 1) % points.length] ?? [ax, ay];
    if (ay <= y === by <= y) return;
    const side = (bx - ax) * (y - ay) - (x - ax) * (by - ay);
    if (ay <= y ? side > 0 : side < 0) turns += ay <= y ? 1 : -1;
  });
  return turns !== 0;
}

/** How much a mask lets be seen at a point of the frame (pixels of the piece): 0 to 1. */
export function seenThrough(mask: Mask, { x, y }: { x: number; y: number }, { width, height }: Size): number {
  if (mask.kind === 'outline') {
    const sizes = outlineSizes(mask);
    const holding = sizes.filter((size) => size > 0 && within(mask.points, (x - width / 2) / size, (y - height / 2) / size));
    return holding.length / sizes.length;
  }
  const { from, to } = edgeOf(mask);
  const along = () => {
    if (mask.kind === 'radial') return Math.hypot(x - width / 2, y - height / 2) / (Math.hypot(width, height) / 2);
    const share = mask.direction === 'left' || mask.direction === 'right' ? x / width : y / height;
    return mask.direction === 'left' || mask.direction === 'up' ? 1 - share : share;
  };
  const inside = Math.min(1, Math.max(0, (to - along()) / (to - from)));
  return mask.inside ? inside : 1 - inside;
}
