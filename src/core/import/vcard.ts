import ICAL from 'ical.js';
import { clean } from '../people/values';

/** Columns a card gives, named as a file's header would. */
export const CARD_HEADER = [
  'First name',
  'Last name',
  'Phone',
  'E-mail',
  'State',
  'Postal code',
  'Tags',
  'Birthday',
  'Further addresses',
  'Chat id',
  'Language',
];

/** Properties that may be megabytes and say nothing we keep. */
const HEAVY = /^(?:item\d+\.)?(PHOTO|LOGO|SOUND|KEY|AGENT)[;:]/i;

export const isHeavy = (line: string): boolean => HEAVY.test(line);

/**
 * One card (from BEGIN to END, lines still folded) as cells of `CARD_HEADER`; null when it cannot be read.
 * 2.1 is brought to 3.0 first: bare types, quoted-printable. Source: RFC 6350, RFC 2426, vCard 2.1.
 */
export function readCard(text: string): string[] | null {
  try {
    const parsed = ICAL.parse(normalised(text)) as unknown;
    const jcard = (
      Array.isArray(parsed) && Array.isArray((parsed as unknown[])[0]) ? (parsed as unknown[])[0] : parsed
    ) as string;
    const card = new ICAL.Component(jcard as never);
    const values = (name: string) => card.getAllProperties(name);
    const first = (name: string): string => textOf(values(name)[0]?.getFirstValue());
    const structured = values('n')[0]?.getFirstValue() as unknown;
    const [family = '', given = ''] = Array.isArray(structured) ? structured.map(textOf) : [];
    const [plainGiven, plainFamily] = given || family ? [given, family] : namesOf(first('fn'));
    const phones = numbersOf(values('tel'));
    const mails = preferredFirst(values('email')).map((mail) => textOf(mail.getFirstValue()));
    const address = values('adr')[0]?.getFirstValue() as unknown;
    const parts = Array.isArray(address) ? address.map(textOf) : [];
    return [
      plainGiven,
      plainFamily,
      phones[0] ?? '',
      mails[0] ?? '',
      parts[4] ?? '',
      parts[5] ?? '',
      values('categories')
        .flatMap((one) => one.getValues().map(textOf))
        .join(', '),
      birthday(first('bday')),
      [...phones.slice(1), ...mails.slice(1)].join('; '),
      // IMPP is a URI (RFC 6350, 6.4.3): what follows its scheme is the id.
      first('impp').replace(/^[a-z][a-z0-9+.-]*:/i, ''),
      first('lang'),
    ].map(clean);
  } catch {
    return null;
  }
}

const textOf = (value: unknown): string =>
  Array.isArray(value)
    ? value.map(textOf).join(' ')
    : value === null || value === undefined
      ? ''
      : typeof value === 'object'
        ? String((value as { toString(): string }).toString())
        : String(value);

const namesOf = (full: string): [string, string] => {
  const words = full.split(/\s+/);
  return words.length < 2 ? [full, ''] : [words.slice(0, -1).join(' '), words.at(-1)!];
};

interface CardProperty {
  getFirstValue(): unknown;
  getParameter(name: string): unknown;
}

const typeOf = (property: CardProperty): string =>
  [property.getParameter('type') ?? []].flat().map(String).join(' ').toLowerCase();

/** What is marked as preferred first (`PREF=1` in 4.0, a type before), the rest as they stand. */
const preferredFirst = <P extends CardProperty>(properties: readonly P[]): P[] => {
  const place = (property: P) =>
    Number(property.getParameter('pref') ?? (/\bpref\b/.test(typeOf(property)) ? 1 : 101)) || 101;
  return [...properties].sort((a, b) => place(a) - place(b));
};

/** Numbers that can be called: cell phones where some are marked, then the others. Neither fax nor pager. */
function numbersOf(phones: readonly CardProperty[]): string[] {
  const speaking = preferredFirst(phones).filter((phone) => !/fax|pager/.test(typeOf(phone)));
  const cell = (phone: CardProperty) => /cell|mobile|iphone/.test(typeOf(phone));
  return [...speaking.filter(cell), ...speaking.filter((phone) => !cell(phone))].map((phone) =>
    textOf(phone.getFirstValue()).replace(/^tel:/i, '').replace(/;ext=/i, ' ext '),
  );
}

const birthday = (text: string): string => {
  const match = /^(\d{4})-?(\d{2})-?(\d{2})/.exec(text);
  return match ? `${match[1]}-${match[2]}-${match[3]}` : '';
};

function normalised(text: string): string {
  const lines = unfold(text);
  const old = lines.some((line) => /^VERSION:2\.1/i.test(line));
  const kept = lines.filter((line) => line.trim() !== '' && !isHeavy(line));
  return (old ? kept.map(from21) : kept).map((line) => line.replace(/^item\d+\./i, '')).join('\r\n');
}

/** Joins folded lines: a line that begins with a space goes on; in 2.1 so does quoted-printable after a closing `=`. */
function unfold(text: string): string[] {
  const lines: string[] = [];
  for (const line of text.split(/\r\n|\n|\r/)) {
    const last = lines.at(-1);
    if (last !== undefined && /^[ \t]/.test(line)) lines[lines.length - 1] = last + line.slice(1);
    else if (last !== undefined && /ENCODING=QUOTED-PRINTABLE/i.test(last) && last.endsWith('='))
      lines[lines.length - 1] = last.slice(0, -1) + line;
    else lines.push(line);
  }
  return lines;
}

const BARE =
  /^(HOME|WORK|CELL|VOICE|FAX|PREF|PAGER|MSG|INTERNET|CAR|BBS|MODEM|ISDN|VIDEO|DOM|INTL|POSTAL|PARCEL|X-[\w-]+)$/i;

/** A line of 2.1 as 3.0: `TEL;CELL;PREF:` is `TEL;TYPE=CELL,PREF:`, quoted-printable is decoded, its charset honoured. */
function from21(line: string): string {
  if (/^VERSION:/i.test(line)) return 'VERSION:3.0';
  const colon = line.indexOf(':');
  if (colon < 0) return line;
  const [name = '', ...params] = line.slice(0, colon).split(';');
  const types = params.filter((param) => BARE.test(param));
  const quoted = params.some((param) => /^(ENCODING=)?QUOTED-PRINTABLE$/i.test(param));
  const charset = params.find((param) => /^CHARSET=/i.test(param))?.slice('CHARSET='.length) ?? 'utf-8';
  const rest = params.filter(
    (param) => !BARE.test(param) && !/^(CHARSET=|ENCODING=|QUOTED-PRINTABLE|BASE64|8BIT|7BIT)/i.test(param),
  );
  const value = quoted ? fromQuotedPrintable(line.slice(colon + 1), charset) : line.slice(colon + 1);
  return `${[name, ...rest, ...(types.length > 0 ? [`TYPE=${types.join(',')}`] : [])].join(';')}:${value.replace(/\r?\n/g, '\\n')}`;
}

function fromQuotedPrintable(text: string, charset: string): string {
  const bytes: number[] = [];
  for (let i = 0; i < text.length; i++) {
    const hex = text[i] === '=' ? /^[0-9a-f]{2}/i.exec(text.slice(i + 1))?.[0] : undefined;
    if (hex) {
      bytes.push(parseInt(hex, 16));
      i += 2;
    } else bytes.push(...new TextEncoder().encode(text[i]));
  }
  try {
    return new TextDecoder(charset.toLowerCase()).decode(new Uint8Array(bytes));
  } catch {
    return new TextDecoder('utf-8').decode(new Uint8Array(bytes));
  }
}
