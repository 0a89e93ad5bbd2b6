// Lays the fonts that titles use ready for server and browser: the files of packages/stage/fonts.json, by their names there.
import { Buffer } from 'node:buffer';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import path from 'node:path';
import { root } from './setup.mjs';

/** A table of a font that nothing here draws with, and that makes the file of emoji five times as large. */
const LEFT_OUT = 'SVG ';

/** A font without one of its tables (OpenType 1.9, "Organization of an OpenType font"). */
function without(font, name) {
  const count = font.readUInt16BE(4);
  const tables = Array.from({ length: count }, (_, n) => {
    const at = 12 + 16 * n;
    return {
      head: font.subarray(at, at + 8),
      name: font.toString('latin1', at, at + 4),
      from: font.readUInt32BE(at + 8),
      length: font.readUInt32BE(at + 12),
    };
  }).filter((table) => table.name !== name);
  const power = Math.floor(Math.log2(tables.length));
  const head = Buffer.alloc(12 + 16 * tables.length);
  font.copy(head, 0, 0, 4);
  [tables.length, 16 * 2 ** power, power, 16 * (tables.length - 2 ** power)].forEach((n, i) => head.writeUInt16BE(n, 4 + 2 * i));
  const bodies = [head];
  let at = head.length;
  tables.forEach(({ head: tag, from, length }, n) => {
    tag.copy(head, 12 + 16 * n);
    head.writeUInt32BE(at, 12 + 16 * n + 8);
    head.writeUInt32BE(length, 12 + 16 * n + 12);
    const padded = Buffer.alloc(length + ((4 - (length % 4)) % 4));
    font.copy(padded, 0, from, from + length);
    bodies.push(padded);
    at += padded.length;
  });
  return Buffer.concat(bodies);
}

export function makeFonts() {
  const files = JSON.parse(readFileSync(path.join(root, 'packages/stage/fonts.json'), 'utf8'));
  const into = path.join(root, 'apps/server/dist/fonts');
  mkdirSync(into, { recursive: true });
  for (const [name, file] of Object.entries(files)) {
    const font = readFileSync(path.join(root, 'node_modules/@expo-google-fonts', file));
    writeFileSync(path.join(into, `${name}.ttf`), name === 'emoji' ? without(font, LEFT_OUT) : font);
  }
}
