import { execFile } from 'node:child_process';
import { promisify } from 'node:util';
import { z } from 'zod';
import type { Rules } from './rules';

const run = promisify(execFile);

const Probed = z.object({
  streams: z.array(
    z.object({ codec_type: z.string(), codec_name: z.string().optional(), width: z.number().optional(), height: z.number().optional() }),
  ),
  format: z.object({ duration: z.string().optional() }),
});

/** How far a shape may be from what is asked for: the pixel by which even numbers miss it. */
const SHAPE_OFF = 0.01;

/** What is wrong with a file, a sentence each; nothing: it is shown. */
export async function reasonsAgainst(file: string, bytes: number, rules: Rules): Promise<string[]> {
  if (bytes > rules.bytes) return [`The file is larger than ${rules.bytes / 1e6} MB.`];
  let probed: z.infer<typeof Probed>;
  try {
    const { stdout } = await run('ffprobe', ['-v', 'error', '-show_streams', '-show_format', '-of', 'json', file], { timeout: 60_000 });
    probed = Probed.parse(JSON.parse(stdout));
  } catch {
    return ['The file could not be read.'];
  }
  const picture = probed.streams.find(({ codec_type }) => codec_type === 'video');
  if (!picture?.width || !picture.height) return ['There is no picture in the file.'];
  const reasons: string[] = [];
  const { width, height } = picture;
  if (!rules.codecs.includes(picture.codec_name ?? '')) reasons.push(`The picture is ${picture.codec_name}, which is not shown here.`);
  if (!rules.shapes.some(([w, h]) => Math.abs(width / height / (w / h) - 1) < SHAPE_OFF))
    reasons.push(`The picture is ${width} by ${height}; here it is ${rules.shapes.map(([w, h]) => `${w}:${h}`).join(' or ')}.`);
  if (width < rules.leastWidth) reasons.push(`The picture is ${width} pixels wide; at least ${rules.leastWidth} are wanted.`);
  const seconds = Number(probed.format.duration ?? 0);
  if (seconds < rules.length.least) reasons.push(`It lasts ${seconds.toFixed(1)} s, less than ${rules.length.least} s.`);
  if (seconds > rules.length.most) reasons.push(`It lasts ${seconds.toFixed(1)} s, more than ${Math.floor(rules.length.most)} s.`);
  return reasons;
}
