import type { ShapeId } from '@flimzy/core/properties';
import type { Pen } from './context';

/** A path of a shape, in a box of its own, and whether it is filled or a line with round ends, so wide. */
interface Stroke {
  draw(pen: Pen): void;
  /** Width of the line; missing: filled. */
  line?: number;
}

export interface Shape {
  width: number;
  height: number;
  strokes: readonly Stroke[];
}

const polygon = (points: readonly (readonly [number, number])[]) => (pen: Pen) => {
  points.forEach(([x, y], n) => (n === 0 ? pen.moveTo(x, y) : pen.lineTo(x, y)));
  pen.closePath();
};

/** How far the handles of a quarter of a circle reach, as a share of its radius. */
const ROUND = 0.5523;

/** An ellipse from its right end on, so much more than once around when it is drawn by hand. */
const oval = (cx: number, cy: number, rx: number, ry: number) => (pen: Pen) => {
  const [hx, hy] = [rx * ROUND, ry * ROUND];
  pen.moveTo(cx + rx, cy);
  pen.bezierCurveTo(cx + rx, cy + hy, cx + hx, cy + ry, cx, cy + ry);
  pen.bezierCurveTo(cx - hx, cy + ry, cx - rx, cy + hy, cx - rx, cy);
  pen.bezierCurveTo(cx - rx, cy - hy, cx - hx, cy - ry, cx, cy - ry);
  pen.bezierCurveTo(cx + hx, cy - ry, cx + rx, cy - hy, cx + rx, cy);
  pen.closePath();
};

/** A box with round corners. */
export const rounded = (x: number, y: number, width: number, height: number, radius: number) => (pen: Pen) => {
  const r = Math.min(radius, width / 2, height / 2);
  const h = r * (1 - ROUND);
  pen.moveTo(x + r, y);
  pen.lineTo(x + width - r, y);
  pen.bezierCurveTo(x + width - h, y, x + width, y + h, x + width, y + r);
  pen.lineTo(x + width, y + height - r);
  pen.bezierCurveTo(x + width, y + height - h, x + width - h, y + height, x + width - r, y + height);
  pen.lineTo(x + r, y + height);
  pen.bezierCurveTo(x + h, y + height, x, y + height - h, x, y + height - r);
  pen.lineTo(x, y + r);
  pen.bezierCurveTo(x, y + h, x + h, y, x + r, y);
  pen.closePath();
};

/** A star of so many points around the middle of a box of 100. */
function star(points: number, inner: number, jitter = 0): [number, number][] {
  return Array.from({ length: points * 2 }, (_, n) => {
    const reach = (n % 2 === 0 ? 1 - jitter * ((n * 7) % 5) * 0.05 : inner) * 50;
    const angle = (n * Math.PI) / points - Math.PI / 2;
    return [50 + reach * Math.cos(angle), 50 + reach * Math.sin(angle)];
  });
}

