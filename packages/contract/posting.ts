import { About } from '@flimzy/core/piece';
import { z } from 'zod';
import { PieceId } from './pieces';
import { route } from './route';

const PlatformId = z.string().regex(/^[a-z0-9-]{1,40}$/);

/** A platform that can be posted to, and who is signed in there. Nothing here holds the token. */
export const Platform = z.object({
  id: PlatformId,
  name: z.string(),
  /** What is posted there, in a few words. */
  about: z.string(),
  /** Most letters of a title. */
  titleLongest: z.number().int().positive(),
  /** Where a token is got. */
  tokenPage: z.string(),
  /** Null when nobody is signed in; `stale`: the platform no longer takes the token. */
  account: z.object({ name: z.string(), stale: z.boolean() }).nullable(),
});
export type Platform = z.infer<typeof Platform>;

/** One export on one platform. */
export const Post = z.object({
  id: z.uuid(),
  delivery: z.uuid(),
  piece: PieceId,
  platform: PlatformId,
  platformName: z.string(),
  title: z.string(),
  /** `looking`: all of it has arrived, and the platform looks at it. */
  status: z.enum(['waiting', 'sending', 'looking', 'live', 'refused', 'failed', 'cancelled']),
  /** Of the sending, 0 to 1. */
  progress: z.number().min(0).max(1),
  /** Where it is seen, once it is. */
  page: z.string().nullable(),
  /** Why the platform does not show it: its own words. */
  reasons: z.array(z.string()),
  /** What is in the way just now, or was in the end: a sentence. */
  says: z.string().nullable(),
  createdAt: z.string(),
  finishedAt: z.string().nullable(),
});
export type Post = z.infer<typeof Post>;

const postId = z.object({ id: z.uuid() });
const platformId = z.object({ platform: PlatformId });

/** The routes of posting: platforms, who is signed in there, and what was posted. */
export const POSTING = {
  listPlatforms: route({
    method: 'GET',
    url: '/api/platforms',
    summary: 'The platforms that can be posted to; none when there is no such service.',
    answer: z.array(Platform),
  }),
  signIn: route({
    method: 'POST',
    url: '/api/platforms/:platform/account',
    summary: 'Signs in by a token of the platform, which is kept sealed and never given out again.',
    params: platformId,
    body: z.object({ token: z.string().trim().min(1).max(500) }),
    answer: Platform,
  }),
  signOut: route({
    method: 'DELETE',
    url: '/api/platforms/:platform/account',
    summary: 'Forgets the token.',
    params: platformId,
    answer: Platform,
  }),
  listPosts: route({
    method: 'GET',
    url: '/api/posts',
    summary: 'What was posted of a piece, newest first.',
    query: z.object({ piece: PieceId }),
    answer: z.array(Post),
  }),
  newPost: route({
    method: 'POST',
    url: '/api/posts',
    summary: 'Posts a finished export. One that is on its way there, or is there, is not posted again.',
    body: z.object({ delivery: z.uuid(), platform: PlatformId, about: About }),
    answer: Post,
  }),
  postAgain: route({
    method: 'POST',
    url: '/api/posts/:id/again',
    summary: 'Goes on with a post that failed or was cancelled, where it stopped.',
    params: postId,
    answer: Post,
  }),
  cancelPost: route({
    method: 'POST',
    url: '/api/posts/:id/cancel',
    summary: 'Stops a post that is on its way.',
    params: postId,
    answer: Post,
  }),
  deletePost: route({
    method: 'DELETE',
    url: '/api/posts/:id',
    summary: 'Takes a post that is over off the list; what the platform shows stays there.',
    params: postId,
    answer: Post,
  }),
} as const;
