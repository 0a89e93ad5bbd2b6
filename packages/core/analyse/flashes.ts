/** What counts as a change of light: a tenth of the brightest there is, where the darker of the two is below 0.8 (WCAG 2.2, general flash). */
const CHANGE = 0.1;
const DARKER = 0.8;

/** How much of the frame has to change at once to harm: a quarter. */
const AREA = 0.25;

/** More changes than this within a second, to and fro, are more than three flashes. */
const CHANGES = 6;

/** Frames in which something flashes, the last one included. */
export interface Flashing {
  first: number;
  last: number;
}

/** Which way one cell goes from one bright or dark moment to the next. */
interface Swing {
  /** The brightest and the darkest since it last turned. */
  high: number;
  low: number;
  /** 1: it became brighter last; −1: darker; 0: neither yet. */
  way: -1 | 0 | 1;
}

/** Takes in the light of a cell; 1 or −1 when it turned out to have become so much brighter or darker. */
function swung(swing: Swing, light: number): -1 | 0 | 1 {
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

/** Listens to the light of one frame after the other, and finds where it flashes more than three times a second over a quarter of the frame. */
export class FlashFinder {
  private readonly swings: Swing[] = [];
  /** Frames in which a quarter of the frame changed to the other way. */
  private changes: number[] = [];
  private way: -1 | 0 | 1 = 0;
  private n = 0;
  private readonly found: Flashing[] = [];

  /** @param rate frames a second */
  constructor(private readonly rate: number) {}

  /** The next frame. @param cells relative luminances of equal parts of it */
  push(cells: ArrayLike<number>): void {
    let [up, down] = [0, 0];
    for (let i = 0; i < cells.length; i += 1) {
      const light = cells[i] ?? 0;
      const swing = (this.swings[i] ??= { high: light, low: light, way: 0 });
      const turned = swung(swing, light);
      if (turned === 1) up += 1;
      else if (turned === -1) down += 1;
    }
    const way = up >= AREA * cells.length ? 1 : down >= AREA * cells.length ? -1 : 0;
    if (way !== 0 && way !== this.way) {
      this.way = way;
      this.changes = [...this.changes.filter((at) => this.n - at < this.rate), this.n];
      const [first] = this.changes;
      if (first !== undefined && this.changes.length > CHANGES) this.add(first, this.n);
    }
    this.n += 1;
  }

  private add(first: number, last: number): void {
    const before = this.found.at(-1);
    if (before && first <= before.last) before.last = last;
    else this.found.push({ first, last });
  }

  finish(): Flashing[] {
    return this.found;
  }
}
