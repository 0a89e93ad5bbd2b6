import type { SKRSContext2D } from '@napi-rs/canvas';

/** The colours of the demo's drawn world: paper, wood, sky at three times of day. */
export const INK = {
  paper: '#f3e7cf',
  red: '#e4572e',
  yellow: '#f2b134',
  teal: '#2a9d8f',
  navy: '#22384f',
  wood: '#b98555',
  woodDark: '#8a5a37',
  skin: '#d99a6c',
  skinDark: '#a8683f',
  grass: ['#88a85c', '#6f9350', '#567a43', '#3f6136'],
};

export type Ctx = SKRSContext2D;
export const TAU = Math.PI * 2;

/** A smooth pseudo-random value in −1…1 that depends on `t` alone. */
export function wobble(t: number, seed = 0): number {
  return (Math.sin(t * 1.3 + seed * 7.1) + Math.sin(t * 2.17 + seed * 3.3) * 0.6 + Math.sin(t * 3.91 + seed) * 0.3) / 1.9;
}

/** A fixed pseudo-random value in 0…1 for a whole number. */
export function grain(n: number): number {
  const x = Math.sin(n * 127.1 + 311.7) * 43758.5453;
  return x - Math.floor(x);
}

export function gradient(c: Ctx, y0: number, y1: number, stops: string[]) {
  const g = c.createLinearGradient(0, y0, 0, y1);
  stops.forEach((s, i) => g.addColorStop(i / (stops.length - 1), s));
  return g;
}

export function sky(c: Ctx, w: number, h: number, stops: string[]): void {
  c.fillStyle = gradient(c, 0, h, stops);
  c.fillRect(0, 0, w, h);
}

export function cloud(c: Ctx, x: number, y: number, size: number, colour = 'rgba(255,255,255,0.75)'): void {
  c.fillStyle = colour;
  c.beginPath();
  for (const [dx, dy, r] of [
    [-1, 0.1, 0.5],
    [-0.4, -0.2, 0.7],
    [0.35, -0.1, 0.6],
    [1, 0.15, 0.45],
  ] as const) {
    c.moveTo(x + dx * size + r * size, y + dy * size);
    c.arc(x + dx * size, y + dy * size, r * size, 0, TAU);
  }
  c.fill();
}

/** A rolling hill from `base` down. */
export function hill(c: Ctx, w: number, h: number, base: number, swell: number, phase: number, colour: string): void {
  c.fillStyle = colour;
  c.beginPath();
  c.moveTo(0, h);
  for (let x = 0; x <= w; x += w / 60)
    c.lineTo(x, base + Math.sin((x / w) * 5 + phase) * swell + Math.sin((x / w) * 11 + phase * 2) * swell * 0.3);
  c.lineTo(w, h);
  c.fill();
}

/** Blades of grass that lean with the wind. */
export function grassBlades(c: Ctx, w: number, y: number, height: number, count: number, t: number, colour: string): void {
  c.strokeStyle = colour;
  c.lineWidth = Math.max(2, height / 22);
  c.beginPath();
  for (let i = 0; i < count; i += 1) {
    const x = (i / count) * w + grain(i) * (w / count);
    const lean = (0.25 + 0.35 * wobble(t * 2 + x / w, i % 5)) * height;
    const tall = height * (0.6 + grain(i + 99) * 0.6);
    c.moveTo(x, y + grain(i + 7) * height * 0.6);
    c.quadraticCurveTo(x, y - tall * 0.6, x + lean, y - tall);
  }
  c.stroke();
}

/** A four-panelled paper kite with a tail that trails behind it. */
export function kite(
  c: Ctx,
  x: number,
  y: number,
  size: number,
  tilt: number,
  t: number,
  colours = [INK.red, INK.yellow, '#f6d9a8', INK.teal],
): void {
  c.save();
  c.translate(x, y);
  c.strokeStyle = INK.paper;
  c.lineWidth = size * 0.03;
  c.beginPath();
  c.moveTo(0, size * 0.9);
  const points: [number, number][] = [];
  for (let i = 1; i <= 14; i += 1) {
    const s = i / 14;
    const p: [number, number] = [Math.sin(t * 5 - i * 0.55) * size * 0.28 * s - tilt * size * s * 1.6, size * (0.9 + s * 1.9)];
    points.push(p);
    c.lineTo(p[0], p[1]);
  }
  c.stroke();
  points.forEach(([px, py], i) => {
    if (i % 3 !== 2) return;
    c.fillStyle = colours[i % colours.length] as string;
    c.beginPath();
    c.moveTo(px, py);
    c.lineTo(px - size * 0.16, py - size * 0.08);
    c.lineTo(px - size * 0.16, py + size * 0.08);
    c.lineTo(px + size * 0.16, py - size * 0.08);
    c.lineTo(px + size * 0.16, py + size * 0.08);
    c.fill();
  });
  c.rotate(tilt);
  const corners: [number, number][] = [
    [0, -size],
    [size * 0.72, -size * 0.15],
    [0, size],
    [-size * 0.72, -size * 0.15],
  ];
  corners.forEach((a, i) => {
    const b = corners[(i + 1) % 4] as [number, number];
    c.fillStyle = colours[i] as string;
    c.beginPath();
    c.moveTo(0, -size * 0.15);
    c.lineTo(a[0], a[1]);
    c.lineTo(b[0], b[1]);
    c.closePath();
    c.fill();
  });
  c.strokeStyle = 'rgba(60,40,30,0.55)';
  c.lineWidth = size * 0.025;
  c.beginPath();
  c.moveTo(0, -size);
  c.lineTo(0, size);
  c.moveTo(-size * 0.72, -size * 0.15);
  c.lineTo(size * 0.72, -size * 0.15);
  c.stroke();
  c.restore();
}

