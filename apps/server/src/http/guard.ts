import { networkInterfaces, hostname } from 'node:os';
import { cannotBeKept, LOOPBACK, OURS_HEADER } from '@flimzy/contract';
import type { FastifyInstance, FastifyRequest } from 'fastify';
import { ProblemError } from './problem';

export function isLoopback(host: string): boolean {
  return LOOPBACK.includes(host) || host === '::1' || host.startsWith('127.');
}

/** Whether a server listens on every address of this machine. */
export const isEverywhere = (host: string): boolean => host === '0.0.0.0' || host === '::';

const ownAddresses = () => Object.values(networkInterfaces()).flatMap((addresses) => addresses ?? []);

/** The names a server answers to: those of this machine as far as it listens to others, and those it was told of. */
export function ownNames(host: string, told: readonly string[]): Set<string> {
  const names = new Set([...LOOPBACK, ...told.map((name) => name.toLowerCase())]);
  if (isLoopback(host)) return names;
  const bracketed = (address: string) => (address.includes(':') ? `[${address}]` : address);
  if (!isEverywhere(host)) return names.add(bracketed(host.toLowerCase()));
  for (const { address } of ownAddresses()) names.add(bracketed(address.replace(/%.*$/, '').toLowerCase()));
  const own = hostname().toLowerCase();
  return names.add(own).add(`${own}.local`);
}

/** Where others on the network find this machine: its IPv4 addresses. */
export const networkAddresses = (): string[] =>
  ownAddresses().flatMap(({ family, internal, address }) => (family === 'IPv4' && !internal ? [address] : []));

/** Host names without a port. */
const nameOf = (host: string) => host.toLowerCase().replace(/:\d+$/, '');

const CHANGES = new Set(['POST', 'PUT', 'PATCH', 'DELETE']);

/**
 * Lets in only what this server's own pages ask. A page of another site can neither read (it has another origin, and is told nothing),
 * nor change anything (it cannot send the header), nor pass for ours by giving its name our address (the host is checked).
 *
 * @param names the host names this server answers to
 * @param free where no header is asked for: the form in which the access code is typed
 */
export function guard(app: FastifyInstance, names: ReadonlySet<string>, free: readonly string[]): void {
  app.addHook('onRequest', async (request) => {
    const host = request.headers.host ?? '';
    if (!names.has(nameOf(host)))
      throw new ProblemError(
        'wrong-door',
        `This server does not answer to the name “${nameOf(host).slice(0, 100)}”. If it should, start it with NAMES=${nameOf(host).slice(0, 100)}.`,
      );
    if (fromElsewhere(request, host)) throw new ProblemError('wrong-door', 'A page of another site cannot use this server.');
    const path = request.url.split('?')[0] ?? '';
    if (CHANGES.has(request.method) && request.headers[OURS_HEADER] === undefined && !free.includes(path))
      throw new ProblemError('wrong-door', `A request that changes something needs the header ${OURS_HEADER}.`);
  });
  app.addHook('preValidation', async (request) => {
    const wrong = cannotBeKept(request.body) ?? cannotBeKept(request.params) ?? cannotBeKept(request.query);
    if (wrong) throw new ProblemError('bad-request', `The request cannot be kept: ${wrong}.`);
  });
}

/** Whether a browser says that another site's page asks. Following a link to one of our pages is no such thing. */
function fromElsewhere({ headers, url }: FastifyRequest, host: string): boolean {
  const { origin, 'sec-fetch-site': site } = headers;
  if (origin !== undefined) {
    try {
      return new URL(origin).host !== host.toLowerCase();
    } catch {
      return true; // "null": a page without an origin
    }
  }
  return url.startsWith('/api/') && (site === 'cross-site' || site === 'same-site');
}
