import { readFileSync } from 'node:fs';
import path from 'node:path';
import { applyEdit } from '../edits';
import { evaluate } from '../frame';
import { brokenInvariants, Piece } from '../piece';
import { heardAt } from '../sound';
import { frameStart, toSamples } from '../time';

/** A piece as it lay in a data folder on 2026-11-27, with the edits that made it (two of them named as the first app named them) and what was seen and heard of it then. */
interface Stored {
  first: unknown;
  log: { id: string; name: string; params: unknown }[];
  piece: unknown;
  frames: number[];
  seen: unknown[];
  heard: unknown[];
}
const stored = JSON.parse(readFileSync(path.join(__dirname, 'stored/piece-1.json'), 'utf8')) as Stored;
const plain = (value: unknown): unknown => JSON.parse(JSON.stringify(value));

describe('a piece that was stored by an earlier version', () => {
  it('is read as it was, and nothing in it is broken', () => {
    const piece = Piece.parse(stored.piece);
    expect(plain(piece)).toEqual(stored.piece);
    expect(brokenInvariants(piece)).toEqual([]);
  });

  it('comes out of its log again, edit by edit', () => {
    const names = new Set(stored.log.map(({ name }) => name));
    expect([names.has('level'), names.has('fit'), names.size]).toEqual([true, true, 19]);
    const made = stored.log.reduce((piece, { id, name, params }) => applyEdit(piece, id, name, params).piece, Piece.parse(stored.first));
    expect(plain(made)).toEqual(stored.piece);
  });

  it('shows and plays what it did', () => {
    const piece = Piece.parse(stored.piece);
    const { rate } = piece.format;
    stored.frames.forEach((frame, n) => {
      const time = frameStart(frame, rate);
      expect(plain(evaluate(piece, time).layers)).toEqual(stored.seen[n]);
      expect(plain(heardAt(piece, toSamples(time) + 400))).toEqual(stored.heard[n]);
    });
  });
});
