import { describeFrames, type FrameTimes } from '@flimzy/core/frame';
import { fromSeconds, type Flicks, type Rate } from '@flimzy/core/time';
import { ONLY_THIS_FILE } from './filters';
import { run } from './run';

/** The frames of a video file: how many, when each begins (null when there are none), and when the last one ends. */
export interface ReadFrames {
  count: number;
  frames: FrameTimes | null;
  end: Flicks;
}

/** When each frame of a video file begins: read from its packets, in order of showing, without decoding. */
export async function readFrameTimes(file: string, rate: Rate, signal?: AbortSignal): Promise<ReadFrames> {
  const show = ['-select_streams', 'v:0', '-show_entries', 'packet=pts_time,duration_time,flags', '-of', 'csv=p=0'];
  const text = await run('ffprobe', ['-v', 'error', ...show, ...ONLY_THIS_FILE, '-i', file], { signal });
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
  return { count: times.length, frames: times.length > 0 ? describeFrames(times, rate) : null, end };
}
