import type { Piece } from '@flimzy/core/piece';
import { makesWay, type Hearing, type HearingReader } from '@flimzy/core/sound';
import { addressOf } from '../api/address';

/** How long until an item that was not listened to yet is asked for again, in ms. */
const AGAIN = 3_000;

/** What was heard in the material of a piece, fetched where the piece needs to know. */
export class Heard {
  private readonly known = new Map<string, Hearing>();
  private readonly asked = new Map<string, Promise<void>>();
  /** Another function whenever more is known. */
  reader: HearingReader = () => null;

  /** @param onMore called when more is known than before */
  constructor(private readonly onMore: () => void) {}

  /** Has what a piece needs fetched; resolves when all that is there has come. */
  async want(piece: Piece, origin: string): Promise<void> {
    if (!makesWay(piece)) return;
    const items = Object.values(piece.media).filter((media) => media.hasSound && media.kind !== 'nest');
    await Promise.all(items.map(({ id }) => this.asked.get(id) ?? this.ask(id, origin)));
  }

  private ask(media: string, origin: string): Promise<void> {
    const coming = this.fetch(media, origin).catch(() => {
      setTimeout(() => {
        this.asked.delete(media);
        this.onMore(); // whoever plays asks again
      }, AGAIN);
    });
    this.asked.set(media, coming);
    return coming;
  }

  private async fetch(media: string, origin: string): Promise<void> {
    const response = await fetch(new URL(addressOf('mediaHearing', { id: media }), origin));
    if (!response.ok) throw new Error('not listened to yet');
    this.known.set(media, (await response.json()) as Hearing);
    const { known } = this;
    this.reader = (id) => known.get(id) ?? null;
    this.onMore();
  }
}
