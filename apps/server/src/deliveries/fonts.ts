import { GlobalFonts, setTextRenderer } from '@napi-rs/canvas';
import type { Layer } from '@flimzy/core/frame';
import type { Part } from '@flimzy/core/properties';
import { familyName, filesFor, filesOfParts } from '@flimzy/stage';
import path from 'node:path';
import { fileURLToPath } from 'node:url';

/** Where the fonts lie that the build laid ready: beside the bundle. */
export const FONTS = path.join(path.dirname(fileURLToPath(import.meta.url)), 'fonts');

// As browsers draw text, to the pixel.
setTextRenderer('system');

const known = new Set<string>();

/** Makes known the fonts that some layers need. */
export const useFonts = (layers: readonly Layer[]): void => know(filesFor(layers));

/** The same for the parts of a title. */
export const useFontsOf = (parts: readonly Part[]): void => know(filesOfParts(parts));

function know(files: readonly string[]): void {
  for (const file of files) {
    if (known.has(file)) continue;
    known.add(file);
    if (!GlobalFonts.registerFromPath(path.join(FONTS, `${file}.ttf`), familyName(file)))
      throw new Error(`the font ${file} cannot be read`);
  }
}
