import { isDeepStrictEqual } from 'node:util';
import { cannotBeKept } from '@flimzy/contract';
import { PlatformFormat } from '@flimzy/core/deliver';
import { applyEntries, LogEntry } from '@flimzy/core/edits';
import { brokenInvariants, Piece } from '@flimzy/core/piece';
import { z } from 'zod';
import { jsonOrNull } from '../files/json';
import type { WholePiece } from '../pieces/store';
import { Versions, type TextName } from './layout';

/** What the texts of an archive come to. */
export interface ReadTexts {
  /** Null when neither the document nor its history can be used. */
  piece: WholePiece | null;
  formats: PlatformFormat[];
  /** What of it was damaged: a sentence each. */
  missing: string[];
}

/** Names that reach what every object shares: nothing in a document is called so, and patches must not go there. */
const REACHING = new Set(['__proto__', 'constructor', 'prototype']);

function reaches(value: unknown): boolean {
  if (typeof value !== 'object' || value === null) return false;
  if (Array.isArray(value)) return value.some((one) => (typeof one === 'string' ? REACHING.has(one) : reaches(one)));
  return Object.entries(value).some(([name, inner]) => REACHING.has(name) || reaches(inner));
}

/** A text read by its schema; null when it is not there, or makes no sense. */
function parsed<T>(text: string | null, schema: z.ZodType<T>): T | null {
  const value = text === null ? null : jsonOrNull(text);
  return reaches(value) || cannotBeKept(value) ? null : (schema.safeParse(value).data ?? null);
}

const documentIn = (text: string | null) => {
  const piece = parsed(text, Piece);
  return piece && brokenInvariants(piece).length === 0 ? piece : null;
};

/** The log, if it is one: every edit has its number, and an id of its own. */
function logIn(text: string | null): LogEntry[] | null {
  if (text === null) return null;
  const entries: LogEntry[] = [];
  const ids = new Set<string>();
  for (const line of text === '' ? [] : text.split('\n')) {
    const entry = parsed(line, LogEntry);
    if (!entry || entry.seq !== entries.length + 1 || ids.has(entry.id) || Number.isNaN(Date.parse(entry.at))) return null;
    entries.push(entry);
    ids.add(entry.id);
  }
  return entries;
}

/** What the edits of a log make of a piece; null when they make no piece. */
function replayed(first: Piece, log: readonly LogEntry[]): Piece | null {
  try {
    return documentIn(JSON.stringify(applyEntries(first, log)));
  } catch {
    return null;
  }
}

/**
 * Puts a piece together from the texts of an archive: with its history where that leads to the document, without where it does not,
 * and from its history where the document is damaged.
 * @param text the texts that arrived whole; null for one that did not
 */
export function pieceFrom(text: (name: TextName) => string | null): ReadTexts {
  const missing: string[] = [];
  const document = documentIn(text('document.json'));
  const first = documentIn(text('first.json'));
  const log = logIn(text('log.jsonl'));
  const led = first && log ? replayed(first, log) : null;
  const versions = parsed(text('versions.json'), Versions);
  const formats = parsed(text('formats.json'), z.array(PlatformFormat).max(1000));
  if (!formats) missing.push('The formats of one’s own that it was made for are damaged.');
  const withHistory = (piece: Piece): WholePiece => ({ document: piece, first: first ?? piece, log: log ?? [], versions: kept() });
  const kept = () => (versions ?? []).filter(({ revision, at }) => revision <= (log?.length ?? 0) && !Number.isNaN(Date.parse(at)));
  const found = (): WholePiece | null => {
    if (document && led && isDeepStrictEqual(document, led)) {
      if (!versions) missing.push('The names of its versions are damaged.');
      return withHistory(document);
    }
    if (document) {
      missing.push('Its history is damaged: it begins anew with the piece as it was last.');
      return { document, first: document, log: [], versions: [] };
    }
    if (!led) {
      missing.push('The document of the piece is damaged, and its history too: only its media could be brought in.');
      return null;
    }
    missing.push('The document of the piece was damaged; it was put together again from its history.');
    return withHistory(led);
  };
  return { piece: found(), formats: formats ?? [], missing };
}
