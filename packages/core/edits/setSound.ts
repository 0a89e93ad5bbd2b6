import { z } from 'zod';
import { PieceSound } from '../piece';
import { sayFade } from '../properties';
import { defineEdit } from './edit';

/** Sets what is done to the sound of the whole piece: its fades, and whether it is limited. */
export const setSound = defineEdit({
  params: z.object({ fadeIn: PieceSound.shape.fadeIn, fadeOut: PieceSound.shape.fadeOut, limited: z.boolean().optional() }),
  title: ({ fadeIn, fadeOut, limited }) => {
    if (fadeIn !== undefined) return `Fade the piece in: ${sayFade(fadeIn)}`;
    if (fadeOut !== undefined) return `Fade the piece out: ${sayFade(fadeOut)}`;
    return limited === false ? 'Switch the limiter off' : 'Switch the limiter on';
  },
  apply(draft, { fadeIn, fadeOut, limited }) {
    const sound: PieceSound = { ...draft.sound };
    if (fadeIn !== undefined) sound.fadeIn = fadeIn || undefined;
    if (fadeOut !== undefined) sound.fadeOut = fadeOut || undefined;
    if (limited !== undefined) sound.unlimited = limited ? undefined : true;
    for (const field of ['fadeIn', 'fadeOut', 'unlimited'] as const) if (sound[field] === undefined) Reflect.deleteProperty(sound, field);
    if (Object.keys(sound).length > 0) draft.sound = sound;
    else delete draft.sound;
  },
});
