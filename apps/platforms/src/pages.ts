import type { Video } from './book';
import type { Rules } from './rules';

const ESCAPES: Record<string, string> = { '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' };
const plain = (text: string) => text.replace(/[&<>"']/g, (letter) => ESCAPES[letter] ?? letter);

const page = (title: string, body: string) => `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width, initial-scale=1">
<title>${plain(title)}</title>
<style>
:root { color-scheme: light dark; }
body { margin: 0 auto; max-width: 560px; padding: 20px; font: 16px/1.5 system-ui, sans-serif; }
video { width: 100%; max-height: 70vh; background: #000; border-radius: 12px; }
h1 { font-size: 22px; margin: 16px 0 4px; }
p { margin: 4px 0; white-space: pre-wrap; overflow-wrap: anywhere; }
input, button { width: 100%; min-height: 48px; margin: 8px 0; padding: 0 14px; border-radius: 12px; font: inherit; box-sizing: border-box; }
code { display: block; padding: 14px; border: 1px solid #888; border-radius: 12px; overflow-wrap: anywhere; user-select: all; }
small { opacity: 0.75; }
</style>
</head>
<body>${body}</body>
</html>`;

/** Where someone gets a token. */
export const tokenPage = ({ name, about }: Rules, token: string | null) =>
  page(
    `${name}: a token`,
    token === null
      ? `<h1>${plain(name)}</h1><p>${plain(about)}</p>
<form method="post"><label for="name">What you are called here</label><input id="name" name="name" required maxlength="60"><button>Get a token</button></form>`
      : `<h1>Your token</h1><p>Copy it into the program that posts for you. It is shown this once.</p><code id="token">${plain(token)}</code>`,
  );

/** Where a video is seen by everyone. */
export const videoPage = ({ name }: Rules, video: Video, by: string) =>
  page(
    video.title,
    `<small>${plain(name)}</small><video src="${plain(video.id)}/file" controls playsinline>${video.captions ? `<track kind="captions" src="${plain(video.id)}/captions" label="Captions" default>` : ''}</video>
<h1>${plain(video.title)}</h1><p>${plain(video.description)}</p><p>${video.tags.map((tag) => `#${plain(tag)}`).join(' ')}</p><small>${plain(by)}</small>`,
  );

export const frontPage = ({ name, about }: Rules, videos: readonly Video[]) =>
  page(
    name,
    `<h1>${plain(name)}</h1><p>${plain(about)}</p><ul>${videos.map(({ id, title }) => `<li><a href="v/${plain(id)}">${plain(title)}</a></li>`).join('')}</ul>`,
  );
