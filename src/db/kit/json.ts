/**
 * JSON for PostgreSQL, of one value or of rows for `json_to_recordset` (cheaper on both sides than an array for each
 * column). Half a surrogate pair and the null character are legal in JSON and not in PostgreSQL's text; they become
 * U+FFFD. The only way from a value to JSON in `db` and `services`: a lint rule refuses JSON.stringify there.
 */
export function toJson(value: unknown): string {
  const json = JSON.stringify(value);
  // Nearly nothing has an escape in it, and looking for the unfit ones costs more than the writing.
  return json.includes('\\u') ? json.replace(UNFIT, '$1\\ufffd') : json;
}

/** An escape of such a character, not one that is itself escaped: JSON.stringify writes the good ones as they are. */
const UNFIT = /(?<!\\)((?:\\\\)*)\\u(?:d[89a-f][0-9a-f]{2}|0000)/g;
