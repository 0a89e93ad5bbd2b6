import type { DeliverySettings } from './settings';

/** A file name from a piece's name: letters, digits and dashes of any script, safe on every system. */
export function fileName(pieceName: string, extension: string): string {
  const base = pieceName
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80);
  return `${base || 'piece'}.${extension}`;
}

/** What the name of a file can be made of. */
export const NAME_WORDS = ['piece', 'format', 'size', 'date', 'part', 'track'] as const;
export type NameWords = Partial<Record<(typeof NAME_WORDS)[number], string>>;

export const USUAL_PATTERN = '{piece} {format} {track} {part}';

/** What the words stand for in the name of a delivery. @param parts in which the piece goes out @param track whose sound alone it is */
export function nameWords(piece: string, { format, size, part }: DeliverySettings, parts: number, track = ''): NameWords {
  return {
    piece,
    format: format?.name ?? '',
    size: size ? `${size.width}x${size.height}` : '',
    date: new Date().toISOString().slice(0, 10),
    part: part === null ? '' : `${part + 1} of ${parts}`,
    track,
  };
}

/** A file name from a pattern such as "{piece} {format}": words that there is nothing for are left out. */
export function fileNameFrom(pattern: string, words: NameWords, extension: string): string {
  const filled = pattern.replace(/\{(\w+)\}/g, (_, word: string) => words[word as keyof NameWords] ?? '');
  return fileName(filled, extension);
}

/** What in a pattern is no word that can be filled in, or null. */
export function unknownWord(pattern: string): string | null {
  for (const [whole, word] of pattern.matchAll(/\{([^}]*)\}?/g))
    if (!whole.endsWith('}') || !(NAME_WORDS as readonly string[]).includes(word as string)) return whole;
  return null;
}
