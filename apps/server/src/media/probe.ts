import { z } from 'zod';
import { fromSeconds, isExact, nearestRate, type Flicks, type Rate } from '@flimzy/core/time';
import type { MediaFacts } from '@flimzy/core/piece';
import { ProblemError } from '../http/problem';
import { ONLY_THIS_FILE } from './filters';
import { ProgramFailed, run } from './run';
import type { SourceFacts } from './source';

/** Transfer curves of HDR as ffmpeg names them (ITU-R BT.2100). */
const HDR: Record<string, 'hlg' | 'pq'> = { 'arib-std-b67': 'hlg', smpte2084: 'pq' };

/** Longest material taken for what it claims, in seconds: a day. */
const MOST_SECONDS = 86_400;

export interface Probed {
  facts: Omit<MediaFacts, 'id' | 'name'>;
  source: SourceFacts;
  /** Its picture is one that any browser shows as the server does, but for turning it. */
  asItIs: boolean;
}

const Stream = z.object({
  index: z.number(),
  codec_type: z.string().optional(),
  codec_name: z.string().optional(),
  width: z.number().optional(),
  height: z.number().optional(),
  sample_aspect_ratio: z.string().optional(),
  r_frame_rate: z.string().optional(),
  avg_frame_rate: z.string().optional(),
  duration: z.string().optional(),
  field_order: z.string().optional(),
  pix_fmt: z.string().optional(),
  color_space: z.string().optional(),
  color_transfer: z.string().optional(),
  nb_frames: z.string().optional(),
  channels: z.number().optional(),
  disposition: z.object({ attached_pic: z.number().optional() }).optional(),
  side_data_list: z
    .array(
      z.object({
        rotation: z.number().optional(),
        dv_profile: z.number().optional(),
        dv_bl_signal_compatibility_id: z.number().optional(),
      }),
    )
    .optional(),
});
type Stream = z.infer<typeof Stream>;

const ProbeOutput = z.object({
  streams: z.array(Stream).default([]),
  format: z.object({ format_name: z.string(), duration: z.string().optional() }).optional(),
});

function parseRate(text: string | undefined): Rate | null {
  const [num, den] = (text ?? '').split('/').map(Number);
  if (!num || !den || num / den > 1000) return null;
  const known = nearestRate(num / den);
  if (Math.abs(known.num / known.den - num / den) < 0.005) return known;
  return isExact({ num, den }) && num <= 240_000 && den <= 1_001 ? { num, den } : nearestRate(num / den);
}

function matrixOf(stream: Stream): SourceFacts['matrix'] {
  switch (stream.color_space) {
    case 'bt709':
      return 'bt709';
    case 'smpte170m':
    case 'bt470bg':
      return 'smpte170m';
    case 'bt2020nc':
    case 'bt2020c':
      return 'bt2020';
    case 'smpte240m':
      return 'smpte240m';
    case 'fcc':
      return 'fcc';
    default:
      return Math.min(stream.width ?? 0, stream.height ?? 0) > 576 ? 'bt709' : 'smpte170m';
  }
}

/** Size as seen: pixel shape and quarter turns applied. */
function seenSize(stream: Stream, turn: number): { width: number; height: number } {
  const [w, h] = [stream.width ?? 0, stream.height ?? 0];
  const [sarW, sarH] = (stream.sample_aspect_ratio ?? '1:1').split(':').map(Number);
  const wide = sarW && sarH ? Math.round((w * sarW) / sarH) : w;
  return turn % 180 === 0 ? { width: wide, height: h } : { width: h, height: wide };
}

function rotationOf(stream: Stream): 0 | 90 | 180 | 270 {
  const counterClockwise = stream.side_data_list?.find((s) => s.rotation !== undefined)?.rotation ?? 0;
  const turn = (((Math.round(-counterClockwise / 90) * 90) % 360) + 360) % 360;
  return turn === 90 || turn === 180 || turn === 270 ? turn : 0;
}

/**
 * What cannot be read of a picture's colours. Dolby Vision lays its own information over a picture that others can read, but for
 * profiles whose base layer is compatible with nothing (ETSI TS 103 572, dv_bl_signal_compatibility_id 0): that one has colours of its own.
 */
function foreignColours(stream: Stream | undefined): string | undefined {
  const own = stream?.side_data_list?.find(({ dv_profile }) => dv_profile !== undefined);
  if (!own || own.dv_bl_signal_compatibility_id !== 0) return undefined;
  return `Its colours look wrong here: they are coded as Dolby Vision profile ${own.dv_profile}, which cannot be read. Record or save it as HLG or HDR10.`;
}

