import path from 'node:path';
import { fileURLToPath } from 'node:url';
import { makeTemplate } from './open';

// Run once at build time: node apps/server/dist/template.mjs
const root = path.resolve(path.dirname(fileURLToPath(import.meta.url)), '../../..');
await makeTemplate(path.join(root, '.cache/database-template'), path.join(root, 'apps/server/drizzle'));
process.exit(0);
