import type { Page } from '@playwright/test';
import type { Clip } from '@flimzy/core/piece';
import { partsOf, valueOf, type Part } from '@flimzy/core/properties';
import { pieceOf } from './studio';

/** The titles of the piece, lowest track first. */
export const titles = async (page: Page): Promise<Clip[]> =>
  (await pieceOf(page)).tracks.flatMap((track) => track.clips.filter((clip) => clip.overlay !== undefined));

/** What a title shows. */
export const partsIn = (clip: Clip | undefined): readonly Part[] => (clip ? partsOf(valueOf(clip, 'overlay')) : []);

export const write = (page: Page, text: string) => page.getByTestId('title-words').fill(text);
