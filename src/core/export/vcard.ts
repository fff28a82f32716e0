/** What a card says of somebody. Source: RFC 6350. */
export interface Card {
  /** The preferred ones first. */
  numbers: readonly string[];
  firstName: string | null;
  lastName: string | null;
  emails: readonly string[];
  region: string | null;
  postalCode: string | null;
  tags: readonly string[];
}

const escaped = (text: string): string =>
  text.replace(/[\\,;]/g, (letter) => `\\${letter}`).replace(/\r?\n/g, '\\n');

/** Lines of at most 75 octets; a letter of several octets is never cut. */
function folded(line: string): string {
  let out = '';
  let octets = 0;
  for (const letter of line) {
    const size = Buffer.byteLength(letter);
    if (octets + size > 75) {
      out += '\r\n ';
      octets = 1;
    }
    out += letter;
    octets += size;
  }
  return `${out}\r\n`;
}

/** Of several, the first is said to be preferred. */
const preferred = (i: number, of: readonly string[]): string => (i === 0 && of.length > 1 ? ';PREF=1' : '');

/** Somebody as a vCard 4.0. */
export function writeCard(card: Card): string {
  const { firstName, lastName, numbers, emails, region, postalCode, tags } = card;
  const full = [firstName, lastName].filter(Boolean).join(' ') || (numbers[0] ?? emails[0] ?? 'nobody known');
  return [
    'BEGIN:VCARD',
    'VERSION:4.0',
    `FN:${escaped(full)}`,
    ...(firstName || lastName ? [`N:${escaped(lastName ?? '')};${escaped(firstName ?? '')};;;`] : []),
    ...numbers.map((number, i) => `TEL;VALUE=uri;TYPE=cell${preferred(i, numbers)}:tel:${number}`),
    ...emails.map((email, i) => `EMAIL${preferred(i, emails)}:${escaped(email)}`),
    ...(region || postalCode ? [`ADR:;;;;${escaped(region ?? '')};${escaped(postalCode ?? '')};`] : []),
    ...(tags.length > 0 ? [`CATEGORIES:${tags.map(escaped).join(',')}`] : []),
    'END:VCARD',
  ]
    .map(folded)
    .join('');
}
