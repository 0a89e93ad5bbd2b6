import { z } from 'zod';
import { changes, curveSchema, type Curve } from './curve';
import { LEVEL_MAX, LEVEL_MIN } from './level';
import { defineProperty } from './property';

const say = (value: Curve) => (typeof value === 'number' ? 'none' : `${value.keys.length} ${value.keys.length === 1 ? 'point' : 'points'}`);

/** How a clip's level changes within it: dB on top of its level, with points at moments of its material. */
export const envelope = defineProperty({
  schema: curveSchema(z.number().min(LEVEL_MIN).max(LEVEL_MAX)),
  plain: 0,
  always: false,
  side: 'sound',
  label: 'Envelope',
  keys: true,
  say,
  title: (value, clips) => (changes(value) ? `Envelope of ${clips}: ${say(value)}` : `No envelope on ${clips}`),
});
