// npm run torture: everything that must not hurt, at full length. About half an hour. `npm test` runs a short form of it.
import { BROKEN, ODD } from './files';
import { cutPower, fillDisk } from './disks';
import { bringBroken, bringOdd, endExports, endImports, endWriting, ENDS, type Faults } from './rounds';

let bad = 0;
function told(what: string, faults: Faults): void {
  console.log(`${faults.length === 0 ? 'ok  ' : 'FAIL'} ${what}`);
  for (const fault of faults) console.log(`       ${fault}`);
  bad += faults.length;
}

const only = process.argv.slice(2);
const wanted = (name: string) => only.length === 0 || only.includes(name);
if (wanted('odd')) told(`${ODD.length} odd files come in`, await bringOdd(ODD));
if (wanted('broken')) told(`${BROKEN.length} broken and hostile files hurt nothing`, await bringBroken(BROKEN));
if (wanted('writing')) {
  for (const [i, way] of ENDS.entries()) {
    const rounds = i === 0 ? 50 : 10;
    const { acknowledged, faults } = await endWriting(rounds, () => way);
    told(`${rounds} × ${way[0]} under writing: ${acknowledged} edits acknowledged`, faults);
  }
}
if (wanted('imports')) told('30 imports ended: kill -9, SIGTERM, Ctrl-C', await endImports(30));
if (wanted('exports')) told('30 exports ended: kill -9, SIGTERM, Ctrl-C', await endExports(30));
if (wanted('power')) {
  const { way, acknowledged, faults } = await cutPower(8);
  told(`8 power cuts (${way}): ${acknowledged} edits acknowledged`, faults);
}
if (wanted('full')) {
  const faults = await fillDisk();
  if (faults) told('a full disk', faults);
  else console.log('     a full disk: no disk can be mounted here');
}
process.exit(bad > 0 ? 1 : 0);
