/**
 * Rows as one JSON parameter, for `json_to_recordset`: cheaper on both sides than an array for each column. Half a
 * surrogate pair and the null character are legal in JSON and not in PostgreSQL's text; they become U+FFFD.
 */
export const jsonRows = (rows: readonly unknown[]): string =>
  JSON.stringify(rows).replace(UNFIT, '$1\\ufffd');

/** An escape of such a character, not one that is itself escaped: JSON.stringify writes the good ones as they are. */
const UNFIT = /(?<!\\)((?:\\\\)*)\\u(?:d[89a-f][0-9a-f]{2}|0000)/g;
