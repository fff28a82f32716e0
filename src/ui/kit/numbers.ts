const grouped = new Intl.NumberFormat('en-US');

export const count = (n: number): string => grouped.format(n);
export const plural = (n: number, one: string, many = `${one}s`): string =>
  `${count(n)} ${n === 1 ? one : many}`;

/** A share in percent: whole from ten, one decimal below, an em dash when there is nothing to divide. */
export function percent(share: number | null): string {
  if (share === null) return '–';
  const value = share * 100;
  return `${value > 0 && value < 10 ? value.toFixed(1) : Math.round(value)} %`;
}

/** How large a file is. */
export function sizeWords(bytes: number): string {
  if (bytes < 1_000_000) return `${Math.max(1, Math.round(bytes / 1_000))} kB`;
  return bytes < 1_000_000_000
    ? `${(bytes / 1_000_000).toFixed(1)} MB`
    : `${(bytes / 1_000_000_000).toFixed(1)} GB`;
}
