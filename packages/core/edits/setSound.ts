import { z } from 'zod';
import { PieceSound } from '../piece';
import { sayFade, sayLevel } from '../properties';
import { defineEdit } from './edit';

/** Sets what is done to the sound of the whole piece: its level, its fades, and whether it is limited. */
export const setSound = defineEdit({
  params: z.object({
    level: PieceSound.shape.level,
    lean: PieceSound.shape.lean,
    fadeIn: PieceSound.shape.fadeIn,
    fadeOut: PieceSound.shape.fadeOut,
    limited: z.boolean().optional(),
  }),
  title: ({ level, lean, fadeIn, fadeOut, limited }) => {
    if (level !== undefined) return `Level of the piece ${sayLevel(level)}`;
    if (lean !== undefined)
      return lean === 0 ? 'Lean neither way' : `Lean towards ${lean > 0 ? 'speech' : 'music'}: ${Math.abs(lean).toFixed(1)} dB`;
    if (fadeIn !== undefined) return `Fade the piece in: ${sayFade(fadeIn)}`;
    if (fadeOut !== undefined) return `Fade the piece out: ${sayFade(fadeOut)}`;
    return limited === false ? 'Switch the limiter off' : 'Switch the limiter on';
  },
  apply(draft, { limited, ...figures }) {
    const sound: PieceSound = { ...draft.sound };
    for (const field of ['level', 'lean', 'fadeIn', 'fadeOut'] as const) {
      if (figures[field]) sound[field] = figures[field];
      else if (figures[field] === 0) Reflect.deleteProperty(sound, field);
    }
    if (limited) delete sound.unlimited;
    else if (limited === false) sound.unlimited = true;
    if (Object.keys(sound).length > 0) draft.sound = sound;
    else delete draft.sound;
  },
});
