import { EncodedPacketSink, VideoSampleSink, type EncodedPacket, type InputVideoTrack, type VideoSample } from 'mediabunny';

/** So many frames are decoded ahead of the one that was taken: each holds its pixels (540 × 960: 0.8 MB). */
const AHEAD = 8;

/** A decoder that gives nothing yet, though someone waits, gets another packet after so many milliseconds: some want many before they begin. */
const NEXT_PACKET = 4;

/** Lets packets go to a decoder only as its frames are taken. */
export class Pace {
  private given = 0;
  private taken = 0;
  private waited = false;
  private over = false;
  private changed: () => void = () => undefined;

  /** Resolves when the decoder may have another packet. */
  async room(): Promise<void> {
    while (this.given - this.taken >= AHEAD && !this.over) {
      const change = new Promise<void>((resolve) => (this.changed = resolve));
      if (!this.waited) await change;
      else {
        await Promise.race([change, new Promise((resolve) => setTimeout(resolve, NEXT_PACKET))]);
        if (this.waited) break;
      }
    }
    this.given += 1;
  }

  /** A frame that someone waits for and takes. */
  async take<T>(frame: Promise<T>): Promise<T> {
    this.waited = true;
    this.changed();
    try {
      return await frame;
    } finally {
      this.waited = false;
      this.taken += 1;
      this.changed();
    }
  }

  /** Nobody takes any more: what waits goes on to its end. */
  end(): void {
    this.over = true;
    this.changed();
  }
}

/** The library's frames in a row, whose decoder is given 40 packets at once by itself, which would be 40 frames in memory for each layer. */
class PacedSink extends VideoSampleSink {
  constructor(
    private readonly track: InputVideoTrack,
    private readonly from: number,
    private readonly pace: Pace,
  ) {
    super(track);
  }

  /** Where the library takes its packets from. */
  _createPacketSink(): EncodedPacketSink {
    const packets = new EncodedPacketSink(this.track);
    const all = packets.packets.bind(packets);
    packets.packets = (...which) => this.paced(all(...which));
    return packets;
  }

  private async *paced(packets: AsyncGenerator<EncodedPacket, void, unknown>): AsyncGenerator<EncodedPacket, void, unknown> {
    for await (const packet of packets) {
      // What comes before the first frame that is wanted is closed as it is decoded.
      if (packet.timestamp >= this.from) await this.pace.room();
      yield packet;
    }
  }
}

/** The frames of a video from a moment on, in seconds, decoded hardly faster than they are taken. Whoever takes a frame closes it. */
export class Row {
  private readonly pace = new Pace();
  private readonly frames: AsyncGenerator<VideoSample, void, unknown>;

  constructor(track: InputVideoTrack, from: number) {
    this.frames = new PacedSink(track, from, this.pace).samples(from);
  }

  /** The next frame; null after the last. @throws when it cannot be decoded */
  async next(): Promise<VideoSample | null> {
    try {
      return (await this.pace.take(this.frames.next())).value ?? null;
    } catch (error) {
      this.pace.end();
      throw error;
    }
  }

  /** Closes what is decoded and not taken. */
  async close(): Promise<void> {
    this.pace.end();
    await this.frames.return();
  }
}
