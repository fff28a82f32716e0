/** One line of JSON per benchmark. */
export const say = (benchmark: string, figures: Record<string, unknown>): void =>
  console.log(JSON.stringify({ benchmark, ...figures }));

export const round = (value: number): number => Math.round(value * 1_000) / 1_000;

/** Items a second of the best of five runs, after one to warm up. */
export function perSecond(items: number, run: () => void): number {
  run();
  const times = Array.from({ length: 5 }, () => {
    const from = performance.now();
    run();
    return performance.now() - from;
  });
  return items / (Math.min(...times) / 1_000);
}

export function quantile(values: readonly number[], share: number): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0;
}
