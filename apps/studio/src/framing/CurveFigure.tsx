import type { Clip } from '@flimzy/core/piece';
import { propertyOf, valueAt, valueOf, type CurveName } from '@flimzy/core/properties';
import { FigureOf } from '../look/FigureOf';
import { useEditor } from '../open/editor';
import { momentOf, setFigures } from '../open/framing';

/** A figure that may change within a clip: as it is at the playhead, and set there by a key where it changes. */
export function CurveFigure({ name, clips, testID }: { name: CurveName; clips: readonly Clip[]; testID: string }) {
  const playhead = useEditor((s) => s.playhead);
  const now = clips.map((clip) => valueAt(valueOf(clip, name), momentOf(clip, playhead)));
  return (
    <FigureOf
      name={name}
      value={now[0] ?? 0}
      differ={now.some((value) => value !== now[0])}
      set={(to) => typeof to === 'number' && setFigures(clips, { [name]: to }, propertyOf(name).label)}
      testID={testID}
    />
  );
}
