import { X509Certificate } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { isIP } from 'node:net';
import { whole } from '../files/whole';
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
function isGood(cert: string, names: readonly string[]): boolean {
  try {
    const read = new X509Certificate(cert);
    const isFor = (name: string) => (isIP(name) ? read.checkIP(name) : read.checkHost(name)) !== undefined;
    return new Date(read.validTo).getTime() - Date.now() > RENEWED * DAY && names.every(isFor);
  } catch {
    return false;
  }
}

/**
 * The server's own certificate for its names, kept in its data folder with its key, in one file; made by openssl, and made anew when a name
 * came to it or its end is near. Browsers ask once whether it is to be trusted.
 * @throws ProgramMissing without openssl
 */
export async function ownCertificate(folder: DataFolder, hosts: ReadonlySet<string>): Promise<Certificate> {
  const names = [...hosts].map(bare);
  const place = folder.certificate();
  const kept = await readFile(place, 'utf8').catch(() => null);
  if (kept && isGood(kept, names)) return { key: kept, cert: kept };
  const named = names.map((name) => (isIP(name) ? `IP:${name}` : `DNS:${name}`)).join(',');
  const made = ['-newkey', 'ec', '-pkeyopt', 'ec_paramgen_curve:prime256v1', '-nodes', '-days', String(LASTS), '-subj', '/CN=Flimzy'];
  const says = ['-addext', `subjectAltName=${named}`, '-addext', 'extendedKeyUsage=serverAuth'];
  await whole(place, (to) => run('openssl', ['req', '-x509', ...made, ...says, '-keyout', to, '-out', to]));
  const pem = await readFile(place, 'utf8');
  return { key: pem, cert: pem };
}
