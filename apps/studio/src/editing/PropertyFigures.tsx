import type { Clip } from '@flimzy/core/piece';
import { CURVE_NAMES, PROPERTY_NAMES, propertyOf, valueOf, type CurveName, type PropertyName } from '@flimzy/core/properties';
import { CurveFigure } from '../framing/CurveFigure';
import { FigureOf } from '../look/FigureOf';
import { edit } from '../open/editor';

interface PropertyFiguresProps {
  /** The clips they are of: what is set is set on all of them. */
  clips: readonly Clip[];
  /** Whether these clips all have that side. */
  has: (side: 'picture' | 'sound') => boolean;
}

/** Whether a property has something to say on clips. */
function isShown(name: PropertyName, clips: readonly Clip[]): boolean {
  const { figure, seldom, shown } = propertyOf(name);
  return figure !== undefined && clips.every((clip) => (!seldom || clip[name] !== undefined) && (shown?.(clip) ?? true));
}

const isCurve = (name: PropertyName): name is CurveName => (CURVE_NAMES as readonly string[]).includes(name);

/** The figures of every property of clips that can be typed, from the table of properties. */
export function PropertyFigures({ clips, has }: PropertyFiguresProps) {
  return (
    <>
      {PROPERTY_NAMES.filter((name) => isShown(name, clips) && has(propertyOf(name).side)).map((name) =>
        isCurve(name) ? (
          <CurveFigure key={name} name={name} clips={clips} testID={`card-${name}`} />
        ) : (
          <PropertyFigure key={name} name={name} clips={clips} />
        ),
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
