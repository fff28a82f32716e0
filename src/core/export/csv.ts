/**
 * A line of CSV (RFC 4180). A cell that a spreadsheet would run as a formula gets a quotation mark before it, except in
 * the columns named by `plain`: a phone number begins with a plus and must stay a number.
 */
export function csvLine(cells: readonly string[], plain: readonly number[] = []): string {
  const written = cells.map((cell, i) => quoted(plain.includes(i) ? cell : harmless(cell)));
  return `${written.join(',')}\r\n`;
}

/** What spreadsheets take for a formula: these first letters, also behind space. Source: OWASP, CSV injection. */
export const harmless = (cell: string): string =>
  /^\s*[=+\-@\t\r|]/.test(cell) && !isPlainNumber(cell) ? `'${cell}` : cell;

/** A phone number or a plain number is no formula. */
const isPlainNumber = (cell: string): boolean => /^[+-]?\d[\d .]*$/.test(cell);

const quoted = (cell: string): string => (/[",\r\n]/.test(cell) ? `"${cell.replaceAll('"', '""')}"` : cell);
