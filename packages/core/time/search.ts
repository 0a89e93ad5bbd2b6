/**
 * Index of the first of a list for which something holds, `list.length` when there is none (binary search): once it holds, it must
 * hold for all that come after.
 */
export function firstWhere<T>(list: readonly T[], holds: (one: T) => boolean): number {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (holds(list[middle] as T)) high = middle;
    else low = middle + 1;
  }
  return low;
}
