import type { TransitionShape } from '../../properties';
import type { Size } from '../placement';

/** A closed line around the middle of a frame: points in the order in which they are drawn, at most 1 away from it. */
export type Outline = readonly (readonly [number, number])[];

/** Points around the middle, so far away at each part of a turn; the first straight up. */
const around = (count: number, reach: (n: number) => number): Outline =>
  Array.from({ length: count }, (_, n) => {
    const angle = (2 * Math.PI * n) / count - Math.PI / 2;
    return [reach(n) * Math.cos(angle), reach(n) * Math.sin(angle)] as const;
  });

/** A heart by its well-known curve, its middle where both halves meet. */
const heart: Outline = Array.from({ length: 60 }, (_, n) => {
  const t = (2 * Math.PI * n) / 60;
  const y = 13 * Math.cos(t) - 5 * Math.cos(2 * t) - 2 * Math.cos(3 * t) - Math.cos(4 * t);
  return [(16 * Math.sin(t) ** 3) / 17, -y / 17] as const;
});

/** Our own set. */
const OUTLINES: Record<Exclude<TransitionShape, 'drawn'>, Outline> = {
  star: around(10, (n) => (n % 2 === 0 ? 1 : 0.45)),
  heart,
  diamond: around(4, () => 1),
  burst: around(32, (n) => (n % 2 === 0 ? 1 : 0.78)),
  kite: [
    [0, -1],
    [0.62, -0.3],
    [0, 1],
    [-0.62, -0.3],
  ],
};

/** The outline of a shape; of one drawn by hand, its own points, or the star where it has none. */
export const outlineOf = (shape: TransitionShape, drawn: Outline | undefined): Outline =>
  shape === 'drawn' ? (drawn ?? OUTLINES.star) : OUTLINES[shape];

/** How far it is from the middle to an outline in a direction: to the nearest side that is met. */
function reachTowards(outline: Outline, [dx, dy]: readonly [number, number]): number {
  let nearest = Infinity;
  outline.forEach(([ax, ay], n) => {
    const [bx, by] = outline[(n + 1) % outline.length] ?? [0, 0];
    const across = dx * (by - ay) - dy * (bx - ax);
    if (Math.abs(across) < 1e-12) return;
    const away = (ax * (by - ay) - ay * (bx - ax)) / across;
    const along = (ax * dy - ay * dx) / across;
    if (away > 0 && along >= -1e-9 && along <= 1 + 1e-9) nearest = Math.min(nearest, away);
  });
  return nearest;
}

/** Places on each side of the frame at which is looked whether they are covered. */
const PLACES = 24;

/** Pixels for 1 of an outline at which it covers a whole frame. */
export function coveringSize(outline: Outline, { width, height }: Size): number {
  const [w, h] = [width / 2, height / 2];
  let size = 0;
  for (let n = 0; n <= PLACES; n += 1) {
    const share = (2 * n) / PLACES - 1;
    for (const [x, y] of [
      [w, share * h],
      [-w, share * h],
      [share * w, h],
      [share * w, -h],
    ] as const) {
      const away = Math.hypot(x, y);
      const reach = reachTowards(outline, [x / away, y / away]);
      if (reach < Infinity) size = Math.max(size, away / reach);
    }
  }
  return size || Math.hypot(w, h);
}

/** The points of a line drawn by hand, so many and evenly along it, as an outline around their middle; null where it encloses nothing. */
export function outlineFrom(points: readonly (readonly [number, number])[], most = 48): [number, number][] | null {
  const lengths = points.map(([x, y], n) => {
    const [px, py] = points[(n + 1) % points.length] ?? [x, y];
    return Math.hypot(px - x, py - y);
  });
  const total = lengths.reduce((sum, one) => sum + one, 0);
  if (points.length < 3 || total <= 0) return null;
  const even: [number, number][] = [];
  let [n, passed] = [0, 0];
  for (let k = 0; k < most; k += 1) {
    const at = (k / most) * total;
    while (n < points.length - 1 && passed + (lengths[n] ?? 0) <= at) passed += lengths[n++] ?? 0;
    const [[ax, ay], [bx, by]] = [points[n] ?? [0, 0], points[(n + 1) % points.length] ?? [0, 0]];
    const share = (at - passed) / (lengths[n] || 1);
    even.push([ax + (bx - ax) * share, ay + (by - ay) * share]);
  }
  // Its middle is that of the area it encloses.
  let [area, mx, my] = [0, 0, 0];
  even.forEach(([ax, ay], k) => {
    const [bx, by] = even[(k + 1) % even.length] ?? [0, 0];
    const cross = ax * by - bx * ay;
    [area, mx, my] = [area + cross / 2, mx + ((ax + bx) * cross) / 6, my + ((ay + by) * cross) / 6];
  });
  const far = Math.max(...even.map(([x, y]) => Math.hypot(x - mx / area, y - my / area)));
  if (!(Math.abs(area) > far * far * 0.02)) return null;
  const short = (one: number) => Math.round((one / far) * 1e4) / 1e4;
  return even.map(([x, y]) => [short(x - mx / area), short(y - my / area)]);
}
