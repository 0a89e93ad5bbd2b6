import type { FastifyInstance } from 'fastify';
import { handle } from '../http/register';
import type { JobQueue } from '../jobs/queue';
import type { Accounts } from './accounts';
import type { Posts } from './posts';

export function postingRoutes(app: FastifyInstance, accounts: Accounts, posts: Posts, queue: JobQueue): void {
  handle(app, 'listPlatforms', () => accounts.list());
  handle(app, 'signIn', ({ params, body }) => accounts.signIn(params.platform, body.token));
  handle(app, 'signOut', ({ params }) => accounts.signOut(params.platform));
  handle(app, 'listPosts', ({ query }) => posts.list(query.piece));
  handle(app, 'newPost', async ({ body }) => {
    const { post, fresh } = await posts.create(body.delivery, body.platform, body.about);
    if (fresh) await queue.send('post', post.id);
    return post;
  });
  handle(app, 'postAgain', async ({ params }) => {
    const { post, fresh } = await posts.again(params.id);
    if (fresh) await queue.send('post', post.id);
    return post;
  });
  handle(app, 'cancelPost', ({ params }) => posts.cancel(params.id));
  handle(app, 'deletePost', ({ params }) => posts.remove(params.id));
}
