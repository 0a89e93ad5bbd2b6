import { CubeProblem, readCube } from '@flimzy/core/formats';
import { ColourTable, type Effect } from '@flimzy/core/properties';
import { z } from 'zod';
import { pickFiles } from '../look/pickFiles';
import { say } from '../look/Toast';
import { kept } from '../open/kept';

/** A look that was brought in from a file. */
const OwnLook = z.object({ name: z.string().min(1).max(60), table: ColourTable });
export type OwnLook = z.infer<typeof OwnLook>;

/** As many as are offered at a time: 20 KB each. */
const MOST = 24;
/** No table of colours that is read is longer than this, in bytes. */
const LONGEST = 100_000_000;

const settings = kept('flimzy.looks', z.object({ own: z.array(OwnLook).max(MOST).default([]) }));

/** The looks brought in on this device, the last one first. */
export const useOwnLooks = () => settings.use((s) => s.own);

/** Offers a look no longer; where it is used it stays. */
export function forgetLook(table: string): void {
  settings.set({ own: settings.use.getState().own.filter((one) => one.table !== table) });
}

/** A look as an effect, in full. */
export const lookEffect = ({ name, table }: OwnLook): Effect => ({ kind: 'table', name, table, strength: 1 });

async function readLook(file: File): Promise<OwnLook | null> {
  try {
    if (file.size > LONGEST) throw new CubeProblem('It is far too large for a table of colours.');
    const name =
      file.name
        .replace(/\.cube$/i, '')
        .trim()
        .slice(0, 60) || 'Look';
    return { name, table: readCube(await file.text()).table };
  } catch (error) {
    say(`“${file.name}” cannot be used. ${error instanceof CubeProblem ? error.message : 'It cannot be read.'}`);
    return null;
  }
}

/** Lets a person choose .cube files; each is offered from then on. `onLook` gets the last that could be read. */
export function bringInLooks(onLook: (look: OwnLook) => void): void {
  pickFiles('.cube', true, 'cube-files', (files) => {
    void Promise.all(files.map(readLook)).then((looks) => {
      const read = looks.filter((look) => look !== null);
      const [last] = read.slice(-1);
      if (!last) return;
      const others = settings.use.getState().own.filter((one) => !read.some(({ table }) => table === one.table));
      settings.set({ own: [...read.reverse(), ...others].slice(0, MOST) });
      onLook(last);
    });
  });
}