/** A string with a slack curve from one point to another. */
export function line(
  c: Ctx,
  x0: number,
  y0: number,
  x1: number,
  y1: number,
  sag: number,
  width: number,
  colour = 'rgba(255,250,235,0.85)',
): void {
  c.strokeStyle = colour;
  c.lineWidth = width;
  c.beginPath();
  c.moveTo(x0, y0);
  c.quadraticCurveTo((x0 + x1) / 2 + sag * 0.4, (y0 + y1) / 2 + sag, x1, y1);
  c.stroke();
}

/** A rounded body part between two points. */
export function limb(c: Ctx, x0: number, y0: number, x1: number, y1: number, width: number, colour: string): void {
  c.strokeStyle = colour;
  c.lineCap = 'round';
  c.lineWidth = width;
  c.beginPath();
  c.moveTo(x0, y0);
  c.lineTo(x1, y1);
  c.stroke();
  c.lineCap = 'butt';
}

/** A head and shoulders; `open` (0…1) is how far the mouth is open, `turn` (−1…1) where it looks. */
export function person(c: Ctx, x: number, y: number, s: number, open: number, turn: number, t: number, shirt = INK.navy): void {
  const nod = wobble(t * 1.4, 3) * s * 0.03;
  c.fillStyle = shirt;
  c.beginPath();
  c.moveTo(x - s * 1.25, y + s * 3);
  c.quadraticCurveTo(x - s * 1.25, y + s * 1.05, x - s * 0.35, y + s * 0.95);
  c.lineTo(x + s * 0.35, y + s * 0.95);
  c.quadraticCurveTo(x + s * 1.25, y + s * 1.05, x + s * 1.25, y + s * 3);
  c.fill();
  c.fillStyle = INK.red;
  c.fillRect(x - s * 0.62, y + s * 1.5, s * 1.24, s * 1.6);
  limb(c, x - s * 0.5, y + s * 1.55, x - s * 0.36, y + s * 0.98, s * 0.1, INK.red);
  limb(c, x + s * 0.5, y + s * 1.55, x + s * 0.36, y + s * 0.98, s * 0.1, INK.red);
  c.fillStyle = INK.skinDark;
  c.fillRect(x - s * 0.2, y + s * 0.5, s * 0.4, s * 0.55);
  c.fillStyle = INK.skin;
  c.beginPath();
  c.ellipse(x, y + nod, s * 0.58, s * 0.7, 0, 0, TAU);
  c.fill();
  c.fillStyle = '#3b2a20';
  c.beginPath();
  c.ellipse(x - turn * s * 0.08, y - s * 0.38 + nod, s * 0.66, s * 0.46, 0, Math.PI, TAU);
  c.fill();
  c.beginPath();
  c.arc(x - turn * s * 0.3 + s * 0.1, y - s * 0.86 + nod, s * 0.25, 0, TAU);
  c.fill();
  const blink = Math.sin(t * 1.9) > 0.985 || Math.sin(t * 0.83 + 1) > 0.99 ? 0.15 : 1;
  const look = turn * s * 0.16;
  c.fillStyle = '#2b1d16';
  for (const side of [-1, 1]) {
    c.beginPath();
    c.ellipse(x + side * s * 0.22 + look, y - s * 0.04 + nod, s * 0.055, s * 0.075 * blink, 0, 0, TAU);
    c.fill();
  }
  c.strokeStyle = INK.skinDark;
  c.lineWidth = s * 0.035;
  c.beginPath();
  c.moveTo(x + look * 1.2, y + s * 0.02 + nod);
  c.lineTo(x + look * 1.2 + s * 0.05 * (turn >= 0 ? 1 : -1), y + s * 0.18 + nod);
  c.stroke();
  c.fillStyle = '#7a2d22';
  c.beginPath();
  c.ellipse(x + look, y + s * 0.36 + nod, s * 0.17, s * (0.025 + 0.13 * open), 0, 0, TAU);
  c.fill();
}

/** Light and a vignette over everything, as a lens gives. */
export function lens(c: Ctx, w: number, h: number, warmth = 0): void {
  const g = c.createRadialGradient(w / 2, h / 2, Math.min(w, h) * 0.35, w / 2, h / 2, Math.max(w, h) * 0.72);
  g.addColorStop(0, 'rgba(0,0,0,0)');
  g.addColorStop(1, 'rgba(20,10,0,0.32)');
  c.fillStyle = g;
  c.fillRect(0, 0, w, h);
  if (warmth > 0) {
    c.fillStyle = `rgba(255,160,60,${warmth})`;
    c.fillRect(0, 0, w, h);
  }
}
