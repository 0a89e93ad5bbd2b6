import path from 'node:path';
import type { SourceFacts } from './source';

/** The kinds of file that are taken, as ffmpeg names what reads them. None of them reads another file than the one it is given. */
const DEMUXERS = [
  ...['mov', 'matroska', 'avi', 'mpegts', 'mpeg', 'flv', 'asf', 'gif', 'apng'],
  ...['mp3', 'wav', 'w64', 'aiff', 'aac', 'ogg', 'flac', 'caf', 'amr', 'au', 'ac3', 'eac3'],
  ...['jpeg_pipe', 'png_pipe', 'webp_pipe', 'bmp_pipe', 'tiff_pipe'],
];

/**
 * Input options for every file that came from outside, or was made from one: a playlist that was given another name must not make
 * ffmpeg read other files or ask the network.
 */
export const ONLY_THIS_FILE: readonly string[] = ['-protocol_whitelist', 'file', '-format_whitelist', DEMUXERS.join(',')];

/** What reads pictures that were made here. By their names ffmpeg would take them for one of a numbered row, and a `%` in a path for the number. */
const PICTURES: Record<string, string> = { '.jpg': 'jpeg_pipe', '.png': 'png_pipe' };

/** What was made here with something that shines through: ffmpeg's own decoder would leave that out. */
const CLEAR: Record<string, string> = { '.webm': 'libvpx-vp9' };

/** A file as an input of ffmpeg. */
export function fileInput(file: string): string[] {
  const kind = path.extname(file);
  const [picture, decoder] = [PICTURES[kind], CLEAR[kind]];
  return [...ONLY_THIS_FILE, ...(picture ? ['-f', picture] : []), ...(decoder ? ['-c:v', decoder] : []), '-i', file];
}

const TURNS = { 0: [], 90: ['transpose=clock'], 180: ['hflip', 'vflip'], 270: ['transpose=cclock'] } as const;

/** Video as it is meant to be seen, before any scaling: fields woven out, photos turned. ffmpeg turns video by itself. */
export function upright(source: SourceFacts): string[] {
  return [...(source.interlaced ? ['yadif=deint=interlaced'] : []), ...TURNS[source.turn]];
}

/** How zscale names the transfer curves of HDR. */
const TRANSFERS = { hlg: 'arib-std-b67', pq: 'smpte2084' } as const;

/**
 * From HDR to BT.709: light made linear with reference white (203 cd/m², ITU-R BT.2408) at 1, primaries changed, highlights above
 * it rolled off. Brings the SDR picture that an HDR one was made from back within one level.
 */
function toneMap(transfer: 'hlg' | 'pq'): string[] {
  return [
    `zscale=tin=${TRANSFERS[transfer]}:pin=bt2020:min=bt2020nc:t=linear:npl=203`,
    'format=gbrpf32le',
    'zscale=p=bt709',
    'tonemap=mobius:param=0.8:desat=0',
    'zscale=t=bt709:m=bt709:r=tv',
  ];
}

/** How zscale names the matrices that are not BT.709. */
const MATRICES = { smpte170m: 'smpte170m', bt2020: 'bt2020nc', smpte240m: 'smpte2400m', fcc: 'fcc' } as const;

/** Scales to a size in pixels, from the source's matrix, range and brightness to BT.709 limited, the only kind used from here on. */
export function scaleTo({ transfer, matrix }: SourceFacts, width: number, height: number): string {
  const plain = `scale=${width}:${height}:flags=bicubic`;
  if (transfer) return [plain, ...toneMap(transfer), 'setsar=1'].join(',');
  if (matrix === 'bt709') return `${plain}:in_color_matrix=bt709:out_color_matrix=bt709:out_range=tv,setsar=1`;
  // Going over from one matrix to another, swscale loses 1.6 levels of brightness, or, told to round, takes ten times as long.
  return `zscale=w=${width}:h=${height}:filter=bicubic:param_a=0:param_b=0.6:min=${MATRICES[matrix]}:m=bt709:r=limited,setsar=1`;
}

/** Output options that name the colours for what they are. */
export const BT709_TAGS = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'] as const;
