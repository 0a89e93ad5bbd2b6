import { z } from 'zod';
import { kept } from '../open/kept';

/** How a person records, on this device. */
const Recording = z.object({
  /** The microphone; null: whichever the device takes. */
  device: z.string().nullable().default(null),
  /** Time to get ready, in seconds. */
  ready: z.number().min(0).max(10).default(3),
  /** How the piece is heard meanwhile; null: nobody has said yet whether there are headphones. */
  own: z.enum(['off', 'low', 'full']).nullable().default(null),
  /** From loudspeaker to microphone, as it was measured, in ms, by microphone. */
  delays: z.record(z.string(), z.number().min(0).max(1_000)).default({}),
});

export const { use: useRecording, set: setRecording } = kept('flimzy.recording', Recording);

/** The factor that the piece is played with while something is recorded. */
export const OWN_VOLUME = { off: 0, low: 0.2, full: 1 } as const;
