import type { SourceFacts } from './probe';

const TURNS = { 0: [], 90: ['transpose=clock'], 180: ['hflip', 'vflip'], 270: ['transpose=cclock'] } as const;

/** Video as it is meant to be seen, before any scaling: fields woven out, photos turned. ffmpeg turns video by itself. */
export function upright(source: SourceFacts): string[] {
  return [...(source.interlaced ? ['yadif=deint=interlaced'] : []), ...TURNS[source.turn]];
}

/** Scales to a size in pixels, from the source's matrix and range to BT.709 limited, the only kind used from here on. */
export function scaleTo(source: SourceFacts, width: number, height: number): string {
  return `scale=${width}:${height}:flags=bicubic:in_color_matrix=${source.matrix}:out_color_matrix=bt709:out_range=tv,setsar=1`;
}

/** Output options that name the colours for what they are. */
export const BT709_TAGS = ['-colorspace', 'bt709', '-color_primaries', 'bt709', '-color_trc', 'bt709', '-color_range', 'tv'] as const;
