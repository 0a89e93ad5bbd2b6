/* Hands on what a microphone hears, mono, with the frame of the sound card's clock at which each stretch begins. Where nothing came, nothing is handed on. */
const HELD = 1024;

class Recorder extends AudioWorkletProcessor {
  constructor() {
    super();
    this.open = true;
    this.out = null;
    this.at = 0;
    this.start();
    this.port.onmessage = ({ data }) => {
      if (data.port) this.out = data.port;
      else this.open = false;
    };
  }

  start() {
    this.held = new Float32Array(HELD);
    this.filled = 0;
  }

  hand() {
    const samples = this.held.subarray(0, this.filled);
    this.out.postMessage({ at: this.at, samples }, [this.held.buffer]);
    this.start();
  }

  process([input]) {
    const heard = input?.[0];
    if (!heard || !this.out) return this.open;
    if (this.filled > 0 && this.at + this.filled !== currentFrame) this.hand();
    if (this.filled === 0) this.at = currentFrame;
    this.held.set(heard, this.filled);
    this.filled += heard.length;
    if (this.filled === HELD) this.hand();
    return this.open;
  }
}

registerProcessor('recorder', Recorder);