/** The drawn set, each in pixels of its own. */
export const SHAPES: Record<ShapeId, Shape> = {
  arrow: {
    width: 100,
    height: 60,
    strokes: [
      {
        draw: polygon([
          [0, 21],
          [58, 19],
          [55, 0],
          [100, 30],
          [55, 60],
          [58, 41],
          [0, 39],
        ]),
      },
    ],
  },
  swoop: {
    width: 100,
    height: 84,
    strokes: [
      {
        line: 9,
        draw: (pen) => {
          pen.moveTo(6, 12);
          pen.bezierCurveTo(14, 58, 44, 74, 90, 66);
        },
      },
      {
        line: 9,
        draw: (pen) => {
          pen.moveTo(64, 44);
          pen.quadraticCurveTo(76, 60, 92, 66);
          pen.quadraticCurveTo(78, 70, 70, 79);
        },
      },
    ],
  },
  ring: {
    width: 100,
    height: 70,
    strokes: [
      {
        line: 6,
        draw: (pen) => {
          pen.moveTo(70, 6);
          pen.bezierCurveTo(30, 0, 2, 16, 4, 38);
          pen.bezierCurveTo(6, 60, 40, 70, 66, 64);
          pen.bezierCurveTo(92, 58, 102, 36, 92, 22);
          pen.bezierCurveTo(84, 10, 66, 5, 44, 9);
        },
      },
    ],
  },
  underline: {
    width: 100,
    height: 14,
    strokes: [
      {
        line: 7,
        draw: (pen) => {
          pen.moveTo(4, 9);
          pen.bezierCurveTo(30, 3, 64, 3, 96, 7);
        },
      },
    ],
  },
  scribble: {
    width: 100,
    height: 30,
    strokes: [
      {
        line: 6,
        draw: (pen) => {
          pen.moveTo(4, 16);
          pen.quadraticCurveTo(14, -6, 22, 16);
          pen.quadraticCurveTo(28, 36, 38, 14);
          pen.quadraticCurveTo(46, -4, 54, 16);
          pen.quadraticCurveTo(60, 34, 70, 14);
          pen.quadraticCurveTo(80, -2, 96, 16);
        },
      },
    ],
  },
  burst: { width: 100, height: 100, strokes: [{ draw: polygon(star(13, 0.72, 1)) }] },
  star: { width: 100, height: 96, strokes: [{ draw: polygon(star(5, 0.44)) }] },
  heart: {
    width: 100,
    height: 92,
    strokes: [
      {
        draw: (pen) => {
          pen.moveTo(50, 92);
          pen.bezierCurveTo(8, 62, 0, 44, 0, 28);
          pen.bezierCurveTo(0, 8, 18, 0, 29, 0);
          pen.bezierCurveTo(39, 0, 47, 7, 50, 17);
          pen.bezierCurveTo(53, 7, 61, 0, 71, 0);
          pen.bezierCurveTo(82, 0, 100, 8, 100, 28);
          pen.bezierCurveTo(100, 44, 92, 62, 50, 92);
          pen.closePath();
        },
      },
    ],
  },
  thumb: {
    width: 92,
    height: 100,
    strokes: [
      { draw: rounded(0, 44, 22, 56, 7) },
      {
        draw: (pen) => {
          pen.moveTo(28, 48);
          pen.bezierCurveTo(40, 36, 43, 24, 44, 10);
          pen.bezierCurveTo(45, 0, 58, -2, 62, 8);
          pen.bezierCurveTo(66, 18, 64, 28, 60, 38);
          pen.lineTo(82, 38);
          pen.bezierCurveTo(92, 38, 95, 50, 87, 55);
          pen.bezierCurveTo(94, 60, 91, 71, 84, 72);
          pen.bezierCurveTo(88, 79, 84, 87, 77, 87);
          pen.bezierCurveTo(78, 95, 71, 100, 64, 100);
          pen.lineTo(44, 100);
          pen.bezierCurveTo(37, 100, 34, 96, 28, 94);
          pen.closePath();
        },
      },
    ],
  },
  tick: {
    width: 100,
    height: 80,
    strokes: [
      {
        line: 14,
        draw: (pen) => {
          pen.moveTo(8, 44);
          pen.quadraticCurveTo(24, 54, 36, 72);
          pen.quadraticCurveTo(56, 34, 92, 8);
        },
      },
    ],
  },
  cross: {
    width: 90,
    height: 90,
    strokes: [
      {
        line: 14,
        draw: (pen) => {
          pen.moveTo(9, 11);
          pen.quadraticCurveTo(48, 44, 81, 81);
        },
      },
      {
        line: 14,
        draw: (pen) => {
          pen.moveTo(80, 9);
          pen.quadraticCurveTo(44, 40, 10, 81);
        },
      },
    ],
  },
  bubble: {
    width: 100,
    height: 76,
    strokes: [
      {
        draw: (pen) => {
          pen.moveTo(16, 0);
          pen.lineTo(84, 0);
          pen.bezierCurveTo(94, 0, 100, 6, 100, 16);
          pen.lineTo(100, 42);
          pen.bezierCurveTo(100, 52, 94, 58, 84, 58);
          pen.lineTo(46, 58);
          pen.quadraticCurveTo(36, 70, 20, 76);
          pen.quadraticCurveTo(27, 68, 26, 58);
          pen.lineTo(16, 58);
          pen.bezierCurveTo(6, 58, 0, 52, 0, 42);
          pen.lineTo(0, 16);
          pen.bezierCurveTo(0, 6, 6, 0, 16, 0);
          pen.closePath();
        },
      },
    ],
  },
  box: { width: 100, height: 60, strokes: [{ draw: rounded(0, 0, 100, 60, 6) }] },
  disc: { width: 100, height: 100, strokes: [{ draw: oval(50, 50, 50, 50) }] },
  progress: { width: 100, height: 3, strokes: [{ draw: rounded(0, 0, 100, 3, 1.5) }] },
};

/** A shape as SVG paths: for buttons that show it. */
export function svgOf(shape: ShapeId): { path: string; line: number | null }[] {
  return SHAPES[shape].strokes.map(({ draw, line }) => {
    const steps: string[] = [];
    const say =
      (letter: string) =>
      (...numbers: number[]) =>
        void steps.push(`${letter}${numbers.map((n) => Math.round(n * 100) / 100).join(' ')}`);
    draw({
      beginPath: () => undefined,
      moveTo: say('M'),
      lineTo: say('L'),
      quadraticCurveTo: say('Q'),
      bezierCurveTo: say('C'),
      closePath: say('Z'),
    });
    return { path: steps.join(''), line: line ?? null };
  });
}
