import { keyTime, soundSpan } from '@flimzy/core/piece';
import { points, valueOf, type Curve } from '@flimzy/core/properties';
import { ascending, fromSeconds } from '@flimzy/core/time';
import Quieter from 'lucide-react-native/icons/volume-1';
import { say } from '../../look/Toast';
import { edit, together, useEditor } from '../editor';
import { situation, targets } from '../situation';
import type { Action } from './action';
import { audible, withSelected } from './selected';

/** How much quieter a stretch is made by one touch (dB), and how long its slopes are, in flicks. */
const QUIETER = -12;
const SLOPE = fromSeconds(0.2);

/** Makes the stretch between in and out quieter on the clips an action is about, by points of their envelopes. */
function quieterHere(): void {
  const now = situation();
  const { markIn, markOut } = useEditor.getState();
  if (!now || markIn === null || markOut === null) return say('Set in and out around what is to be quieter (I and O), then touch this.');
  const steps = audible(now)
    .filter(({ clip }) => soundSpan(clip).start < markOut && soundSpan(clip).end > markIn)
    .map(({ clip }) => {
      const [from, to] = ascending(keyTime(clip, markIn), keyTime(clip, markOut));
      const envelope = points.between(valueOf(clip, 'envelope'), from, to, QUIETER, SLOPE);
      return { name: 'set' as const, params: { clips: [clip.id], values: { envelope } } };
    });
  if (steps.length === 0) return say('Nothing that is selected is heard there.');
  if (together('Quieter between in and out', steps)) say(`${Math.abs(QUIETER)} dB quieter between in and out.`);
}

/** How far a simplified line may be from what it was, in dB. */
const SIMPLE = 0.5;

function simplify(): void {
  const now = situation();
  const clips = (now ? targets(now) : []).map(({ clip }) => clip).filter((clip) => clip.envelope !== undefined);
  const count = (curve: Curve) => points.pointsOf(curve).length;
  const steps = clips.map((clip) => {
    const envelope = points.simplified(valueOf(clip, 'envelope'), SIMPLE);
    return {
      fewer: count(valueOf(clip, 'envelope')) - count(envelope),
      step: { name: 'set' as const, params: { clips: [clip.id], values: { envelope } } },
    };
  });
  const fewer = steps.reduce((sum, one) => sum + one.fewer, 0);
  if (fewer === 0) return say('No point can go: the line would be elsewhere.');
  if (
    together(
      'Simplify the envelope',
      steps.map((one) => one.step),
    )
  )
    say(`${fewer} ${fewer === 1 ? 'point' : 'points'} fewer.`);
}

/** An envelope that was copied, with the moment of the material at which its clip began. */
let copied: { curve: Curve; from: number } | null = null;

function copyEnvelope(): void {
  const now = situation();
  const clip = now ? targets(now).find((one) => one.clip.envelope !== undefined)?.clip : undefined;
  if (!clip) return say('Select a clip with an envelope.');
  copied = { curve: valueOf(clip, 'envelope'), from: keyTime(clip, clip.start) };
  say('The envelope is copied.');
}

function pasteEnvelope(): void {
  const now = situation();
  if (!now || !copied) return say('Copy an envelope first.');
  const { curve, from } = copied;
  const steps = audible(now).map(({ clip }) => {
    const envelope = points.moved(curve, keyTime(clip, clip.start) - from);
    return { name: 'set' as const, params: { clips: [clip.id], values: { envelope } } };
  });
  if (steps.length > 0) together(`Paste the envelope onto ${steps.length === 1 ? 'a clip' : `${steps.length} clips`}`, steps);
}

/** How a clip's level changes within it. */
export const ENVELOPE: readonly Action[] = [
  {
    id: 'quieter',
    group: 'Sound',
    words: 'Quieter between in and out',
    caption: 'Quieter here',
    icon: Quieter,
    when: (s) => audible(s).length > 0,
    run: quieterHere,
  },
  {
    id: 'simplify-envelope',
    group: 'Sound',
    words: 'Simplify the envelope: fewer points, the line within half a decibel',
    caption: 'Simplify',
    when: (s) => targets(s).some(({ clip }) => clip.envelope !== undefined),
    run: simplify,
  },
  {
    id: 'copy-envelope',
    group: 'Sound',
    words: 'Copy the envelope of the selected clip',
    caption: 'Copy envelope',
    when: (s) => targets(s).some(({ clip }) => clip.envelope !== undefined),
    run: copyEnvelope,
  },
  {
    id: 'paste-envelope',
    group: 'Sound',
    words: 'Paste the envelope onto the selected clips, from where each begins',
    caption: 'Paste envelope',
    when: (s) => copied !== null && audible(s).length > 0,
    run: pasteEnvelope,
  },
  {
    id: 'plain-envelope',
    group: 'Sound',
    words: 'Take the envelope away: the same level throughout',
    caption: 'No envelope',
    when: (s) => targets(s).some(({ clip }) => clip.envelope !== undefined),
    run: () => withSelected((clips) => edit('set', { clips, values: { envelope: 0 } })),
  },
];
