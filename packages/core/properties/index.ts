import { z } from 'zod';
import type { Flicks } from '../time';
import { backdrop, backdropColour, backdropColourful, backdropLight, backdropSoft, backdropTo } from './backdrop';
import { between } from './between';
import { covers as covered } from './covers';
import { cropBottom, cropLeft, cropRight, cropTop } from './crop';
import { changes, valueAt, type Curve } from './curve';
import { effects } from './effects';
import { envelope } from './envelope';
import { blendCurve, fadeIn, fadeInCurve, fadeOut, fadeOutCurve } from './fade';
import { fields } from './fields';
import { fit } from './fit';
import { inShapes } from './inShapes';
import { flip } from './flip';
import { focusX, focusY } from './focus';
import { keysOf } from './keys';
import { level } from './level';
import { motionIn, motionOut } from './motion';
import { opacity } from './opacity';
import { overlay } from './overlay';
import { pan } from './pan';
import { pitch } from './pitch';
import { x, y } from './place';
import type { Property } from './property';
import { scale } from './scale';
import { ending, transition } from './transition';
import { turn } from './turn';
import { under } from './under';

export { changes, curveOf, Ease, EASES, valueAt, type Curve } from './curve';
export { Backdrop, typedColour } from './backdrop';
export {
  Effect,
  EFFECT_NAMES,
  effectName,
  Effects,
  EFFECTS_MOST,
  effectsOn,
  LOOK_NAMES,
  LookName,
  sayEffects,
  TABLE_SIDE,
  ColourTable,
  type EffectKind,
  type Tone,
} from './effects';
export { Fields } from './fields';
export { Fit } from './fit';
export * as covers from './covers';
export { CoverItem, type Cover, type CoverKind } from './covers';
export { AS_EVERYWHERE, InShape, InShapes, shapeKey } from './inShapes';
export { Flip, flipped } from './flip';
export * as keys from './keys';
export { FONT_NAMES, FontId, REGULAR, Weight, weightName } from './fonts';
export { chunksOf, hasScript, lettersToRead, lettersWithout, sayLetters, SCRIPTS, syllablesIn } from './scripts';
export { FADE_MAX, FADES, sayFade, type FadeCurve } from './fade';
export { LEVEL_MAX, LEVEL_MIN, sayLevel, sayTenths, withinLevels } from './level';
export * as points from './points';
export { SCALE_MAX } from './scale';
export { typedNumber, typedSeconds } from './property';
export { Motion, MotionBy, MOTION_BY_NAMES, MotionKind, MOTION_MAX, MOTION_NAMES } from './motion';
export {
  Overlay,
  overlayName,
  Part,
  PARTS_MOST,
  partsOf,
  readingTime,
  SHAPE_LARGEST,
  SHAPE_NAMES,
  ShapeId,
  TEXT_LARGEST,
  TEXT_MOST,
  TextLook,
  textOf,
  type ShapePart,
  type TextPart,
} from './overlay';
export { Pan, sayPan } from './pan';
export { Pitch } from './pitch';
export { Direction, Transition, TransitionKind, TRANSITION_MAX, TRANSITION_NAMES, TransitionShape } from './transition';
export { Under, UNDER, UNDER_FIGURES } from './under';

/** Every property of a clip, by the name of its field. A new one is one file and one line here. */
export const PROPERTIES = {
  fit,
  backdrop,
  backdropColour,
  backdropTo,
  backdropSoft,
  backdropLight,
  backdropColourful,
  scale,
  x,
  y,
  turn,
  flip,
  cropLeft,
  cropRight,
  cropTop,
  cropBottom,
  focusX,
  focusY,
  opacity,
  between,
  fields,
  effects,
  overlay,
  motionIn,
  motionOut,
  transition,
  ending,
  inShapes,
  level,
  pan,
  pitch,
  fadeIn,
  fadeInCurve,
  fadeOut,
  fadeOutCurve,
  blendCurve,
  envelope,
  under,
  covers: covered,
} as const;

export type PropertyName = keyof typeof PROPERTIES;
type Table = typeof PROPERTIES;

/** The type of a property's value. */
export type PropertyValue<N extends PropertyName> = z.output<Table[N]['schema']>;

type Shape = { [N in PropertyName]: Table[N]['always'] extends true ? Table[N]['schema'] : z.ZodOptional<Table[N]['schema']> };
type Values = { [N in PropertyName]: z.ZodOptional<Table[N]['schema']> };

const entries = Object.entries(PROPERTIES) as [PropertyName, Table[PropertyName]][];

/** The fields of a clip that are its properties. */
export const PROPERTY_SHAPE = Object.fromEntries(
  entries.map(([name, { schema, always }]) => [name, always ? schema : schema.optional()]),
) as Shape;

/** Some properties of a clip with their values. */
export const PropertyValues = z.object(Object.fromEntries(entries.map(([name, { schema }]) => [name, schema.optional()])) as Values);
export type PropertyValues = z.infer<typeof PropertyValues>;

/** The names of all properties. */
export const PROPERTY_NAMES: readonly PropertyName[] = entries.map(([name]) => name);

/** The properties of a picture that may change within a clip. */
export type CurveName = Exclude<{ [N in PropertyName]: Curve extends PropertyValue<N> ? N : never }[PropertyName], 'envelope'>;
export const CURVE_NAMES = entries.filter(([, { keys, side }]) => keys && side === 'picture').map(([name]) => name) as readonly CurveName[];

/** The properties of a clip's sound. */
export const SOUND_PROPERTIES: readonly PropertyName[] = entries.filter(([, { side }]) => side === 'sound').map(([name]) => name);

/** The properties that a clip has only where they are not plain. */
export const SELDOM: readonly PropertyName[] = entries.filter(([, { always }]) => !always).map(([name]) => name);

/** What an entry of the table knows, for whoever goes through several: values are taken for what the schema makes of them. */
export function propertyOf<N extends PropertyName>(name: N): Property<z.ZodType<PropertyValue<N>>, boolean> {
  return PROPERTIES[name] as unknown as Property<z.ZodType<PropertyValue<N>>, boolean>;
}

/** What stays of properties that change when a clip is frozen at a moment of its material (flicks): their values there. */
export function heldAt(clip: PropertyValues, moment: Flicks): PropertyValues {
  const changing = PROPERTY_NAMES.filter((name) => changes(clip[name]));
  return Object.fromEntries(changing.map((name) => [name, valueAt(clip[name] as Curve, moment)]));
}

/** The moments of the material at which some property of a clip's picture has a key, in order. Flicks. */
export function keyMoments(clip: PropertyValues): Flicks[] {
  const moments = new Set(CURVE_NAMES.flatMap((name) => keysOf(valueOf(clip, name)).map((key) => key.at)));
  return [...moments].sort((a, b) => a - b);
}

/** Whether any property of a clip's picture changes within it. */
export function isChanging(clip: PropertyValues): boolean {
  for (const name of CURVE_NAMES) if (changes(clip[name])) return true;
  return false;
}

/** The value of a property of a clip; what it is plainly where the field is missing. */
export function valueOf<N extends PropertyName>(clip: PropertyValues, name: N): PropertyValue<N> {
  return (clip[name] ?? PROPERTIES[name].plain) as PropertyValue<N>;
}
