import { describeFrames, type FrameTimes } from '@flimzy/core/frame';
import { fromSeconds, type Rate } from '@flimzy/core/time';
import { run } from './run';

/** When each frame of a video file begins: read from its packets, in order of showing, without decoding. */
export async function readFrameTimes(file: string, rate: Rate): Promise<{ frames: FrameTimes; end: number }> {
  const text = await run('ffprobe', [
    '-v',
    'error',
    '-select_streams',
    'v:0',
    '-show_entries',
    'packet=pts_time,duration_time,flags',
    '-of',
    'csv=p=0',
    file,
  ]);
  const times: number[] = [];
  let end = 0;
  for (const line of text.toString().split('\n')) {
    const [pts, duration, flags] = line.split(',');
    if (!pts || pts === 'N/A' || flags?.includes('D')) continue;
    const time = fromSeconds(Number(pts));
    times.push(time);
    end = Math.max(end, time + fromSeconds(Number(duration) || rate.den / rate.num));
  }
  times.sort((a, b) => a - b);
  return { frames: describeFrames(times, rate), end };
}
