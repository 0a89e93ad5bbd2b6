import { clipEnd, type Clip } from '../piece';
import { partsOf, valueOf, type Motion, type Part } from '../properties';
import type { Flicks } from '../time';
import type { OnItsWay } from './motions';

/** A part of a title as it is drawn at a time. */
export type DrawnPart = Part & {
  /** It is coming in or going; missing: it is there. */
  motion?: OnItsWay;
  /** Of what shows how far the clip is: 0 to 1. */
  share?: number;
};

/** How long a clip's title comes in and goes, in flicks: together no longer than the clip. */
export function motionLengths(clip: Clip): { in: Flicks; out: Flicks } {
  const of = (motion: Motion | 'none') => (motion === 'none' ? 0 : motion.length);
  const [coming, going] = [of(valueOf(clip, 'motionIn')), of(valueOf(clip, 'motionOut'))];
  const fit = Math.min(1, clip.length / Math.max(1, coming + going));
  return { in: Math.round(coming * fit), out: Math.round(going * fit) };
}

/** How far a stretch of a length has a title coming in at its start and going at its end. @param moment since its start, at the middle of the frame */
function onItsWay(clip: Clip, moment: Flicks, length: Flicks): OnItsWay | undefined {
  const [comes, goes] = [valueOf(clip, 'motionIn'), valueOf(clip, 'motionOut')];
  const lengths = motionLengths({ ...clip, length });
  if (comes !== 'none' && moment < lengths.in)
    return { kind: comes.kind, by: comes.by, direction: comes.direction, at: moment / lengths.in };
  const left = length - moment;
  if (goes !== 'none' && left < lengths.out) return { kind: goes.kind, by: goes.by, direction: goes.direction, at: left / lengths.out };
  return undefined;
}

const wordsOf = (text: string) => text.split(/\s+/).filter(Boolean);

/** Whether a clip's title changes all through, not only where it comes in and goes. */
export function changesThroughout(clip: Clip): boolean {
  return partsOf(valueOf(clip, 'overlay')).some((part) => (part.kind === 'shape' ? part.shape === 'progress' : part.pace === 'words'));
}

/** Whether a clip's title is ever another one from one frame to the next. */
export const isMovingTitle = (clip: Clip): boolean =>
  clip.overlay !== undefined && (clip.motionIn !== undefined || clip.motionOut !== undefined || changesThroughout(clip));

/**
 * The parts of a clip's title at a time of the timeline. A text that goes word by word is its word of that time, which comes and goes as
 * the whole does.
 *
 * @param frame length of a frame of the piece, in flicks
 */
export function partsAt(clip: Clip, time: Flicks, frame: Flicks): DrawnPart[] {
  const now = Math.max(clip.start, Math.min(time, clipEnd(clip) - frame));
  const moment = now - clip.start + frame / 2;
  const motion = onItsWay(clip, moment, clip.length);
  return partsOf(valueOf(clip, 'overlay')).map((part): DrawnPart => {
    if (part.kind === 'shape') {
      const drawn: DrawnPart = part.shape === 'progress' ? { ...part, share: moment / clip.length } : { ...part };
      return motion ? { ...drawn, motion } : drawn;
    }
    const words = part.pace === 'words' ? wordsOf(part.text) : [];
    if (words.length < 2) return motion ? { ...part, motion } : part;
    const each = clip.length / words.length;
    const n = Math.min(words.length - 1, Math.floor(moment / each));
    const of = onItsWay(clip, moment - n * each, each);
    const word = { ...part, text: words[n] ?? '' };
    return of ? { ...word, motion: of } : word;
  });
}
