import { actionOf } from '../../src/open/actions';
import { chooseKey, keyName, keysOf, keyWords, resetKeys, useChosenKeys } from '../../src/open/keys';

const pressed = (key: string, held: Partial<Parameters<typeof keyName>[0]> = {}) =>
  keyName({ key, ctrlKey: false, metaKey: false, altKey: false, shiftKey: false, ...held });
const keys = (id: string) => keysOf(actionOf(id), useChosenKeys.getState().chosen);

beforeEach(() => resetKeys());

describe('a pressed key', () => {
  it('is written the same on every keyboard: the command key counts as control, shift only where it makes no other sign', () => {
    expect(pressed('z', { ctrlKey: true })).toBe('ctrl+z');
    expect(pressed('z', { metaKey: true })).toBe('ctrl+z');
    expect(pressed('S', { shiftKey: true })).toBe('shift+s');
    expect(pressed('?', { shiftKey: true })).toBe('?');
    expect(pressed('ArrowDown', { altKey: true, shiftKey: true })).toBe('alt+shift+ArrowDown');
    expect(pressed(' ')).toBe(' ');
  });

  it('is shown in words that can be read', () => {
    expect(['ctrl+shift+z', ' ', 'alt+ArrowUp', '+', 'Delete'].map(keyWords)).toEqual(['Ctrl Shift Z', 'Space', 'Alt ↑', '+', 'Delete']);
  });
});

describe('keys of one’s own', () => {
  it('take the place of the built-in ones, and take a key away from whoever had it', () => {
    expect(keys('split')).toEqual(['s']);
    chooseKey(actionOf('split'), 'f');
    expect([keys('split'), keys('freeze')]).toEqual([['f'], []]);
    chooseKey(actionOf('nest'), 'f');
    expect([keys('nest'), keys('split')]).toEqual([['f'], ['s']]);
  });

  it('are kept on the device, and can be forgotten', () => {
    chooseKey(actionOf('split'), 'y');
    expect(localStorage.getItem('flimzy.keys')).toBe('{"split":"y"}');
    resetKeys();
    expect(keys('split')).toEqual(['s']);
  });
});
