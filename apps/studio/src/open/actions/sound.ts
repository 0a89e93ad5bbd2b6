import { apartBy, crossfadeRoom, seamAt, seamsOf } from '@flimzy/core/piece';
import { sayFade, valueOf } from '@flimzy/core/properties';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import Link from 'lucide-react-native/icons/link';
import Blend from 'lucide-react-native/icons/blend';
import FadeIn from 'lucide-react-native/icons/trending-up';
import FadeOut from 'lucide-react-native/icons/trending-down';
import Unlink from 'lucide-react-native/icons/unlink';
import { say } from '../../look/Toast';
import { edit, together } from '../editor';
import { useLengths } from '../lengths';
import { openPanel } from '../panels';
import { joinsBefore, situation, targets } from '../situation';
import type { Action, Situation } from './action';
import { any, audible, withSelected } from './selected';

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

/** Gives the clips an action is about a fade, or takes it away when all have one. */
function fade(field: 'fadeIn' | 'fadeOut'): void {
  const now = situation();
  const clips = now ? audible(now).map(({ clip }) => clip) : [];
  if (clips.length === 0) return say('Select a clip that is heard.');
  const length = clips.every((clip) => valueOf(clip, field) > 0) ? 0 : useLengths.getState().fade;
  edit('set', { clips: clips.map((clip) => clip.id), values: { [field]: length } });
}

/** Crossfades at the joins before the selected clips, or at all of the main track; taken away where all have one. What material is missing is said. */
function crossfades(): void {
  const now = situation();
  if (!now) return;
  const picked = joinsBefore(now);
  const main = now.piece.tracks[0];
  const joins = now.selected.length > 0 ? picked : main ? seamsOf(main) : [];
  const seams = joins.flatMap((clip) => seamAt(now.piece, clip.id) ?? []).filter((seam) => seam.handOver !== null);
  const clips = seams.map(({ after }) => after.id);
  if (clips.length === 0) return say('There is no join here at which sound changes hands.');
  const { cross } = useLengths.getState();
  if (seams.every(({ after }) => (after.blend ?? 0) > 0)) return void edit('crossfade', { clips, length: 0 });
  if (!edit('crossfade', { clips, length: cross })) return;
  const short = seams.map((seam) => crossfadeRoom(now.piece, seam)).filter((room) => room < cross);
  if (short.length === 0) return say(`${clips.length === 1 ? 'A crossfade' : `${clips.length} crossfades`} of ${sayFade(cross)}.`);
  say(
    `${short.length} of ${clips.length} ${clips.length === 1 ? 'join has' : 'joins have'} less material than ${sayFade(cross)}: as much as there is, from ${sayFade(Math.min(...short))}.`,
  );
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
    id: 'gang',
    group: 'Sound',
    words: 'Gang the selected clips: made louder or softer together',
    caption: 'Gang',
    when: (s) => s.selected.length > 1,
    run: () => withSelected((clips) => edit('gang', { clips })),
  },
  {
    id: 'ungang',
    group: 'Sound',
    words: 'Take the selected clips out of their gang',
    caption: 'No gang',
    when: (s) => targets(s).some(({ clip }) => clip.gang !== undefined),
    run: () => withSelected((clips) => edit('ungang', { clips })),
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
