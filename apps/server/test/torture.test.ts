import { BROKEN, ODD } from '../../../torture/files';
import { cutPower, fillDisk } from '../../../torture/disks';
import { bringBroken, bringOdd } from '../../../torture/rounds';

/**
 * The short form of `npm run torture`: a few of each kind. What else it does stands in crash.test.ts (ends under writing and exporting) and
 * preparing.test.ts (ends under importing).
 */
const few = <T>(all: readonly T[], every: number) => all.filter((_, n) => n % every === 0);

describe('the short form of the torture', () => {
  it('odd files come in whole', async () => expect(await bringOdd(few(ODD, 7))).toEqual([]));
  it('broken and hostile files hurt nothing', async () => expect(await bringBroken(few(BROKEN, 6))).toEqual([]));
  it('a full disk is said, and nothing is lost by it', async () => expect((await fillDisk()) ?? []).toEqual([]));
  it('a power cut takes no acknowledged edit and no original', async () => expect((await cutPower(1)).faults).toEqual([]));
});
