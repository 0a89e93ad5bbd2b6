import type { DeliveryCheck } from '@flimzy/contract';
import type { DeliverySettings } from '@flimzy/core/deliver';
import type { Piece } from '@flimzy/core/piece';

/** To the worker that makes a file on this device. */
export type DeviceOrder =
  | {
      type: 'make';
      /** The piece in the shape in which it is sent, and the stretch of it, in flicks. */
      piece: Piece;
      from: number;
      to: number;
      settings: DeliverySettings;
      name: string;
      origin: string;
    }
  | { type: 'cancel' };

/** From it. */
export type DeviceReport =
  | { type: 'progress'; frames: number; of: number }
  | { type: 'made'; file: Blob; checks: DeliveryCheck[]; seconds: number }
  | { type: 'failed'; sentence: string };
