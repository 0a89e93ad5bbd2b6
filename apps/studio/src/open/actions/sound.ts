import { apartBy, crossfadeRoom, isHeard, keyTime, seamAt, seamsOf, soundSpan } from '@flimzy/core/piece';
import { points, sayFade, valueOf } from '@flimzy/core/properties';
import { fromSeconds } from '@flimzy/core/time';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import Link from 'lucide-react-native/icons/link';
import Under from 'lucide-react-native/icons/speech';
import Gauge from 'lucide-react-native/icons/gauge';
import Blend from 'lucide-react-native/icons/blend';
import Bleep from 'lucide-react-native/icons/megaphone-off';
import FadeIn from 'lucide-react-native/icons/trending-up';
import FadeOut from 'lucide-react-native/icons/trending-down';
import Quieter from 'lucide-react-native/icons/volume-1';
import Unlink from 'lucide-react-native/icons/unlink';
import { say } from '../../look/Toast';
import { edit, together, useEditor } from '../editor';
import { useLengths } from '../lengths';
import { openPanel } from '../panels';
import { joinsBefore, situation, targets } from '../situation';
import type { Action, Situation } from './action';
import { any, withSelected } from './selected';

/** Groups of linked clips that stand apart, among what an action is about: for each, the clip it is about. */
function groupsApart(now: Situation): Map<string, string> {
  const linked = targets(now).flatMap(({ clip }) => (clip.link ? [[clip.link.group, clip] as const] : []));
  const apart = linked.filter(([, clip]) => apartBy(now.piece, clip) !== 0);
  return new Map(apart.map(([group, clip]) => [group, clip.id]));
}

/** Brings what each selected clip is linked with back in step with it; a group once. */
function bringAllInStep(): void {
  const now = situation();
  if (!now) return;
  const steps = [...groupsApart(now).values()].map((clip) => ({ name: 'bringInStep' as const, params: { clip } }));
  if (steps.length === 0) return say('Everything here is in step.');
  if (steps.length === 1 && steps[0]) edit('bringInStep', steps[0].params);
  else together(`Bring ${steps.length} groups in step`, steps);
}

/** How much quieter a stretch is made by one touch (dB), and how long its slopes are, in flicks. */
const QUIETER = -12;
const SLOPE = fromSeconds(0.2);

const audible = (s: Situation) => targets(s).filter(({ clip }) => isHeard(clip, s.piece.media[clip.media]));

/** Gives the clips an action is about a fade, or takes it away when all have one. */
function fade(field: 'fadeIn' | 'fadeOut'): void {
  const now = situation();
  const clips = now ? audible(now).map(({ clip }) => clip) : [];
  if (clips.length === 0) return say('Select a clip that is heard.');
  const length = clips.every((clip) => valueOf(clip, field) > 0) ? 0 : useLengths.getState().fade;
  edit('set', { clips: clips.map((clip) => clip.id), values: { [field]: length } });
}

/** Makes the stretch between in and out quieter on the clips an action is about, by points of their envelopes. */
function quieterHere(): void {
  const now = situation();
  const { markIn, markOut } = useEditor.getState();
  if (!now || markIn === null || markOut === null) return say('Set in and out around what is to be quieter (I and O), then touch this.');
  const steps = audible(now)
    .filter(({ clip }) => soundSpan(clip).start < markOut && soundSpan(clip).end > markIn)
    .map(({ clip }) => {
      const [from, to] = [keyTime(clip, markIn), keyTime(clip, markOut)];
      const envelope = points.between(valueOf(clip, 'envelope'), from, to, QUIETER, SLOPE);
      return { name: 'set' as const, params: { clips: [clip.id], values: { envelope } } };
    });
  if (steps.length === 0) return say('Nothing that is selected is heard there.');
  if (together('Quieter between in and out', steps)) say(`${Math.abs(QUIETER)} dB quieter between in and out.`);
}

/** Crossfades at the joins before the selected clips, or at all of the main track; taken away where all have one. What material is missing is said. */
function crossfades(): void {
  const now = situation();
  if (!now) return;
  const picked = joinsBefore(now);
  const main = now.piece.tracks[0];
  const joins = now.selected.length > 0 ? picked : main ? seamsOf(main) : [];
  const clips = joins.filter((clip) => seamAt(now.piece, clip.id)?.handOver !== null);
  if (clips.length === 0) return say('There is no join here at which sound changes hands.');
  const { cross } = useLengths.getState();
  if (clips.every((clip) => (clip.blend ?? 0) > 0)) return void edit('crossfade', { clips: clips.map((clip) => clip.id), length: 0 });
  if (!edit('crossfade', { clips: clips.map((clip) => clip.id), length: cross })) return;
  const rooms = clips.map((clip) => {
    const seam = seamAt(now.piece, clip.id);
    return seam ? crossfadeRoom(now.piece, seam) : 0;
  });
  const short = rooms.filter((room) => room < cross);
  if (short.length === 0) return say(`${clips.length === 1 ? 'A crossfade' : `${clips.length} crossfades`} of ${sayFade(cross)}.`);
  say(
    `${short.length} of ${clips.length} ${clips.length === 1 ? 'join has' : 'joins have'} less material than ${sayFade(cross)}: as much as there is, from ${sayFade(Math.min(...short))}.`,
  );
}

