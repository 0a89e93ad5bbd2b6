import { fontUrl } from '@flimzy/contract/addresses';
import { familyName } from '@flimzy/stage';

/** Where a page or a worker keeps its fonts. */
const set = (): FontFaceSet => (typeof document === 'undefined' ? (self as unknown as FontFaceSource).fonts : document.fonts);

const asked = new Map<string, Promise<void>>();
const there = new Set<string>();

function load(file: string, origin: string): Promise<void> {
  const known = asked.get(file);
  if (known) return known;
  const face = new FontFace(familyName(file), `url(${origin}${fontUrl(file)})`);
  const loading = face.load().then(() => {
    (set() as unknown as { add(face: FontFace): void }).add(face);
    there.add(file);
  });
  loading.catch(() => asked.delete(file)); // asked again, it is tried again
  asked.set(file, loading);
  return loading;
}

/** Whether fonts can be drawn with. */
export const haveFonts = (files: readonly string[]): boolean => files.every((file) => there.has(file));

/** Gets fonts by their names in `stage/fonts.json`. @throws when one cannot be had just now */
export async function getFonts(files: readonly string[], origin = ''): Promise<void> {
  if (!haveFonts(files)) await Promise.all(files.map((file) => load(file, origin)));
}
