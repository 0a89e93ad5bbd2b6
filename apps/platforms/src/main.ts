import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import closeWithGrace from 'close-with-grace';
import { PLATFORMS } from './rules';
import { buildService } from './service';

const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');
const { values } = parseArgs({
  options: {
    data: { type: 'string', default: path.join(root, 'data-platforms') },
    port: { type: 'string', default: '4174' },
    /** One in so many requests finds the service busy. */
    trouble: { type: 'string', default: '9' },
    tested: { type: 'boolean', default: false },
    /** How long a file is looked at before it is shown, in ms. */
    looking: { type: 'string', default: '2500' },
    perMinute: { type: 'string', default: '120' },
  },
});

try {
  const app = await buildService({
    data: path.resolve(values.data),
    troubleEvery: Number(values.trouble),
    tested: values.tested,
    requestsPerMinute: Number(values.perMinute),
    looking: Number(values.looking),
  });
  closeWithGrace({ delay: 5_000 }, async () => app.close());
  const address = await app.listen({ host: process.env.HOST ?? '127.0.0.1', port: Number(values.port) });
  const names = Object.values(PLATFORMS).map(({ name }) => name);
  console.log(`${names.slice(0, -1).join(', ')} and ${names.at(-1)} (made-up platforms, to post to) are at ${address}`);
} catch (error) {
  console.error(`The made-up platforms did not start: ${(error as Error).message}`);
  process.exit(1);
}
