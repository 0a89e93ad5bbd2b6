import { colourThrough, keptTable, throughGrid, type Colour } from '../frame';
import type { Effect } from '../properties';

/** Effects of colour as a file that other programs read (.cube, a 3D LUT: red runs quickest). */
export function cubeFile(effects: readonly Effect[], name: string, side = 33): string {
  const lines = [`TITLE "${name.replaceAll('"', '')}"`, `LUT_3D_SIZE ${side}`, 'DOMAIN_MIN 0 0 0', 'DOMAIN_MAX 1 1 1'];
  for (let b = 0; b < side; b += 1)
    for (let g = 0; g < side; g += 1)
      for (let r = 0; r < side; r += 1) {
        const colour = colourThrough(effects, [r / (side - 1), g / (side - 1), b / (side - 1)]);
        lines.push(colour.map((level) => level.toFixed(6)).join(' '));
      }
  return `${lines.join('\n')}\n`;
}

/** Most entries on a side that are read: those of a 3D table, and of a 1D one. */
const MOST_3D = 129;
const MOST_1D = 65_536;

/** What a file must have: a sentence of what is wrong with it. */
export class CubeProblem extends Error {
  override name = 'CubeProblem';
}

interface Cube {
  title: string | null;
  dimensions: 1 | 3;
  side: number;
  least: Colour;
  most: Colour;
  levels: number[];
}

const numbers = (text: string): number[] => text.trim().split(/\s+/).map(Number);

function three(text: string, line: number): Colour {
  const found = numbers(text);
  if (found.length !== 3 || found.some((one) => !Number.isFinite(one))) throw new CubeProblem(`Line ${line} does not hold three numbers.`);
  return found as Colour;
}

function sideIn(text: string, most: number): number {
  const side = Number(text);
  if (!Number.isInteger(side) || side < 2 || side > most)
    throw new CubeProblem(`A table of ${text.trim() || 'no'} entries cannot be read: 2 to ${most} can.`);
  return side;
}

function parse(text: string): Cube {
  const cube: Cube = { title: null, dimensions: 3, side: 0, least: [0, 0, 0], most: [1, 1, 1], levels: [] };
  text.split(/\r\n|\r|\n/).forEach((raw, n) => {
    const line = raw.replace(/^\uFEFF/, '').trim();
    if (line === '' || line.startsWith('#')) return;
    const word = /^[A-Z][A-Z0-9_]*/.exec(line)?.[0];
    if (!word) {
      if (cube.levels.length > MOST_3D ** 3 * 3) throw new CubeProblem('It holds more entries than any table has.');
      cube.levels.push(...three(line, n + 1));
      return;
    }
    const rest = line.slice(word.length);
    if (word === 'TITLE') cube.title = rest.trim().replace(/^"|"$/g, '').trim();
    if (word === 'LUT_3D_SIZE') Object.assign(cube, { dimensions: 3, side: sideIn(rest, MOST_3D) });
    if (word === 'LUT_1D_SIZE') Object.assign(cube, { dimensions: 1, side: sideIn(rest, MOST_1D) });
    if (word === 'DOMAIN_MIN') cube.least = three(rest, n + 1);
    if (word === 'DOMAIN_MAX') cube.most = three(rest, n + 1);
    if (word === 'LUT_3D_INPUT_RANGE' || word === 'LUT_1D_INPUT_RANGE') {
      const [least, most] = numbers(rest);
      if (!Number.isFinite(least) || !Number.isFinite(most)) throw new CubeProblem(`Line ${n + 1} does not hold two numbers.`);
      [cube.least, cube.most] = [[least, least, least] as Colour, [most, most, most] as Colour];
    }
  });
  return cube;
}

/** What a table of three curves makes of one side's level at a share of its length. */
function onCurve(levels: readonly number[], side: number, channel: number, share: number): number {
  const at = Math.max(0, Math.min(1, share)) * (side - 1);
  const first = Math.min(side - 2, Math.floor(at));
  const [a, b] = [levels[first * 3 + channel] ?? 0, levels[(first + 1) * 3 + channel] ?? 0];
  return a + (b - a) * (at - first);
}

/**
 * Reads a table of colours from a file (.cube: 3D, or a curve for each colour), as it is kept in a piece.
 * @throws CubeProblem with a sentence of what is wrong
 */
export function readCube(text: string): { title: string | null; table: string } {
  const { title, dimensions, side, least, most, levels } = parse(text);
  if (side === 0) throw new CubeProblem('It does not say how large its table is: it is no .cube file.');
  const due = side ** dimensions;
  if (levels.length !== due * 3)
    throw new CubeProblem(`It should hold ${due} entries and holds ${levels.length / 3}: it is cut off or damaged.`);
  if (least.some((low, i) => !((most[i] ?? 0) > low))) throw new CubeProblem('What it begins at is not below what it ends at.');
  const within = (level: number, i: number) => (level - (least[i] ?? 0)) / ((most[i] ?? 1) - (least[i] ?? 0));
  // Colours are asked for from 0 to 1, whatever the table itself runs over.
  const made = (colour: Colour): Colour => {
    const at = colour.map(within) as Colour;
    return dimensions === 3 ? throughGrid({ side, levels }, at) : (at.map((share, i) => onCurve(levels, side, i, share)) as Colour);
  };
  return { title, table: keptTable(made) };
}
