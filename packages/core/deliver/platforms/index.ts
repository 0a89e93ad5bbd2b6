import type { PlatformFormat } from '../platform';
import { landscape } from './landscape';
import { loop } from './loop';
import { portraitPost } from './portraitPost';
import { sound } from './sound';
import { squarePost } from './squarePost';
import { story } from './story';
import { verticalShort } from './verticalShort';

/** The formats that ship. A new one is one file and one line here; the platforms are made up. */
export const PLATFORM_FORMATS: readonly PlatformFormat[] = [verticalShort, story, portraitPost, squarePost, landscape, loop, sound];

/** Whether a format ships, and so is nobody's own. */
export const isShipped = ({ id }: Pick<PlatformFormat, 'id'>): boolean => PLATFORM_FORMATS.some((one) => one.id === id);
