import { CAPTION_FILES, captionFile, type CaptionFile } from '@flimzy/core/formats';
import type { Cue } from '@flimzy/core/piece';

/** Hands what is at an address over to the person, as a file with a name. */
export function saveFrom(address: string, name: string): void {
  const link = document.createElement('a');
  link.href = address;
  link.download = name;
  link.click();
}

/** Captions as a file of a kind. */
export const captionBlob = (cues: readonly Cue[], kind: CaptionFile): Blob =>
  new Blob([captionFile(cues, kind)], { type: CAPTION_FILES[kind].mime });

/** Hands a file over to the person, under a name. */
export function saveFile(contents: Blob, name: string): void {
  const address = URL.createObjectURL(contents);
  saveFrom(address, name);
  setTimeout(() => URL.revokeObjectURL(address), 60_000);
}
