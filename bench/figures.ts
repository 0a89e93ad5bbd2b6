import { cpus, totalmem } from 'node:os';

/** The value below which a share of all values lies. */
export function percentile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? NaN;
}

export const median = (values: readonly number[]) => percentile(values, 0.5);

export function machine(): string {
  return `${cpus().length} cores, ${Math.round(totalmem() / 2 ** 30)} GiB, Node ${process.versions.node}, ${new Date().toISOString().slice(0, 10)}`;
}

/** One line of the result: what, the figure, and the bar it is held against. */
export function row(what: string, figure: string, bar = ''): void {
  console.log(`${what.padEnd(64)} ${figure.padStart(20)}  ${bar}`);
}
