/**
 * Where the server gives what is asked for by its address alone: bytes, and what a worker reads without looking at it by a schema.
 * Nothing else is loaded for it: a worker that only fetches starts at once.
 */
export const ADDRESSES = {
  deliveryCaptions: '/api/deliveries/:id/captions/:kind',
  deliveryFile: '/api/deliveries/:id/file',
  mediaAt: '/api/media/:id/at',
  mediaFrames: '/api/media/:id/frames',
  mediaFilmstrip: '/api/media/:id/filmstrip',
  mediaHearing: '/api/media/:id/hearing',
  mediaLight: '/api/media/:id/light',
  mediaOriginal: '/api/media/:id/original',
  mediaPeaks: '/api/media/:id/peaks',
  mediaProxy: '/api/media/:id/proxy',
  mediaSound: '/api/media/:id/sound',
  mediaTile: '/api/media/:id/tile',
  pieceArchive: '/api/pieces/:id/archive',
  pieceFrame: '/api/pieces/:id/frame',
  piecePoster: '/api/pieces/:id/poster',
} as const;
export type AddressName = keyof typeof ADDRESSES;

/** Where the fonts of titles are, by the names of their files. */
export const FONTS_URL = '/fonts/:file';
export const fontUrl = (name: string): string => FONTS_URL.replace(':file', `${name}.ttf`);

/** Fills the `:name` places of an address, and adds a query. */
export function filled(address: string, params: Record<string, string> = {}, query: Record<string, string | number> = {}): string {
  const path = address.replace(/:(\w+)/g, (_, name: string) => encodeURIComponent(params[name] ?? ''));
  const search = new URLSearchParams(Object.entries(query).map(([k, v]) => [k, String(v)])).toString();
  return search ? `${path}?${search}` : path;
}
