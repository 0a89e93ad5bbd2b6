import { createHmac, timingSafeEqual } from 'node:crypto';
import cookie from '@fastify/cookie';
import { ENTER_URL } from '@flimzy/contract';
import type { FastifyInstance } from 'fastify';
import type { DataFolder } from '../media/folders';
import { secretOf } from '../files/secret';
import { ProblemError } from './problem';

/** How long a device that knew the code is let in, in seconds: a year. */
const LET_IN = 365 * 86_400;
const COOKIE = 'flimzy';

const same = (a: string, b: string) => {
  const [one, other] = [a, b].map((text) => createHmac('sha256', 'same').update(text).digest());
  return one !== undefined && other !== undefined && timingSafeEqual(one, other);
};

/** Asks every device for the access code once; until it is typed, nothing but the page that asks for it answers. */
export async function askForCode(app: FastifyInstance, folder: DataFolder, code: string): Promise<void> {
  // Another code makes what was signed for the last one worthless.
  const secret = createHmac('sha256', await secretOf(folder))
    .update(code)
    .digest('hex');
  await app.register(cookie, { secret });
  app.addHook('onRequest', async (request, reply) => {
    if (request.url.split('?')[0] === ENTER_URL) return;
    const signed = request.cookies[COOKIE];
    if (signed && request.unsignCookie(signed).valid) return;
    if (request.method === 'GET' && !request.url.startsWith('/api/') && request.headers.accept?.includes('text/html'))
      return reply.redirect(ENTER_URL, 303);
    throw new ProblemError('needs-code', `This server asks for its access code first: open ${ENTER_URL}.`);
  });
  app.addContentTypeParser('application/x-www-form-urlencoded', { parseAs: 'string', bodyLimit: 4096 }, (_request, body, done) =>
    done(null, Object.fromEntries(new URLSearchParams(String(body)))),
  );
  app.get(ENTER_URL, { schema: { hide: true } }, (_request, reply) => reply.type('text/html').send(page(null)));
  app.post(ENTER_URL, { schema: { hide: true }, config: { rateLimit: { max: 10, timeWindow: '1 minute' } } }, (request, reply) => {
    const given = (request.body as { code?: string } | null)?.code ?? '';
    if (!same(given.trim(), code))
      return reply.code(401).type('text/html').send(page('That is not the code. It is the one the server was started with.'));
    const kept = {
      signed: true,
      httpOnly: true,
      sameSite: 'lax',
      path: '/',
      maxAge: LET_IN,
      secure: request.protocol === 'https',
    } as const;
    return reply.setCookie(COOKIE, 'in', kept).redirect('/', 303);
  });
}

/** The page that asks for the code: one form, which needs no script. */
function page(wrong: string | null): string {
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>Flimzy: access code</title>
<style>
:root { color-scheme: dark light; --ground: #17191a; --panel: #1f2223; --line: #6f7776; --ink: #efece4; --muted: #a3a69f; --warn: #f0a58a; }
@media (prefers-color-scheme: light) { :root { --ground: #f3f1eb; --panel: #fffdf8; --line: #7d8079; --ink: #1d1f1f; --muted: #5d605b; --warn: #9c3b14; } }
* { box-sizing: border-box; }
body { margin: 0; min-height: 100vh; display: grid; place-items: center; padding: 20px; background: var(--ground); color: var(--ink); font: 16px/1.5 system-ui, sans-serif; }
form { width: 100%; max-width: 360px; padding: 24px; border-radius: 20px; background: var(--panel); }
h1 { margin: 0 0 8px; font-size: 22px; }
p { margin: 0 0 16px; color: var(--muted); }
p[role=alert] { color: var(--warn); }
label { display: block; margin-bottom: 6px; }
input, button { width: 100%; min-height: 48px; border-radius: 12px; font: inherit; }
input { padding: 0 14px; border: 1px solid var(--line); background: var(--ground); color: var(--ink); }
button { margin-top: 14px; border: 0; background: var(--ink); color: var(--ground); font-weight: 600; }
:focus-visible { outline: 3px solid var(--ink); outline-offset: 2px; }
</style>
</head>
<body>
<form method="post" action="${ENTER_URL}">
<h1>Your pieces are behind a code</h1>
<p>Type it once on this device. It was set where the server was started.</p>
${wrong ? `<p role="alert">${wrong}</p>` : ''}
<label for="code">Access code</label>
<input id="code" name="code" type="password" autocomplete="current-password" required autofocus>
<button type="submit">Open</button>
</form>
</body>
</html>`;
}
