import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { backUp, restore } from './keeping/backup';

// npm run backup -- DIR and npm run restore -- DIR, by scripts/backup.mjs.
const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');
const { values, positionals } = parseArgs({
  options: { data: { type: 'string', default: path.join(root, 'data') } },
  allowPositionals: true,
});
const [what, given] = positionals;
const data = path.resolve(values.data);

try {
  if (!given) throw new Error(`Say where: npm run ${what} -- DIR`);
  const place = path.resolve(given);
  if (what === 'backup') {
    const { place: made, copied, there } = await backUp(data, place, (line) => console.log(line));
    console.log(`Backed up to ${made}: ${copied} originals copied, ${there} were there already.`);
  } else {
    const { at, originals } = await restore(place, data);
    console.log(`Restored to ${data} as it was on ${new Date(at).toLocaleString('en-GB')}: ${originals} originals, each checked.`);
    console.log('The next start makes everything else again: npm start' + (values.data.startsWith(root) ? '' : ` -- --data ${data}`));
  }
} catch (error) {
  console.error(error instanceof Error ? error.message : error);
  process.exitCode = 1;
}
