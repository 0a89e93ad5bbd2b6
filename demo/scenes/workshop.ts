import type { Scene } from './outdoors';
import { gradient, grain, INK, kite, lens, limb, person, TAU, wobble, type Ctx } from './paint';

function room(c: Ctx, w: number, h: number, shift: number): void {
  c.fillStyle = gradient(c, 0, h, ['#e9d8b8', '#d9bf93']);
  c.fillRect(0, 0, w, h);
  c.fillStyle = 'rgba(255,248,225,0.65)';
  c.fillRect(w * (0.08 + shift), h * 0.08, w * 0.2, h * 0.42);
  c.strokeStyle = INK.woodDark;
  c.lineWidth = h * 0.014;
  c.strokeRect(w * (0.08 + shift), h * 0.08, w * 0.2, h * 0.42);
  c.beginPath();
  c.moveTo(w * (0.18 + shift), h * 0.08);
  c.lineTo(w * (0.18 + shift), h * 0.5);
  c.stroke();
  kite(c, w * (0.82 + shift), h * 0.24, h * 0.13, 0.3, 0.4, [INK.teal, INK.yellow, INK.paper, INK.red]);
  c.fillStyle = INK.woodDark;
  c.fillRect(w * (0.66 + shift), h * 0.5, w * 0.3, h * 0.02);
  for (let i = 0; i < 6; i += 1) {
    c.fillStyle = [INK.red, INK.navy, INK.yellow, INK.teal, INK.paper, '#c86b4a'][i] as string;
    c.beginPath();
    c.arc(w * (0.69 + i * 0.047 + shift), h * 0.468, h * 0.03, 0, TAU);
    c.fill();
  }
}

function bench(c: Ctx, w: number, h: number, y: number): void {
  c.fillStyle = gradient(c, y, h, [INK.wood, INK.woodDark]);
  c.fillRect(0, y, w, h - y);
  c.strokeStyle = 'rgba(70,40,20,0.25)';
  c.lineWidth = h * 0.003;
  for (let i = 0; i < 7; i += 1) {
    c.beginPath();
    c.moveTo(0, y + (h - y) * (i / 7) + grain(i) * 8);
    c.lineTo(w, y + (h - y) * (i / 7) + grain(i + 5) * 14);
    c.stroke();
  }
}

function sheet(c: Ctx, x: number, y: number, s: number, turn: number): void {
  c.save();
  c.translate(x, y);
  c.rotate(turn);
  c.fillStyle = INK.paper;
  c.fillRect(-s, -s * 0.6, s * 2, s * 1.2);
  c.fillStyle = INK.red;
  c.beginPath();
  c.moveTo(0, -s * 0.5);
  c.lineTo(s * 0.7, 0);
  c.lineTo(0, s * 0.5);
  c.lineTo(-s * 0.7, 0);
  c.fill();
  c.restore();
}

/** The talk from the front. */
export const talkFront: Scene = (c, w, h, t, level) => {
  room(c, w, h, 0);
  person(c, w * 0.5, h * 0.36, h * 0.19, level, 0.15 * wobble(t * 0.6, 2), t);
  bench(c, w, h, h * 0.82);
  sheet(c, w * 0.5, h * 0.92, h * 0.11, 0.06);
  const wave = wobble(t * 1.6, 8);
  for (const side of [-1, 1]) {
    const [ex, ey] = [w * (0.5 + side * 0.135), h * 0.76];
    limb(c, w * (0.5 + side * 0.105), h * 0.6, ex, ey, h * 0.095, INK.navy);
    limb(c, ex, ey, w * (0.5 + side * 0.065), h * (0.87 + side * 0.045 * wave), h * 0.075, INK.skin);
  }
  lens(c, w, h);
};

/** The same talk from the side. */
export const talkSide: Scene = (c, w, h, t, level) => {
  room(c, w, h, -0.16);
  person(c, w * 0.62, h * 0.4, h * 0.22, level, -0.9, t);
  bench(c, w, h, h * 0.86);
  sheet(c, w * 0.36, h * 0.93, h * 0.1, -0.12);
  limb(c, w * 0.52, h * 0.86, w * 0.42, h * (0.9 + 0.02 * wobble(t * 1.6, 8)), h * 0.085, INK.skin);
  lens(c, w, h, 0.03);
};

