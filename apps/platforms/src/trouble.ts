import type { FastifyReply, FastifyRequest } from 'fastify';

/** Where something goes wrong: announcing, sending, the answer to the last byte, asking how it is. */
export type Place = 'announce' | 'send' | 'arrived' | 'ask';
/** How: the service is busy; too much was asked; the line breaks before anything was done, or after it was, before the answer. */
export type How = 'busy' | 'too-many' | 'broken' | 'lost';

/** What goes wrong next: as such services do now and then, or as a test says. */
export class Trouble {
  private readonly wanted: { place: Place; how: How }[] = [];
  private asked = 0;

  /** @param every one in so many requests finds the service busy; 0: none */
  constructor(private readonly every: number) {}

  want(place: Place, how: How): void {
    this.wanted.push({ place, how });
  }

  /** What goes wrong at this place now, if anything. */
  at(place: Place): How | null {
    const n = this.wanted.findIndex((one) => one.place === place);
    const [next] = n < 0 ? [] : this.wanted.splice(n, 1);
    if (next) return next.how;
    if (place === 'arrived' || this.every === 0) return null;
    this.asked += 1;
    return this.asked % this.every === 0 ? 'busy' : null;
  }
}

/** Makes trouble of a request; whether it was made, and nothing else is to be done. */
export function makeTrouble(how: How | null, request: FastifyRequest, reply: FastifyReply): boolean {
  if (how === 'broken') request.raw.socket.destroy();
  else if (how === 'busy') void reply.code(503).header('retry-after', '1').send({ error: 'busy', message: 'Try again in a moment.' });
  else if (how === 'too-many') void reply.code(429).header('retry-after', '2').send({ error: 'too-many', message: 'Not so fast.' });
  else return false;
  return true;
}
