/** The header that has a browser save what it gets under a name of any letters (RFC 6266). */
export function attached(fileName: string): string {
  const plain = fileName.replace(/[^\x20-\x7e]|["\\/]/g, '-');
  return `attachment; filename="${plain}"; filename*=UTF-8''${encodeURIComponent(fileName)}`;
}
