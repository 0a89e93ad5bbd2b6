import { ADDRESSES, PROBLEMS, ROUTES, urlOf, type AddressName } from '..';

describe('the contract', () => {
  it('gives every route a place of its own and a summary', () => {
    const places = Object.values(ROUTES).map((r) => `${r.method} ${r.url}`);
    expect(new Set(places).size).toBe(places.length);
    for (const route of Object.values(ROUTES)) expect(route.summary).toMatch(/^[A-Z0-9].*\.$/);
  });

  it('has every address that is asked for by itself where its route is', () => {
    const asked = Object.keys(ADDRESSES) as AddressName[];
    expect(Object.fromEntries(asked.map((name) => [name, ROUTES[name].url]))).toEqual(ADDRESSES);
    expect(asked.map((name) => ROUTES[name].method)).toEqual(asked.map(() => 'GET'));
  });

  it('lets no parameter reach past its place in an address', () => {
    expect(urlOf(ROUTES.getMedia, { id: '../pieces/x?y#z' })).toBe('/api/media/..%2Fpieces%2Fx%3Fy%23z');
    expect(ROUTES.getMedia.params.safeParse({ id: '../x' }).success).toBe(false);
  });

  it('names every error once, with a status that says an error', () => {
    for (const { status } of Object.values(PROBLEMS)) expect(status).toBeGreaterThanOrEqual(400);
  });
});
