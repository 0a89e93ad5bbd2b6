import { cloud, gradient, grassBlades, hill, INK, kite, lens, limb, line, sky, TAU, wobble, type Ctx } from './paint';

/** Draws a scene at time `t` (seconds). `level` is how loud its voice is just then, 0…1. */
export type Scene = (c: Ctx, w: number, h: number, t: number, level: number) => void;

/** The hill on launch day: the kite climbs out of the hands. */
export const hilltop: Scene = (c, w, h, t) => {
  sky(c, w, h, ['#5fa8d8', '#9fcdea', '#e8f1e6']);
  cloud(c, w * (0.2 + t * 0.012), h * 0.16, w * 0.09);
  cloud(c, w * (0.75 + t * 0.008), h * 0.27, w * 0.06);
  hill(c, w, h, h * 0.66, h * 0.02, 1, INK.grass[0] as string);
  hill(c, w, h, h * 0.72, h * 0.03, 2.4, INK.grass[1] as string);
  const rise = Math.min(1, t / 5);
  const ease = rise * rise * (3 - 2 * rise);
  const kx = w * (0.5 + 0.14 * wobble(t * 0.9, 1));
  const ky = h * (0.6 - 0.36 * ease) + h * 0.015 * wobble(t * 1.7, 2);
  line(c, w * 0.36, h * 0.8, kx, ky, h * 0.05, w * 0.004);
  kite(c, kx, ky, w * 0.15, 0.22 * wobble(t * 1.1, 4), t);
  hill(c, w, h, h * 0.84, h * 0.025, 0.4, INK.grass[2] as string);
  const [px, py, s] = [w * 0.3, h * 0.86, w * 0.07];
  limb(c, px - s * 0.3, py, px - s * 0.45, py + s * 2.2, s * 0.5, '#40506a');
  limb(c, px + s * 0.3, py, px + s * 0.5, py + s * 2.2, s * 0.5, '#40506a');
  limb(c, px, py - s * 1.3, px, py, s * 1.1, INK.red);
  limb(c, px + s * 0.3, py - s * 1.4, w * 0.36, h * 0.8, s * 0.36, INK.skin);
  c.fillStyle = INK.skin;
  c.beginPath();
  c.arc(px + s * 0.1, py - s * 2.3, s * 0.6, 0, TAU);
  c.fill();
  c.fillStyle = '#3b2a20';
  c.beginPath();
  c.arc(px, py - s * 2.4, s * 0.62, Math.PI * 0.7, Math.PI * 1.95);
  c.fill();
  grassBlades(c, w, h * 0.97, h * 0.06, 110, t, INK.grass[3] as string);
  lens(c, w, h);
};

/** The line running out between two fingers, the kite small above. */
export const lineInHand: Scene = (c, w, h, t) => {
  sky(c, w, h, ['#7db7dd', '#b9dcea', '#f0ead2']);
  cloud(c, w * (0.3 + t * 0.02), h * 0.3, w * 0.1);
  hill(c, w, h, h * 0.78, h * 0.02, 2, INK.grass[1] as string);
  const [kx, ky] = [w * (0.62 + 0.08 * wobble(t, 2)), h * (0.17 + 0.02 * wobble(t * 1.3, 5))];
  const tug = wobble(t * 4, 1) * w * 0.015;
  line(c, w * 0.46 + tug, h * 0.62, kx, ky, h * 0.03, w * 0.006);
  kite(c, kx, ky, w * 0.07, 0.3 * wobble(t * 1.2, 3), t);
  limb(c, w * 0.02, h * 1.02, w * 0.36 + tug, h * 0.7, w * 0.2, INK.teal);
  limb(c, w * 0.32 + tug, h * 0.72, w * 0.42 + tug, h * 0.66, w * 0.17, INK.skin);
  for (let i = 0; i < 4; i += 1)
    limb(
      c,
      w * (0.4 + i * 0.03) + tug,
      h * (0.69 - i * 0.008),
      w * (0.47 + i * 0.022) + tug,
      h * (0.635 + i * 0.018),
      w * 0.055,
      i % 2 ? '#d29064' : INK.skin,
    );
  c.strokeStyle = INK.woodDark;
  c.lineWidth = w * 0.05;
  c.beginPath();
  c.moveTo(w * 0.34 + tug, h * 0.79);
  c.lineTo(w * 0.62 + tug, h * 0.73);
  c.stroke();
  c.fillStyle = INK.paper;
  c.beginPath();
  c.ellipse(w * 0.48 + tug, h * 0.76, w * 0.1, h * 0.032, -0.24, 0, TAU);
  c.fill();
  c.strokeStyle = 'rgba(120,100,70,0.6)';
  c.lineWidth = w * 0.004;
  for (let i = -4; i <= 4; i += 1) {
    c.beginPath();
    const x = w * 0.48 + tug + i * w * 0.02 + ((t * w * 0.05) % (w * 0.02));
    c.moveTo(x, h * 0.735);
    c.lineTo(x - w * 0.01, h * 0.785);
    c.stroke();
  }
  line(c, w * 0.48 + tug, h * 0.75, w * 0.46 + tug, h * 0.62, 0, w * 0.006);
  lens(c, w, h);
};

