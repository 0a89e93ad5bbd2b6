import { WASM } from './wasm';

/** Entries on a side of a cube of colours. */
export const CUBE_SIDE = 33;

/** What a level is counted in within a cube: 64 for one. */
export const CUBE_UNIT = 64;

/** int16 for each entry of a cube. */
export const CUBE_ENTRY = 4;

/** Entries past the end that the kernel may read, with no weight. */
const PAST = CUBE_SIDE * CUBE_SIDE + CUBE_SIDE + 1;

interface Exports {
  memory: WebAssembly.Memory;
  cube(at: number, count: number, table: number): void;
  sharpen(from: number, to: number, width: number, height: number, amount: number): void;
  grain(at: number, width: number, height: number, step: number, amount: number, seed: number): void;
  planes(from: number, to: number, width: number, height: number, open: boolean): void;
  shown(from: number, to: number, width: number, height: number): void;
  halved(from: number, to: number, width: number, height: number): void;
  mixed(at: number, over: number, count: number, share: number): void;
  laid(at: number, width: number, height: number, box: number, across: number, high: number, x: number, y: number): void;
  placed(at: number, width: number, height: number, from: number, across: number, high: number, ...more: number[]): void;
  plane(at: number, width: number, height: number, from: number, across: number, high: number, ...more: number[]): void;
  opacities(from: number, to: number, count: number): void;
  grained(at: number, width: number, height: number, step: number, amount: number, seed: number, temp: number): void;
  sharpened(from: number, to: number, width: number, height: number, amount: number): void;
  masked(at: number, above: number, mask: number, width: number, height: number): void;
  coloured(at: number, width: number, height: number, x: number, y: number, across: number, high: number, table: number): void;
}

let made: Exports | null = null;

/** The module, made when it is first needed. */
export function kernels(): Exports {
  if (made) return made;
  const bytes = Uint8Array.from(atob(WASM), (letter) => letter.charCodeAt(0));
  made = new WebAssembly.Instance(new WebAssembly.Module(bytes)).exports as unknown as Exports;
  return made;
}

/** What the module keeps for itself at the beginning of its memory, in bytes. */
export const OWN = 1024;

const CUBE_BYTES = (CUBE_SIDE ** 3 + PAST) * CUBE_ENTRY * 2;

/** Where pixels begin: after the cube, on a whole number of 16 bytes. */
export const PIXELS = OWN + Math.ceil(CUBE_BYTES / 16) * 16;

/** Makes room for so many bytes of pixels. */
export function room({ memory }: Exports, bytes: number): Uint8Array<ArrayBuffer> {
  const missing = PIXELS + bytes - memory.buffer.byteLength;
  if (missing > 0) memory.grow(Math.ceil(missing / 65_536));
  return new Uint8Array(memory.buffer as ArrayBuffer);
}

let loaded: Int16Array | null = null;

/** Has a cube lie where the kernels look for it. */
export function load(wasm: Exports, cube: Int16Array): void {
  if (cube.length !== CUBE_SIDE ** 3 * CUBE_ENTRY) throw new RangeError('not a cube of that size');
  if (loaded === cube) return;
  new Int16Array(wasm.memory.buffer, OWN, cube.length).set(cube);
  loaded = cube;
}

/** Grain as kernels count it: 1/256 of a grain for a pixel, whole levels. @param size pixels across one grain */
export const grainOf = (size: number, amount: number, seed: number): [step: number, amount: number, seed: number] => [
  Math.max(1, Math.round(256 / size)),
  Math.round(amount),
  seed | 0,
];

/** How much is sharpened, in 1/256. */
export const sharpnessOf = (amount: number): number => Math.round(amount * 256);
