import { luminanceOfLinear } from './contrast';

/** What counts as a change of light: a tenth of the brightest there is, where the darker of the two is below 0.8 (WCAG 2.2, general flash). */
const CHANGE = 0.1;
const DARKER = 0.8;

/** What counts as red: so much of the light; and how far another colour lies from it (WCAG 2.2, red flash; CIE 1976 u′, v′). */
const RED = 0.8;
const APART = 0.2;

/** Less light than this has no colour that anyone sees: it is taken for white's (D65). */
const FAINT = 0.002;
const WHITE: Chroma = [0.1978, 0.4683];

/** How much of the frame has to change at once to harm: a quarter. */
const AREA = 0.25;

/** More changes than this within a second, to and fro, are more than three flashes. */
const CHANGES = 6;

/** Frames in which something flashes, the last one included. */
export interface Flashing {
  first: number;
  last: number;
}

/** Which way one cell went last: 1 up, −1 down, 0 neither yet. */
type Way = -1 | 0 | 1;

/** Which way the light of one cell goes from one bright or dark moment to the next. */
interface Swing {
  /** The brightest and the darkest since it last turned. */
  high: number;
  low: number;
  /** 1: it became brighter last; −1: darker. */
  way: Way;
}

/** Takes in the light of a cell; 1 or −1 when it turned out to have become so much brighter or darker. */
function swung(swing: Swing, light: number): Way {
  swing.high = Math.max(swing.high, light);
  swing.low = Math.min(swing.low, light);
  if (swing.way !== 1 && light - swing.low >= CHANGE && swing.low < DARKER) {
    Object.assign(swing, { high: light, low: light, way: 1 });
    return 1;
  }
  if (swing.way !== -1 && swing.high - light >= CHANGE && light < DARKER) {
    Object.assign(swing, { high: light, low: light, way: -1 });
    return -1;
  }
  return 0;
}

/** u′ and v′. */
type Chroma = readonly [number, number];

/** Whether one cell is red, and the colour that it had since it last turned which is most so, or least while it is not. */
interface Redness {
  way: Way;
  since: Chroma;
}

const apart = (one: Chroma, other: Chroma) => Math.hypot(one[0] - other[0], one[1] - other[1]);

/** Takes in the colour of a cell, linear; 1 or −1 when it became a saturated red, or ceased to be one. */
function reddened(state: Redness, red: number, green: number, blue: number): Way {
  const x = 0.4124 * red + 0.3576 * green + 0.1805 * blue;
  const y = luminanceOfLinear(red, green, blue);
  const z = 0.0193 * red + 0.1192 * green + 0.9505 * blue;
  const whole = x + 15 * y + 3 * z;
  const faint = red + green + blue < FAINT;
  const chroma: Chroma = faint ? WHITE : [(4 * x) / whole, (9 * y) / whole];
  if (state.way === 1) {
    if (apart(chroma, state.since) > APART) {
      Object.assign(state, { way: -1, since: chroma });
      return -1;
    }
    if (chroma[0] > state.since[0]) state.since = chroma;
    return 0;
  }
  if (!faint && red >= RED * (red + green + blue) && apart(chroma, state.since) > APART) {
    Object.assign(state, { way: 1, since: chroma });
    return 1;
  }
  if (chroma[0] < state.since[0]) state.since = chroma;
  return 0;
}

/** Counts changes of a quarter of the frame, to and fro. */
class Changes {
  private at: number[] = [];
  private way: Way = 0;
  /** Cells of the frame at hand. */
  private up = 0;
  private down = 0;

  /** @param rate frames a second */
  constructor(private readonly rate: number) {}

  /** What became of one cell of the frame at hand. */
  cell(way: Way): void {
    if (way === 1) this.up += 1;
    else if (way === -1) this.down += 1;
  }

  /** Frame `n` is at its end. Gives the first of the frames that changed within the second that ends here, where they are too many. @param all its cells */
  frame(n: number, all: number): number | null {
    const way = this.up >= AREA * all ? 1 : this.down >= AREA * all ? -1 : 0;
    [this.up, this.down] = [0, 0];
    if (way === 0 || way === this.way) return null;
    this.way = way;
    this.at = [...this.at.filter((before) => n - before < this.rate), n];
    return this.at.length > CHANGES ? (this.at[0] ?? null) : null;
  }
}

/** Takes in the light of one frame after the other, and finds where it flashes, or goes red, more than three times a second over a quarter of the frame. */
export class FlashFinder {
  private readonly swings: Swing[] = [];
  private readonly reds: Redness[] = [];
  private readonly light: Changes;
  private readonly red: Changes;
  private n = 0;
  private readonly found: Flashing[] = [];

  /** @param rate frames a second */
  constructor(rate: number) {
    this.light = new Changes(rate);
    this.red = new Changes(rate);
  }

  /** The next frame. @param cells red, green and blue of equal parts of it, linear (0 to 1) */
  push(cells: ArrayLike<number>): void {
    const count = cells.length / 3;
    for (let i = 0; i < count; i += 1) {
      const [red, green, blue] = [cells[i * 3] ?? 0, cells[i * 3 + 1] ?? 0, cells[i * 3 + 2] ?? 0];
      const light = luminanceOfLinear(red, green, blue);
      this.light.cell(swung((this.swings[i] ??= { high: light, low: light, way: 0 }), light));
      // What is red from the first frame on was something else before it.
      this.red.cell(reddened((this.reds[i] ??= { way: 0, since: WHITE }), red, green, blue));
    }
    for (const changes of [this.light, this.red]) this.add(changes.frame(this.n, count));
    this.n += 1;
  }

  private add(first: number | null): void {
    if (first === null) return;
    const span = { first, last: this.n };
    for (let before = this.found.at(-1); before && before.last >= span.first; before = this.found.at(-1)) {
      span.first = Math.min(span.first, before.first);
      this.found.pop();
    }
    this.found.push(span);
  }

  finish(): Flashing[] {
    return this.found;
  }
}