/** Running along the beach to catch the wind. */
export const beachRun: Scene = (c, w, h, t) => {
  sky(c, w, h * 0.6, ['#6fb6d6', '#cfe8ea', '#fbe8c8']);
  c.fillStyle = gradient(c, h * 0.52, h * 0.68, ['#3f8ea8', '#6fb7bd', '#d8ecd9']);
  c.fillRect(0, h * 0.52, w, h * 0.18);
  c.strokeStyle = 'rgba(255,255,255,0.7)';
  c.lineWidth = h * 0.004;
  for (let i = 0; i < 5; i += 1) {
    c.beginPath();
    const y = h * (0.56 + i * 0.028) + Math.sin(t * 1.5 + i) * h * 0.006;
    for (let x = 0; x <= w; x += w / 30) c.lineTo(x, y + Math.sin(x / (w * 0.07) + t * 2 + i * 2) * h * 0.004);
    c.stroke();
  }
  c.fillStyle = gradient(c, h * 0.68, h, ['#e9cf9e', '#d2a96c']);
  c.fillRect(0, h * 0.68, w, h * 0.32);
  const run = (t * 0.1) % 1.2;
  const [px, py, s] = [w * (run - 0.05), h * (0.76 + Math.abs(Math.sin(t * 9)) * -0.012), w * 0.075];
  const [kx, ky] = [px - w * 0.28, h * (0.36 - 0.1 * Math.min(1, t / 6)) + wobble(t, 6) * h * 0.015];
  line(c, px - s * 0.8, py - s * 1.7, kx, ky, h * 0.03, w * 0.004);
  kite(c, kx, ky, w * 0.12, -0.35 + 0.15 * wobble(t, 2), t, [INK.teal, INK.paper, INK.yellow, INK.red]);
  const stride = Math.sin(t * 9);
  limb(c, px, py, px + stride * s, py + s * 1.7, s * 0.42, INK.navy);
  limb(c, px, py, px - stride * s, py + s * 1.7, s * 0.42, '#2f4a63');
  limb(c, px + s * 0.2, py - s * 1.4, px, py, s * 0.95, INK.yellow);
  limb(c, px, py - s * 1.4, px - s * 0.8, py - s * 1.7, s * 0.3, INK.skin);
  c.fillStyle = INK.skin;
  c.beginPath();
  c.arc(px + s * 0.45, py - s * 2.3, s * 0.55, 0, TAU);
  c.fill();
  c.fillStyle = '#3b2a20';
  c.beginPath();
  c.arc(px + s * 0.35, py - s * 2.4, s * 0.56, Math.PI * 0.75, Math.PI * 2);
  c.fill();
  lens(c, w, h, 0.04);
};

/** The last flight of the day. */
export const dusk: Scene = (c, w, h, t) => {
  sky(c, w, h, ['#2c3563', '#8a4f7d', '#e77f5a', '#f9c97a']);
  c.fillStyle = 'rgba(255,225,160,0.9)';
  c.beginPath();
  c.arc(w * 0.5, h * (0.66 + t * 0.006), w * 0.14, 0, TAU);
  c.fill();
  hill(c, w, h, h * 0.74, h * 0.02, 1.2, '#6b4560');
  hill(c, w, h, h * 0.8, h * 0.03, 3, '#4a3352');
  const [kx, ky] = [w * (0.5 + 0.2 * wobble(t * 0.7, 9)), h * (0.3 + 0.04 * wobble(t, 3))];
  line(c, w * 0.7, h * 0.88, kx, ky, h * 0.06, w * 0.004, 'rgba(255,230,190,0.6)');
  kite(c, kx, ky, w * 0.11, 0.3 * wobble(t, 1), t, ['#b3392a', '#d98a2b', '#c9a26f', '#1f6f67']);
  hill(c, w, h, h * 0.9, h * 0.02, 0.2, '#2a2138');
  limb(c, w * 0.72, h * 0.93, w * 0.72, h * 0.89, w * 0.06, '#1b1626');
  c.fillStyle = '#1b1626';
  c.beginPath();
  c.arc(w * 0.72, h * 0.855, w * 0.032, 0, TAU);
  c.fill();
  grassBlades(c, w, h, h * 0.05, 90, t, '#1b1626');
  lens(c, w, h);
};

/** The kite's shadow going over the field. */
export const shadow: Scene = (c, w, h, t) => {
  c.fillStyle = gradient(c, 0, h, ['#9ab868', '#6f9350']);
  c.fillRect(0, 0, w, h);
  for (let row = 0; row < 9; row += 1)
    grassBlades(c, w, h * (0.08 + row * 0.12), h * 0.09, 90, t + row, row % 2 ? (INK.grass[2] as string) : (INK.grass[1] as string));
  c.globalAlpha = 0.4;
  kite(c, w * (0.1 + t * 0.14), h * (0.4 + 0.1 * wobble(t, 2)), h * 0.2, 0.5 + 0.2 * wobble(t, 5), t, [
    '#1c2b14',
    '#1c2b14',
    '#1c2b14',
    '#1c2b14',
  ]);
  c.globalAlpha = 1;
  for (let i = 0; i < 14; i += 1) {
    c.fillStyle = i % 3 ? '#f7efe0' : INK.yellow;
    c.beginPath();
    c.arc(w * ((i * 0.37) % 1), h * ((i * 0.61) % 1), h * 0.009, 0, TAU);
    c.fill();
  }
  lens(c, w, h);
};

/** The tail fluttering against the sky, close. */
export const tail: Scene = (c, w, h, t) => {
  sky(c, w, h, ['#4f9bd0', '#a9d5ee']);
  cloud(c, w * (0.15 + t * 0.03), h * 0.7, h * 0.16);
  cloud(c, w * (0.8 + t * 0.02), h * 0.25, h * 0.11);
  kite(c, w * (0.48 + 0.05 * wobble(t, 1)), h * (0.16 + 0.03 * wobble(t * 1.2, 2)), h * 0.25, 0.12 + 0.2 * wobble(t * 1.4, 3), t * 1.3);
  lens(c, w, h);
};
