import { TABLE_SIDE } from '../properties';

/** Red, green and blue as levels, 0 to 1. */
export type Colour = [number, number, number];

/** A table of colours: `side` entries from black to full for each of red, green and blue, red running quickest. Levels, 0 to 1. */
export interface Grid {
  side: number;
  levels: ArrayLike<number>;
}

/** What a table makes of a colour between its entries: from the eight around it, by how near each is. */
export function throughGrid({ side, levels }: Grid, [r, g, b]: Colour): Colour {
  const place = (level: number) => Math.max(0, Math.min(1, level)) * (side - 1);
  const [x, y, z] = [place(r), place(g), place(b)];
  const [i, j, k] = [x, y, z].map((at) => Math.min(side - 2, Math.floor(at))) as Colour;
  const out: Colour = [0, 0, 0];
  for (let corner = 0; corner < 8; corner += 1) {
    const [right, up, far] = [corner & 1, (corner >> 1) & 1, corner >> 2];
    const share = (right ? x - i : 1 - x + i) * (up ? y - j : 1 - y + j) * (far ? z - k : 1 - z + k);
    if (share === 0) continue;
    const at = (((k + far) * side + j + up) * side + i + right) * 3;
    for (let c = 0; c < 3; c += 1) out[c] = (out[c] ?? 0) + share * (levels[at + c] ?? 0);
  }
  return out;
}

/** What is made of each colour, as it is kept: {@link TABLE_SIDE} entries on a side, a byte for each level, in base64. */
export function keptTable(made: (colour: Colour) => Colour): string {
  const top = TABLE_SIDE - 1;
  let bytes = '';
  for (let b = 0; b <= top; b += 1)
    for (let g = 0; g <= top; g += 1)
      for (let r = 0; r <= top; r += 1)
        for (const level of made([r / top, g / top, b / top]))
          bytes += String.fromCharCode(Math.round(Math.max(0, Math.min(1, level)) * 255));
  return btoa(bytes);
}

/** The tables read last, since a colour is asked for at a time. */
const KEPT = 8;
const read = new Map<string, Grid>();

function gridOf(table: string): Grid {
  const known = read.get(table);
  if (known) return known;
  const grid = { side: TABLE_SIDE, levels: Float32Array.from(atob(table), (byte) => byte.charCodeAt(0) / 255) };
  read.set(table, grid);
  const [oldest] = read.keys();
  if (read.size > KEPT && oldest !== undefined) read.delete(oldest);
  return grid;
}

/** A colour on its way to what a kept table makes of it. `strength` 0: as it is; 1: all the way. */
export function throughTable(colour: Colour, table: string, strength: number): Colour {
  const made = throughGrid(gridOf(table), colour);
  return colour.map((level, i) => level + ((made[i] ?? 0) - level) * strength) as Colour;
}
