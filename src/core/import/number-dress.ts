/** What stands behind a number: an extension. */
export const EXTENSION = /\s*(?:;ext=|(?:extension|ext|x)\.?\s*:?\s*)(\d{1,6})$/i;

/** What people write before or behind a number: which phone it is. */
const PHONE_WORDS =
  'cell|cellular|mobile|mob|home|work|office|main|phone|tel|text|sms|call|day|evening|c|m|h|w|o|p|t';
const BEFORE = new RegExp(`^(?:${PHONE_WORDS})\\b\\s*[.:#-]?\\s*(?=[+(\\d])`, 'i');
const BEHIND = new RegExp(
  `(?<=\\d)\\s*(?:[-,]?\\s+(?:${PHONE_WORDS})|\\(\\s*(?:${PHONE_WORDS})\\s*\\))\\.?$`,
  'i',
);

/** A number without what spreadsheets and people dress it in: `'+1719…`, `="719…"`, `tel:`, `Cell: …`, `… (mobile)`. */
export const bareNumber = (text: string): string =>
  text
    .trim()
    .replace(/^["'’=]+|["'’]+$/g, '')
    .replace(/^tel:/i, '')
    .replace(BEFORE, '')
    .replace(BEHIND, '')
    .trim();
