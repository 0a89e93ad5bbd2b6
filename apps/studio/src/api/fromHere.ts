const OWN = new Set(['localhost', '127.0.0.1', '[::1]']);

/**
 * An address on the server's own machine as it is reached from where the app is used: on another device that machine has the name under
 * which the app itself came. Other addresses stay as they are.
 */
export function fromHere(address: string, here = location.hostname): string {
  const url = new URL(address);
  if (OWN.has(url.hostname) && !OWN.has(here)) url.hostname = here;
  return url.href;
}
