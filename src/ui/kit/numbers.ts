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
