import { ADDRESSES, filled, type AddressName } from '@flimzy/contract/addresses';

/** The address of something that the server gives as bytes, or as text. */
export const addressOf = (name: AddressName, params: Record<string, string>, query: Record<string, string | number> = {}): string =>
  filled(ADDRESSES[name], params, query);
