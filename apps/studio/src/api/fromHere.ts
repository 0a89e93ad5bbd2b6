import { LOOPBACK } from '@flimzy/contract';

/**
 * An address on the server's own machine as it is reached from where the app is used: on another device that machine has the name under
 * which the app itself came. Other addresses stay as they are.
 */
export function fromHere(address: string, here = location.hostname): string {
  const url = new URL(address);
  if (LOOPBACK.includes(url.hostname) && !LOOPBACK.includes(here)) url.hostname = here;
  return url.href;
}
