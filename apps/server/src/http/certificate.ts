import { X509Certificate } from 'node:crypto';
import { mkdir, mkdtemp, readFile, rename, rm } from 'node:fs/promises';
import { isIP } from 'node:net';
import path from 'node:path';
import type { DataFolder } from '../media/folders';
import { run } from '../media/run';

/** What HTTPS is spoken with, as PEM. */
export interface Certificate {
  key: string;
  cert: string;
}

/** How long one lasts that is made here, and how long before its end another is made: days. Phones take none that lasts longer. */
const LASTS = 800;
const RENEWED = 30;

const DAY = 86_400_000;
const bare = (name: string) => name.replace(/^\[|\]$/g, '');

/** Whether a certificate is for all these names, and will be for a while. */
function isGood({ cert }: Certificate, names: readonly string[]): boolean {
  try {
    const read = new X509Certificate(cert);
    const isFor = (name: string) => (isIP(name) ? read.checkIP(name) : read.checkHost(name)) !== undefined;
    return new Date(read.validTo).getTime() - Date.now() > RENEWED * DAY && names.every(isFor);
  } catch {
    return false;
  }
}

async function readFrom(place: string): Promise<Certificate | null> {
  const read = (name: string) => readFile(path.join(place, name), 'utf8');
  return Promise.all([read('key.pem'), read('cert.pem')]).then(
    ([key, cert]) => ({ key, cert }),
    () => null,
  );
}

/**
 * The server's own certificate for its names, kept in its data folder; made by openssl, and made anew when a name came to it or its end is
 * near. Browsers ask once whether it is to be trusted.
 * @throws ProgramMissing without openssl
 */
export async function ownCertificate(folder: DataFolder, hosts: ReadonlySet<string>): Promise<Certificate> {
  const names = [...hosts].map(bare);
  const place = folder.certificate();
  const kept = await readFrom(place);
  if (kept && isGood(kept, names)) return kept;
  await mkdir(folder.root, { recursive: true, mode: 0o700 });
  const fresh = await mkdtemp(`${place}-`);
  const [key, cert] = ['key.pem', 'cert.pem'].map((name) => path.join(fresh, name)) as [string, string];
  const named = names.map((name) => (isIP(name) ? `IP:${name}` : `DNS:${name}`)).join(',');
  const made = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', String(LASTS), '-subj', '/CN=Flimzy'];
  const says = ['-addext', `subjectAltName=${named}`, '-addext', 'extendedKeyUsage=serverAuth'];
  try {
    await run('openssl', ['req', '-x509', ...made, ...says, '-keyout', key, '-out', cert]);
    await rm(place, { recursive: true, force: true });
    await rename(fresh, place);
  } finally {
    await rm(fresh, { recursive: true, force: true });
  }
  const read = await readFrom(place);
  if (!read) throw new Error('the certificate that was made is not there');
  return read;
}