const wholePiece = () => useEditor.getState().session?.current.piece;

/** Fades the whole piece at one end, or takes that away. */
function fadeWhole(field: 'fadeIn' | 'fadeOut'): void {
  const sound = wholePiece()?.sound;
  edit('setSound', { [field]: sound?.[field] ? 0 : useLengths.getState().fade });
}

function switchLimiter(): void {
  const limited = Boolean(wholePiece()?.sound?.unlimited);
  if (edit('setSound', { limited }))
    say(limited ? 'The limiter is on: nothing gets louder than −1 dBTP.' : 'The limiter is off: what is too loud will be distorted.');
}

/** Picture and sound, apart and together. */
export const SOUND: readonly Action[] = [
  {
    id: 'fade-in',
    group: 'Sound',
    words: 'Fade the sound in; or take the fade away',
    caption: 'Fade in',
    icon: FadeIn,
    when: (s) => audible(s).length > 0,
    run: () => fade('fadeIn'),
  },
  {
    id: 'fade-out',
    group: 'Sound',
    words: 'Fade the sound out; or take the fade away',
    caption: 'Fade out',
    icon: FadeOut,
    when: (s) => audible(s).length > 0,
    run: () => fade('fadeOut'),
  },
  {
    id: 'crossfades',
    group: 'Sound',
    words: 'Crossfade at the joins before the selected clips, or at all joins; or take that away',
    caption: 'Crossfade',
    icon: Blend,
    run: crossfades,
  },
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
    id: 'under',
    group: 'Sound',
    words: 'Music under speech: keep it out of the way of whoever speaks',
    caption: 'Under speech',
    icon: Under,
    key: 'y',
    run: () => openPanel({ name: 'under', track: null }),
  },
  {
    id: 'loudness',
    group: 'Sound',
    words: 'Loudness: measure the piece, bring it or the selected clips to a target',
    caption: 'Loudness',
    icon: Gauge,
    key: 'shift+u',
    run: () => openPanel({ name: 'loudness' }),
  },
  {
    id: 'cover',
    group: 'Sound',
    words: 'Cover a word of the selected clip: with a tone, silence, or garbled',
    caption: 'Cover',
    icon: Bleep,
    key: 'shift+k',
    when: (s) => s.selected.length === 1 && audible(s).length === 1,
    run: () => openPanel({ name: 'cover' }),
  },
  {
    id: 'piece-fade-in',
    group: 'Sound',
    words: 'Fade the whole piece in; or take that away',
    caption: 'Piece in',
    run: () => fadeWhole('fadeIn'),
  },
  {
    id: 'piece-fade-out',
    group: 'Sound',
    words: 'Fade the whole piece out; or take that away',
    caption: 'Piece out',
    run: () => fadeWhole('fadeOut'),
  },
  {
    id: 'limiter',
    group: 'Sound',
    words: 'Limiter of the whole piece: on, or off',
    caption: 'Limiter',
    run: switchLimiter,
  },
  {
    id: 'plain-envelope',
    group: 'Sound',
    words: 'Take the envelope away: the same level throughout',
    caption: 'No envelope',
    when: (s) => targets(s).some(({ clip }) => clip.envelope !== undefined),
    run: () => withSelected((clips) => edit('set', { clips, values: { envelope: 0 } })),
  },
  {
    id: 'detach',
    group: 'Sound',
    words: 'Detach the sound onto a track of its own, still linked',
    caption: 'Detach',
    icon: AudioLines,
    key: 'd',
    when: any,
    run: () => withSelected((clips) => edit('detach', { clips })),
  },
  {
    id: 'attach',
    group: 'Sound',
    words: 'Attach the detached sound to its picture again',
    caption: 'Attach',
    when: (s) => targets(s).some(({ clip }) => clip.silent),
    run: () => withSelected((clips) => edit('attach', { clips })),
  },
  {
    id: 'link',
    group: 'Sound',
    words: 'Link the selected clips, so that they move together',
    caption: 'Link',
    icon: Link,
    key: 'l',
    when: (s) => s.selected.length > 1,
    run: () => withSelected((clips) => (clips.length > 1 ? edit('link', { clips }) : say('Select two clips or more to link.'))),
  },
  {
    id: 'unlink',
    group: 'Sound',
    words: 'Unlink',
    caption: 'Unlink',
    icon: Unlink,
    key: 'shift+l',
    when: (s) => targets(s).some(({ clip }) => clip.link),
    run: () => withSelected((clips) => edit('unlink', { clips })),
  },
  {
    id: 'in-step',
    group: 'Sound',
    words: 'Bring linked clips back in step',
    caption: 'In step',
    when: (s) => groupsApart(s).size > 0,
    run: bringAllInStep,
  },
  {
    id: 'pauses',
    group: 'Sound',
    words: 'Find pauses in the selected clips',
    caption: 'Pauses',
    key: 'p',
    when: any,
    run: () => openPanel({ name: 'pauses' }),
  },
];
