import { fromHere } from '../src/api/fromHere';

describe('an address that the server has from a service beside it', () => {
  it.each([
    ['http://127.0.0.1:4174/gustly/v/1?a=b', '192.168.1.20', 'http://192.168.1.20:4174/gustly/v/1?a=b'],
    ['http://127.0.0.1:4174/gustly/v/1', 'localhost', 'http://127.0.0.1:4174/gustly/v/1'],
    ['https://gustly.example/v/1', '192.168.1.20', 'https://gustly.example/v/1'],
  ])('%s is, from %s, %s', (address, here, due) => expect(fromHere(address, here)).toBe(due));
});