const NO_MEDIA = (fileName: string) => `“${fileName}” is not a video, photo or sound file that can be read.`;

function claimedBy(stream: Stream | undefined): Flicks | undefined {
  const seconds = Number(stream?.duration);
  return Number.isFinite(seconds) && seconds > 0 ? fromSeconds(Math.min(MOST_SECONDS, seconds)) : undefined;
}

/** What a file must not be, said as it is. */
function unreadable(fileName: string, sentence = NO_MEDIA(fileName)): ProblemError {
  return new ProblemError('unsupported-media', sentence);
}

/** Longest side of a video, in pixels. */
const MOST_SIDE = 8192;

/**
 * Reads what a video or sound file is. @throws ProblemError `unsupported-media` with a sentence that says what is wrong with it.
 */
export async function probe(file: string, fileName: string, signal?: AbortSignal): Promise<Probed> {
  const args = ['-v', 'error', ...ONLY_THIS_FILE, '-show_streams', '-show_format', '-of', 'json', file];
  const text = await run('ffprobe', args, { signal }).catch((error: unknown) => {
    if (!(error instanceof ProgramFailed) || error.code === null) throw error;
    const cut = /moov atom not found|EBML header parsing failed|File ended prematurely/i.test(error.said);
    throw unreadable(
      fileName,
      cut ? `“${fileName}” is cut off or damaged: its index is missing. Copy it from the phone again.` : undefined,
    );
  });
  const { streams, format } = ProbeOutput.parse(JSON.parse(text.toString()));
  const sound = streams.find((s) => s.codec_type === 'audio' && s.codec_name && (s.channels ?? 0) > 0);
  const video = streams.find((s) => s.codec_type === 'video' && s.disposition?.attached_pic !== 1 && s.codec_name && (s.width ?? 0) > 0);
  if (!sound && !video) throw unreadable(fileName, `“${fileName}” holds neither a picture nor a sound that can be read.`);
  if (video && Math.max(video.width ?? 0, video.height ?? 0) > MOST_SIDE)
    throw unreadable(fileName, `“${fileName}” is larger than ${MOST_SIDE} pixels on a side.`);
  const size = video ? seenSize(video, rotationOf(video)) : { width: 0, height: 0 };
  const rate = parseRate(video?.avg_frame_rate) ?? parseRate(video?.r_frame_rate) ?? { num: 30, den: 1 };
  const interlaced = ['tt', 'bb', 'tb', 'bt'].includes(video?.field_order ?? '');
  const seconds = Number(format?.duration ?? video?.duration ?? sound?.duration ?? 0);
  return {
    facts: {
      kind: video ? 'video' : 'sound',
      length: fromSeconds(Number.isFinite(seconds) ? Math.min(MOST_SECONDS, Math.max(0, seconds)) : 0),
      ...size,
      rate: video ? rate : null,
      hasSound: Boolean(sound),
      ...(interlaced ? { interlaced } : {}),
    },
    source: {
      codedWidth: video?.width ?? 0,
      codedHeight: video?.height ?? 0,
      turn: 0,
      matrix: video ? matrixOf(video) : 'bt709',
      videoStream: video?.index ?? null,
      soundStream: sound?.index ?? null,
      ...(sound?.channels === 1 ? { mono: true } : {}),
      interlaced,
      codec: video?.codec_name ?? sound?.codec_name ?? '',
      ...(video?.color_transfer && HDR[video.color_transfer] ? { transfer: HDR[video.color_transfer] } : {}),
      claimed: /mov|wav|flac/.test(format?.format_name ?? '') ? claimedBy(video ?? sound) : undefined,
      coding: foreignColours(video),
    },
    asItIs: video !== undefined && isPlain(video) && /mov|mp4/.test(format?.format_name ?? ''),
  };
}

/** H.264 of the kind that everything decodes: eight bits, square pixels, whole pictures, no HDR. */
function isPlain({ codec_name, pix_fmt, sample_aspect_ratio = '1:1', field_order = 'progressive', color_transfer = '' }: Stream): boolean {
  if (codec_name !== 'h264' || !['yuv420p', 'yuvj420p'].includes(pix_fmt ?? '')) return false;
  return ['1:1', '0:1'].includes(sample_aspect_ratio) && ['progressive', 'unknown'].includes(field_order) && !HDR[color_transfer];
}
