/* Plays what the mixer wrote into the shared ring, and moves the clock that picture and playhead follow. Layout: src/preview/messages.ts */
const WRITTEN = 0,
  PLAYED = 1,
  PLAYING = 2,
  UNDERRUNS = 3,
  PEAK = 4,
  BEGAN = 6,
  INTS = 16,
  FRAMES = 65536;

class Player extends AudioWorkletProcessor {
  constructor({ processorOptions }) {
    super();
    this.control = new Int32Array(processorOptions.shared, 0, INTS);
    this.ring = new Float32Array(processorOptions.shared, INTS * 4);
  }

  process(_inputs, [output]) {
    const [left, right] = output;
    if (Atomics.load(this.control, PLAYING) !== 1) return true;
    const played = Atomics.load(this.control, PLAYED);
    const there = Atomics.load(this.control, WRITTEN) - played;
    if (there < left.length) {
      Atomics.add(this.control, UNDERRUNS, 1);
      return true;
    }
    if (played === 0) Atomics.store(this.control, BEGAN, currentFrame % 0x80000000);
    let peak = 0;
    for (let i = 0; i < left.length; i += 1) {
      const slot = ((played + i) % FRAMES) * 2;
      left[i] = this.ring[slot];
      if (right) right[i] = this.ring[slot + 1];
      peak = Math.max(peak, Math.abs(this.ring[slot]), Math.abs(this.ring[slot + 1]));
    }
    Atomics.store(this.control, PEAK, Math.round(peak * 1e6));
    Atomics.store(this.control, PLAYED, played + left.length);
    return true;
  }
}

registerProcessor('player', Player);