/** The hands on the bench while the talk goes on. */
export const talkHands: Scene = (c, w, h, t) => {
  bench(c, w, h, 0);
  sheet(c, w * 0.5, h * 0.5, h * 0.42, 0.03);
  c.strokeStyle = INK.woodDark;
  c.lineWidth = h * 0.022;
  c.beginPath();
  c.moveTo(w * 0.5, h * 0.1);
  c.lineTo(w * 0.5, h * 0.9);
  c.moveTo(w * 0.5 - h * 0.34, h * 0.5);
  c.lineTo(w * 0.5 + h * 0.34, h * 0.5);
  c.stroke();
  const tie = Math.sin(t * 2.2);
  for (const side of [-1, 1]) {
    const hx = w * (0.5 + side * (0.1 + 0.025 * tie));
    const hy = h * (0.5 + side * 0.03 * tie);
    limb(c, w * (0.5 + side * 0.46), h * 1.06, w * (0.5 + side * 0.24), h * 0.72, h * 0.2, INK.navy);
    limb(c, w * (0.5 + side * 0.24), h * 0.72, hx + side * h * 0.06, hy + h * 0.07, h * 0.14, INK.skin);
    for (let i = 0; i < 4; i += 1)
      limb(
        c,
        hx + side * h * 0.05,
        hy + h * 0.05,
        hx - side * h * (0.03 + i * 0.006),
        hy + h * (-0.05 + i * 0.035),
        h * 0.038,
        i % 2 ? '#d29064' : INK.skin,
      );
  }
  c.strokeStyle = INK.paper;
  c.lineWidth = h * 0.008;
  c.beginPath();
  c.arc(w * 0.5, h * 0.5, h * (0.04 + 0.012 * tie), 0, TAU);
  c.stroke();
  lens(c, w, h);
};

/** Scissors going through red paper. */
export const paperCut: Scene = (c, w, h, t) => {
  bench(c, w, h, 0);
  const cut = w * (0.1 + Math.min(0.75, t * 0.12));
  c.fillStyle = INK.red;
  c.fillRect(w * 0.1, h * 0.2, w * 0.85, h * 0.3);
  c.save();
  c.translate(0, Math.min(h * 0.03, t * h * 0.008));
  c.fillStyle = '#c9431f';
  c.fillRect(w * 0.1, h * 0.5, cut - w * 0.1, h * 0.28);
  c.restore();
  c.fillStyle = INK.red;
  c.fillRect(cut, h * 0.5, w * 0.95 - cut, h * 0.28);
  const snip = Math.abs(Math.sin(t * 6)) * 0.22 + 0.05;
  for (const side of [-1, 1]) {
    c.save();
    c.translate(cut - w * 0.02, h * 0.5);
    c.rotate(side * snip);
    c.fillStyle = '#c8ccd0';
    c.beginPath();
    c.moveTo(w * 0.16, 0);
    c.lineTo(-w * 0.04, -h * 0.022);
    c.lineTo(-w * 0.04, h * 0.022);
    c.fill();
    c.strokeStyle = INK.navy;
    c.lineWidth = h * 0.028;
    c.beginPath();
    c.ellipse(-w * 0.09, side * -h * 0.04, w * 0.045, h * 0.06, 0, 0, TAU);
    c.stroke();
    c.restore();
  }
  lens(c, w, h, 0.03);
};

/** Thin spars rolling over the bench, one after the other. */
export const spars: Scene = (c, w, h, t) => {
  bench(c, w, h, 0);
  for (let i = 0; i < 9; i += 1) {
    const x = ((i * 0.13 + t * 0.16) % 1.25) * w - w * 0.1;
    c.fillStyle = gradient(c, h * 0.1, h * 0.9, ['#f0d6a2', '#c89b5b', '#f0d6a2']);
    c.save();
    c.translate(x, h * 0.5);
    c.rotate(0.08 * wobble(t + i, i));
    c.fillStyle = i % 2 ? '#e6c78e' : '#d9b475';
    c.fillRect(-w * 0.008, -h * 0.4, w * 0.016, h * 0.8);
    c.fillStyle = 'rgba(60,30,10,0.3)';
    c.fillRect(w * 0.008, -h * 0.4, w * 0.006, h * 0.8);
    c.restore();
  }
  lens(c, w, h);
};
