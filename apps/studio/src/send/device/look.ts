import type { DeliveryCheck } from '@flimzy/contract';
import { loudnessChecks, type DeliverySettings } from '@flimzy/core/deliver';
import { AudioSampleSink, BlobSource, EncodedPacketSink, Input, MP4, VideoSampleSink } from 'mediabunny';
import { size as saySize } from '../../look/size';

/** How long sound and picture may differ, in seconds: less than anyone hears, more than a codec's last packet. */
const APART = 0.06;

/** What a file that was made here must be. */
export interface Due {
  settings: DeliverySettings;
  frames: number;
  seconds: number;
  /** Whether it has sound, and how loud what went into it is. */
  loud: { integrated: number; peak: number } | null;
}

/**
 * Looks at a finished file as the server looks at its own: every packet is read and counted, the key frames and all of the sound decoded.
 * @throws Error with a sentence when it is not whole
 */
export async function lookThrough(file: Blob, { settings, frames, seconds, loud }: Due): Promise<DeliveryCheck[]> {
  const input = new Input({ source: new BlobSource(file), formats: [MP4] });
  try {
    const [seen, heard] = [await input.getPrimaryVideoTrack(), await input.getPrimaryAudioTrack()];
    const { size, format } = settings;
    const [width, height] = [await seen?.getCodedWidth(), await seen?.getCodedHeight()];
    if (!seen || width !== size?.width || height !== size?.height) throw new Error('Its picture has another size.');
    if ((loud !== null) !== (heard !== null)) throw new Error(loud ? 'It has no sound.' : 'It has sound.');
    const packets = new EncodedPacketSink(seen);
    let count = 0;
    const keys: number[] = [];
    for await (const packet of packets.packets(undefined, undefined, { metadataOnly: true })) {
      count += 1;
      if (packet.type === 'key') keys.push(packet.timestamp);
    }
    if (count !== frames) throw new Error(`It has ${count} frames instead of ${frames}.`);
    for await (const sample of new VideoSampleSink(seen).samplesAtTimestamps(keys)) {
      if (!sample) throw new Error('It cannot be read to its end.');
      sample.close();
    }
    const checks: DeliveryCheck[] = [{ says: `${count} frames, as many as there should be`, ok: true }];
    if (heard && loud) {
      let long = 0;
      for await (const sample of new AudioSampleSink(heard).samples()) {
        long = sample.timestamp + sample.duration;
        sample.close();
      }
      if (Math.abs(long - seconds) > APART) throw new Error(`Its sound is ${long.toFixed(2)} s long instead of ${seconds.toFixed(2)} s.`);
      checks.push({ says: 'Sound as long as the picture', ok: true }, { says: 'Read to its end', ok: true });
      checks.push(...loudnessChecks(format, loud));
    }
    if (format?.bytes) checks.push({ says: `${saySize(file.size)}; ${saySize(format.bytes)} at most`, ok: file.size <= format.bytes });
    return checks;
  } finally {
    input.dispose();
  }
}
