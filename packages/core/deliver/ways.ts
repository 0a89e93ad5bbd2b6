import { isEven, isLaid, pictureLayers, type Base, type Layer, type Size } from '../frame';
import { frameLength, type Flicks, type Rate } from '../time';
import { flatSteps, stepsOf, type Step } from './steps';

/** Frames of a segment that are drawn alike, with what is drawn at the first of them. */
export interface Run {
  frames: number;
  layers: Layer[];
}

/**
 * How a segment is made. `straight`: one picture over black, a colour or its own backdrop, so the decoder's frames go to the encoder. `laid`:
 * such a one with others over it that lie still, and titles, which alone are drawn. `planes`: pictures over and through each other, wherever
 * they lie, with effects, and titles: no pixel is drawn but those of titles, and of pictures through which something shines. `drawn`: the
 * compositor draws all of it. `black`: nothing is there.
 */
export type Way = 'straight' | 'laid' | 'planes' | 'drawn' | 'black';

/** A layer as it is at frame `n` of a run but for the passing of time: equal for all frames of the run. */
export function timeless(layer: Layer, passed: Flicks): Layer {
  if (layer.kind === 'group') return { ...layer, layers: layer.layers.map((one) => timeless(one, passed)) };
  if (!('picture' in layer)) return layer;
  const { picture } = layer;
  return picture.still ? layer : { ...layer, picture: { ...picture, time: picture.time - Math.round(passed * (picture.pace ?? 1)) } };
}

type Format = Size & { rate: Rate };

/** What a decoder brings into the frame for a picture, as text: the same for all frames in which it does so alike. */
function broughtBy({ picture, behind }: Base, passed: Flicks): string {
  return JSON.stringify([{ ...picture, opacity: 1 }, ...(behind ? [behind] : [])].map((layer) => timeless(layer, passed)));
}

/** A picture that its decoder brings as it is, and that is laid into the frame here with what stands behind it. */
function laidHere({ base, share }: Extract<Step, { kind: 'picture' }>): Step {
  const { picture: layer, behind, effects } = base;
  const { kind: _, picture, opacity: __, ...placed } = layer;
  const laid: Step = { kind: 'placed', picture, places: [placed], effects: behind ? [] : effects, share: behind ? 1 : share };
  if (!behind) return laid;
  const under: Step = behind.kind === 'fill' ? { kind: 'fill', colour: behind.colour, share: 1 } : { kind: 'backdrop', layer: behind };
  const colours: Step[] = effects.length > 0 ? [{ kind: 'colours', effects }] : [];
  return { kind: 'group', steps: [under, laid, ...colours], share };
}

/** Steps in which some pictures are laid here. */
const withLaid = (steps: readonly Step[], clips: ReadonlySet<string>): Step[] =>
  steps.map((step) => {
    if (step.kind === 'group') return { ...step, steps: withLaid(step.steps, clips) };
    return step.kind === 'picture' && clips.has(step.base.picture.picture.clip) ? laidHere(step) : step;
  });

/**
 * The steps of each run of a segment; null where more than titles has to be drawn. A picture is brought into the frame by its decoder where
 * that does so alike in all of them; otherwise it is laid there.
 */
export function segmentSteps(runs: readonly Run[], format: Format): Step[][] | null {
  const frame = frameLength(format.rate);
  const brought = new Map<string, string>();
  const laid = new Set<string>();
  const all: Step[][] = [];
  let passed = 0;
  for (const { layers, frames } of runs) {
    const steps = stepsOf(layers, format);
    if (!steps) return null;
    for (const step of flatSteps(steps)) {
      if (step.kind === 'placed') laid.add(step.picture.clip);
      if (step.kind === 'backdrop') laid.add(step.layer.picture.clip);
      if (step.kind !== 'picture') continue;
      const { clip } = step.base.picture.picture;
      const by = broughtBy(step.base, passed * frame);
      if ((brought.get(clip) ?? by) !== by) laid.add(clip);
      brought.set(clip, by);
    }
    all.push(steps);
    passed += frames;
  }
  return laid.size === 0 ? all : all.map((steps) => withLaid(steps, laid));
}

type Laid = Extract<Step, { kind: 'placed' }>;

/** Whether a picture lies where ffmpeg lays it as exactly as it would be here: whole, upright and on whole samples of colour. */
function liesEven({ places, effects, share }: Laid): boolean {
  const [placed, ...around] = places;
  return !!placed && around.length === 0 && effects.length === 0 && share === 1 && isLaid(placed) && isEven(placed.rect);
}

const isTitles = (step: Step) => step.kind === 'titles' && pictureLayers(step.layers).length === 0;

/**
 * What lies under titles alone, where one ffmpeg can make it: a picture that its decoder brings into the frame, and pictures over it that lie even;
 * null where it is anything else.
 */
export function underTitles(steps: readonly Step[]): { base: Base; beside: Laid[] } | null {
  const [first, ...rest] = steps;
  if (first?.kind !== 'picture' || first.share < 1 || first.base.effects.length > 0) return null;
  const titles = rest.findIndex(({ kind }) => kind === 'titles');
  const below = titles < 0 ? rest : rest.slice(0, titles);
  const beside = below.flatMap((step) => (step.kind === 'placed' && liesEven(step) ? [step] : []));
  return beside.length === below.length && rest.slice(below.length).every(isTitles) ? { base: first.base, beside } : null;
}

/** The same for all frames in which the same clips lie in the same places. */
const placesOf = ({ base, beside }: { base: Base; beside: Laid[] }): string =>
  JSON.stringify([base.picture.picture.clip, ...beside.map(({ picture, places }) => [picture.clip, places])]);

/** How a segment of such runs is made. */
export function wayOf(runs: readonly Run[], format: Format): Way {
  if (runs.every((run) => run.layers.length === 0)) return 'black';
  const all = segmentSteps(runs, format);
  if (!all) return 'drawn';
  const under = all.map(underTitles);
  const places = under.map((one) => one && placesOf(one));
  if (places[0] === null || places.some((one) => one !== places[0])) return 'planes';
  return all.length === 1 && all[0]?.length === 1 ? 'straight' : 'laid';
}
