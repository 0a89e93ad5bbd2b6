import { clipEnd, type Clip } from '@flimzy/core/piece';
import { moveTo, pause, play, useEditor } from '../open/editor';

/** Plays what is said while a caption is there, and stands at its start again. */
export function hear(clip: Clip): void {
  pause();
  moveTo(clip.start);
  void play();
  const stop = useEditor.subscribe(({ playing, playhead }) => {
    if (playing && playhead >= clip.start && playhead < clipEnd(clip)) return;
    stop();
    if (!playing) return;
    pause();
    moveTo(clip.start);
  });
}
