/** How long other requests may have to wait for one that computes, in ms. */
const SLICE = 20;

/** Gives everyone else a turn when one has computed for long enough. */
export class Turns {
  private began = performance.now();

  async pause(): Promise<void> {
    if (performance.now() - this.began < SLICE) return;
    await new Promise((resolve) => setImmediate(resolve));
    this.began = performance.now();
  }

  /** Works something off step by step, with a pause for others between steps. */
  async through<T>(steps: Generator<void, T>): Promise<T> {
    for (;;) {
      const step = steps.next();
      if (step.done) return step.value;
      await this.pause();
    }
  }
}
