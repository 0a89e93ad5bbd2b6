/** A file name from a piece's name: letters, digits and dashes of any script, safe on every system. */
export function fileName(pieceName: string, extension: string): string {
  const base = pieceName
    .normalize('NFC')
    .replace(/[^\p{L}\p{N}]+/gu, '-')
    .replace(/^-+|-+$/g, '')
    .slice(0, 80);
  return `${base || 'piece'}.${extension}`;
}
