import { PROBLEMS, ROUTES, urlOf } from '..';

describe('the contract', () => {
  it('gives every route a place of its own and a summary', () => {
    const places = Object.values(ROUTES).map((r) => `${r.method} ${r.url}`);
    expect(new Set(places).size).toBe(places.length);
    for (const route of Object.values(ROUTES)) expect(route.summary).toMatch(/^[A-Z0-9].*\.$/);
  });

  it('lets no parameter reach past its place in an address', () => {
    expect(urlOf(ROUTES.getMedia, { id: '../pieces/x?y#z' })).toBe('/api/media/..%2Fpieces%2Fx%3Fy%23z');
    expect(ROUTES.getMedia.params.safeParse({ id: '../x' }).success).toBe(false);
  });

  it('names every error once, with a status that says an error', () => {
    for (const { status } of Object.values(PROBLEMS)) expect(status).toBeGreaterThanOrEqual(400);
  });
});
