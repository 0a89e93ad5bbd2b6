import { apartBy } from '@flimzy/core/piece';
import AudioLines from 'lucide-react-native/icons/audio-lines';
import Link from 'lucide-react-native/icons/link';
import Unlink from 'lucide-react-native/icons/unlink';
import { say } from '../../look/Toast';
import { edit, together } from '../editor';
import { openPanel } from '../panels';
import { situation, targets } from '../situation';
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

/** Picture and sound, apart and together. */
export const SOUND: readonly Action[] = [
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
