import type { Clip } from '@flimzy/core/piece';
import { CURVE_NAMES, PROPERTY_NAMES, propertyOf, valueAt, valueOf, type CurveName, type PropertyName } from '@flimzy/core/properties';
import { FigureOf } from '../look/FigureOf';
import { edit, useEditor } from '../open/editor';
import { momentOf, setFigures } from '../open/framing';

interface PropertyFiguresProps {
  /** The clips they are of: what is set is set on all of them. */
  clips: readonly Clip[];
  /** Whether these clips all have that side. */
  has: (side: 'picture' | 'sound') => boolean;
}

/** Whether a property has something to say on clips. */
function isShown(name: PropertyName, clips: readonly Clip[]): boolean {
  const { figure, shown } = propertyOf(name);
  return figure !== undefined && clips.every((clip) => shown?.(clip) ?? true);
}

const isCurve = (name: PropertyName): name is CurveName => (CURVE_NAMES as readonly string[]).includes(name);

/** The figures of every property of clips that can be typed, from the table of properties. */
export function PropertyFigures({ clips, has }: PropertyFiguresProps) {
  return (
    <>
      {PROPERTY_NAMES.filter((name) => isShown(name, clips) && has(propertyOf(name).side)).map((name) =>
        isCurve(name) ? <CurveFigure key={name} name={name} clips={clips} /> : <PropertyFigure key={name} name={name} clips={clips} />,
      )}
    </>
  );
}

function PropertyFigure<N extends PropertyName>({ name, clips }: { name: N; clips: readonly Clip[] }) {
  const [first] = clips;
  if (!first) return null;
  const value = valueOf(first, name);
  return (
    <FigureOf
      name={name}
      value={value}
      differ={clips.some((clip) => valueOf(clip, name) !== value)}
      set={(to) => edit('set', { clips: clips.map((clip) => clip.id), values: { [name]: to } })}
      testID={`card-${name}`}
    />
  );
}

/** One that may change within a clip: as it is at the playhead, and set there by a key where it changes. */
export function CurveFigure({ name, clips, testID = `card-${name}` }: { name: CurveName; clips: readonly Clip[]; testID?: string }) {
  const playhead = useEditor((s) => s.playhead);
  const now = clips.map((clip) => valueAt(valueOf(clip, name), momentOf(clip, playhead)));
  return (
    <FigureOf
      name={name}
      value={now[0] ?? 0}
      differ={now.some((value) => value !== now[0])}
      set={(to) => typeof to === 'number' && setFigures(clips, { [name]: to })}
      testID={testID}
    />
  );
}
