import { DeliverySettings, PlatformFormat } from '@flimzy/core/deliver';
import { z } from 'zod';
import { ADDRESSES } from './addresses';
import { Delivery } from './deliveries';
import { PieceId, PieceSummary } from './pieces';
import { route } from './route';

const deliveryId = z.object({ id: z.uuid() });

/** The routes of sending: exports, and the formats that they are made for. */
export const SENDING = {
  listDeliveries: route({
    method: 'GET',
    url: '/api/deliveries',
    summary: 'Exports, newest first.',
    query: z.object({ piece: PieceId.optional() }),
    answer: z.array(Delivery),
  }),
  newDelivery: route({
    method: 'POST',
    url: '/api/deliveries',
    summary: 'Queues an export of a piece as it is now.',
    body: z.object({
      piece: PieceId,
      /** Missing: as the piece is. */
      settings: DeliverySettings.optional(),
      /** Pattern of the file's name. */
      name: z.string().max(200).optional(),
    }),
    answer: Delivery,
  }),
  estimateDelivery: route({
    method: 'POST',
    url: '/api/deliveries/estimate',
    summary: 'About how many bytes an export would have, and how many seconds it would take; null where there is nothing to make.',
    body: z.object({ piece: PieceId, settings: DeliverySettings }),
    answer: z.object({
      bytes: z.number().int().nonnegative().nullable(),
      seconds: z.number().nonnegative().nullable(),
      /** Seconds at most, where it is encoded again until it has the bytes or bits that were asked for; `seconds` is for once. */
      most: z.number().nonnegative().nullable(),
    }),
  }),
  cancelDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/cancel',
    summary: 'Stops an export; what is rendered is kept for the next.',
    params: deliveryId,
    answer: Delivery,
  }),
  pauseDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/pause',
    summary: 'Stops an export until it is gone on with; others take their turn.',
    params: deliveryId,
    answer: Delivery,
  }),
  resumeDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/resume',
    summary: 'Goes on with an export that was paused, or stopped, or cancelled, of the piece as it was.',
    params: deliveryId,
    answer: Delivery,
  }),
  firstDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/first',
    summary: 'Has an export that waits begin before all others that do.',
    params: deliveryId,
    answer: Delivery,
  }),
  pieceOfDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/piece',
    summary: 'Makes a piece of its own, exactly as it was when it was sent.',
    params: deliveryId,
    answer: PieceSummary,
  }),
  deleteDelivery: route({
    method: 'DELETE',
    url: '/api/deliveries/:id',
    summary: 'Takes an export off the list; it can be restored until its space is freed.',
    params: deliveryId,
    answer: Delivery,
  }),
  restoreDelivery: route({
    method: 'POST',
    url: '/api/deliveries/:id/restore',
    summary: 'Puts a deleted export back.',
    params: deliveryId,
    answer: Delivery,
  }),
  deliveryFile: route({
    method: 'GET',
    url: ADDRESSES.deliveryFile,
    summary: 'The finished file.',
    params: deliveryId,
    answer: { bytes: 'application/octet-stream' },
  }),
  deliveryCaptions: route({
    method: 'GET',
    url: ADDRESSES.deliveryCaptions,
    summary: 'The captions that go beside a finished file, as SRT or WebVTT, with times from its beginning.',
    params: deliveryId.extend({ kind: z.enum(['srt', 'vtt']) }),
    answer: { bytes: 'text/plain' },
  }),
  listFormats: route({
    method: 'GET',
    url: '/api/formats',
    summary: 'The formats that people made themselves.',
    answer: z.array(PlatformFormat),
  }),
  saveFormat: route({
    method: 'POST',
    url: '/api/formats',
    summary: 'Keeps a format of one’s own, in place of the one with its id.',
    body: PlatformFormat,
    answer: PlatformFormat,
  }),
  deleteFormat: route({
    method: 'DELETE',
    url: '/api/formats/:id',
    summary: 'Removes a format of one’s own; saving what it answers brings it back.',
    params: z.object({ id: PlatformFormat.shape.id }),
    answer: PlatformFormat,
  }),
} as const;
