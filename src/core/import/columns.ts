import { OWN_KINDS, type OwnFieldKind } from '../audience/fields';
import { dateOrders, readDate, type DateOrder } from '../people/values';
import { REGION_NAMES } from '../phone/regions';
import { bareNumber, EXTENSION } from './number-dress';
import { permissionColumn } from './permission';

/** Where a column goes: a field of the person, an own field (`own.<key>`), a new own field, tags, or nowhere. */
export type Target =
  | 'number'
  | 'first_name'
  | 'last_name'
  | 'full_name'
  | 'email'
  | 'further'
  | 'chat'
  | 'language'
  | 'region'
  | 'postal_code'
  | 'zone'
  | 'stage'
  | 'owner'
  | 'tags'
  | 'lists'
  | 'agreed'
  | 'agreed_on'
  | 'left'
  | 'new'
  | 'skip'
  | `own.${string}`;

export const TARGET_WORDS: Record<string, string> = {
  number: 'phone number',
  first_name: 'first name',
  last_name: 'last name',
  full_name: 'whole name',
  email: 'e-mail',
  further: 'another number or e-mail',
  chat: 'chat id',
  language: 'language',
  region: 'state',
  postal_code: 'postal code',
  zone: 'time zone',
  stage: 'stage',
  owner: 'owner',
  tags: 'tags',
  lists: 'lists',
  agreed: 'agreed to texts',
  agreed_on: 'when they agreed',
  left: 'wants no texts',
  new: 'a new field',
  skip: 'leave out',
};

/** Whether a column that goes there may hold days, whose order counts. */
export const holdsDays = ({ to, kind }: Pick<ColumnMap, 'kind'> & { to: string }): boolean =>
  to === 'agreed_on' || (kind === 'date' && (to === 'new' || to.startsWith('own.')));

export interface ColumnMap {
  to: Target;
  /** Of a new field. */
  label?: string;
  kind?: OwnFieldKind;
  /** Of dates written with numbers only. Null where nothing decides: the importer is asked. */
  order?: DateOrder | null;
}

export interface ColumnGuess extends ColumnMap {
  /** The header, or “Column 3”. */
  title: string;
  sample: string[];
  /** What the column's dates say of their order; empty: no such dates. */
  orders: DateOrder[] | 'mixed';
}

const HEADERS: [RegExp, Target][] = [
  [
    /^(phone|mobile|cell|t[eé]l|telephone|landline|sms|handy|msisdn|m[oó]vil|celular|t[eé]l[eé]fono|rufnummer|mobilnummer|portable)\b|(phone|\b(mobile|cell|tel)) ?(number|no|nr)?$|^number$|^(ph|mob)( ?(number|no|nr))?$|^contact (no|nr)$/,
    'number',
  ],
  [
    /^(first|given|fore|christian|preferred) ?names?$|^name (first|given)$|^fname$|^first$|^given$|^vorname$|^nombres?( de pila)?$|^pr[eé]noms?$/,
    'first_name',
  ],
  [
    /^(last|family|sur) ?names?$|^name (last|family|sur)$|^lname$|^last$|^nachname$|^apellidos?$|^nom( de famille)?$/,
    'last_name',
  ],
  [
    /^((full|contact|whole|display|complete|legal) )*name$|^first (and|&) last( names?)?$|^name first (and |& )?last$|^(contact|person)$/,
    'full_name',
  ],
  [
    /^nombre completo$|^nom complet$|^(nombres?|apellidos?) y (nombres?|apellidos?)$|^(nom|pr[eé]nom)s? et (nom|pr[eé]nom)s?$|^vor und (nach|zu)name$/,
    'full_name',
  ],
  [/^e ?mail( ?(address|addr|adresse))?$|^mail$|^correo( electr[oó]nico)?$|^courriel$/, 'email'],
  [/^(state|region|province|st|estado)( code)?$/, 'region'],
  [
    /^(zip|postal|post)( (or )?(zip|postal|post))?( ?code)?$|^plz$|^postcode$|^postleitzahl$|^c[oó]digo postal$|^code postal$/,
    'postal_code',
  ],
  [/^(further|other|additional) (numbers?|e ?mails?|address(es)?)$/, 'further'],
  [/^chat( ?id| contact| address| handle)?$|^messenger( id)?$|^im( address)?$/, 'chat'],
  [/^(language|lang|locale|preferred language|idioma|langue|sprache)$/, 'language'],
  [/^(time ?zone|tz|zeitzone|zona horaria|fuseau( horaire)?)$/, 'zone'],
  [/^(stage|pipeline stage|lead stage|life ?cycle stage)$/, 'stage'],
  [/^(owner|assigned to|assignee|account owner|contact owner|rep|sales rep|responsible)$/, 'owner'],
  [/^(lists?|mailing lists?|audience)$/, 'lists'],
  [/^(tags?|labels?|categor(y|ies)|groups?)$/, 'tags'],
];

/** Whose it is, or which of several: said around what it is. */
const WHOSE =
  /^(?:(?:the|your|their|my|what is|what s|whats|please enter|enter|customer|client|contact|guest|member|subscriber|lead|patient|parent|guardian|adult|person|user|attendee|buyer|visitor|applicant|primary|main|home|work|business|personal|billing|shipping|mailing) )+/;
const WHICH =
  / (?:[1-9]|one|primary|main|value|required|optional|mobile|cell|home|work|of (?:the )?(?:customer|client|guest|contact))(?= |$)|[?*]/g;
/** Who a column of names is about, where nothing else names it. */
const SOMEBODY =
  /^(customer|client|guest|subscriber|attendee|visitor|member|buyer|resident|tenant|patient|student)$/;

function namedBy(words: string): Target | null {
  const find = (text: string) => HEADERS.find(([pattern]) => pattern.test(text))?.[1] ?? null;
  // “Parent/guardian name”, “What is your name?”, “ZIP5”: the same when what stands around it is taken away.
  const bare = words
    .replace(WHICH, '')
    .trim()
    .replace(WHOSE, '')
    .replace(/(?<=[a-z])\d$/, '')
    .trim();
  return find(words) ?? (bare === words ? null : find(bare));
}

/** Somebody else than whom the row is about: what is theirs is nobody's address here. */
const SOMEBODY_ELSE =
  /\b(?:emergency|spouses?|partners?|husbands?|wife|wives|mothers?|fathers?|mom|mum|dad|next of kin|nok|guarantors?|referr(?:ed|er|al)s?|referenc(?:e|es) (?:name|phone|e ?mail)|(?:adult|guest|contact|person|parent|guardian|attendee|member|owner|buyer|tenant) (?:[2-9]|two|b)|(?:second|secondary|other|alternate|additional) (?:adult|guest|person|parent|guardian))\b/;

/** What things, papers and cases are known by; of ten digits it looks like a phone number. */
const IDENTIFIER =
  /\b(?:ids?|uuid|ref|reference|orders?|invoice|account|acct|ticket|case|sku|upc|ean|isbn|barcode|transaction|receipt|serial|policy|licen[cs]e|npi|ein|ssn|imei|card|confirmation|booking|reservation)\b/;

/** About a phone, and no number: “Phone type”, “Mobile carrier”, “SMS consent date”. */
const ABOUT_A_NUMBER =
  /^(?:phone|mobile|cell|telephone|tel|sms|text)\b.*\b(?:type|carrier|provider|country|verified|valid|status|opt|consent|date|time|timestamp|extension|ext|label|notes?)\b/;

/** What may be a phone's number or whatever else counts people: “Member number”, “Customer no.”. */
const COUNTS_PEOPLE =
  /\b(?:customer|client|member(?:ship)?|subscriber|patient|student|employee|user|visitor|guest|person|file|roll|badge) (?:number|no|nr|num|code)$/;

/** How likely texts reach what a column of numbers holds: of several the first of the likeliest is the person's own. */
function textable(header: string): number {
  if (/\b(?:mobile?|cell|cellular|celular|sms|text|handy|m[oó]vil|portable|mobilnummer)\b/.test(header))
    return 2;
  return /\b(?:home|work|office|business|landline|land line|house|day|daytime|evening|other|alt|alternate|secondary|emergency|maison|casa|trabajo|oficina)\b/.test(
    header,
  )
    ? 0
    : 1;
}

/** A header without dress: lower case, words apart. */
export const plainHeader = (header: string): string =>
  header
    .normalize('NFKC')
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[_\-./:()#'’]+/g, ' ')
    .replace(/\s+/g, ' ')
    .trim();

/** As a file may hold it: `readFileNumber` decides, this only looks. */
const looksLikeNumber = (value: string): boolean => {
  const [first = ''] = bareNumber(value.replace(/\s*\([^()\d]*\)\s*$/, '')).split(
    /\s*(?:[;,|]|\/(?=\s*[+(\d]{3})|\b(?:or|and)\b)\s*/i,
  );
  const text = first.replace(EXTENSION, '');
  const digits = text.replace(/\D/g, '').length;
  return /^[+\d(][\d\s().+\-\u2010-\u2015/eE]*$/.test(text) && digits >= 10 && digits <= 15;
};
const isBareDigits = (value: string): boolean => /^\d+$/.test(value);
const looksLikeDate = (value: string): boolean => /^\d{1,4}[-/. ]\d{1,2}[-/. ]\d{1,4}([T ].*)?$/.test(value);

/** What a column's values look like, when most of them do. */
const CONTENT: [(value: string) => boolean, Target][] = [
  [(value) => /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value), 'email'],
  [looksLikeNumber, 'number'],
  [(value) => /^[A-Z]{2}$/.test(value) && value in REGION_NAMES, 'region'],
  [(value) => /^\d{5}(-\d{4})?$/.test(value), 'postal_code'],
];

const MOST = 0.8;

function byContent(values: readonly string[]): Target | null {
  if (values.length === 0) return null;
  return CONTENT.find(([looks]) => values.filter(looks).length >= values.length * MOST)?.[1] ?? null;
}

function kindOf(values: readonly string[]): OwnFieldKind {
  if (values.length === 0) return 'text';
  if (values.every((value) => looksLikeDate(value) || readDate(value, null).ok)) return 'date';
  if (values.every((value) => /^-?[\d,]{1,12}(\.\d{1,3})?$/.test(value))) return 'number';
  if (values.every((value) => /^(yes|no|true|false|y|n)$/i.test(value))) return 'yes-no';
  return 'text';
}

/** What several columns can hold. */
const MANY: ReadonlySet<Target> = new Set(['skip', 'further', 'agreed', 'left']);

/**
 * Proposes what each column is, by its header first, else by what its values look like; a header that contradicts
 * the values loses. Each target is given once: of two columns with phone numbers the second holds a further one.
 */
export function guessColumns(
  header: readonly string[] | null,
  rows: readonly (readonly string[])[],
  own: readonly { key: string; label: string; kind: OwnFieldKind }[],
): ColumnGuess[] {
  const width = Math.max(header?.length ?? 0, ...rows.map((row) => row.length));
  const taken = new Set<Target>();
  const columns = Array.from({ length: width }, (_, i) =>
    rows.map((row) => (row[i] ?? '').trim()).filter((value) => value !== ''),
  );
  const guesses = withoutCounters(
    columns.map((values, i) => guess(header?.[i] ?? '', values, own)),
    (i) => COUNTS_PEOPLE.test(plainHeader(header?.[i] ?? '')) && columns[i]!.every(isBareDigits),
  );
  // “Home phone” before “mobile phone”: texts go to the mobile one.
  const reach = guesses.map((to, i) => (to === 'number' ? textable(plainHeader(header?.[i] ?? '')) : -1));
  const theirs = reach.indexOf(Math.max(...reach));
  return columns.map((values, i) => {
    const title = header?.[i]?.trim() || `Column ${i + 1}`;
    let to = guesses[i]!;
    if (to === 'number' ? i !== theirs : !MANY.has(to) && taken.has(to))
      to = to === 'number' || to === 'email' ? 'further' : 'skip';
    taken.add(to);
    const kind = to.startsWith('own.') ? own.find(({ key }) => `own.${key}` === to)!.kind : kindOf(values);
    const orders = kind === 'date' || to === 'agreed_on' ? dateOrders(values) : [];
    return {
      title,
      to,
      label: title,
      kind,
      sample: values.slice(0, 3),
      orders,
      order: orders !== 'mixed' && orders.length === 1 ? orders[0]! : null,
    };
  });
}

/** Beside a column of phone numbers, what counts people is none. */
function withoutCounters(guesses: readonly Target[], counts: (i: number) => boolean): Target[] {
  const surely = guesses.some((to, i) => to === 'number' && !counts(i));
  return guesses.map((to, i) => (surely && to === 'number' && counts(i) ? 'skip' : to));
}

function guess(
  header: string,
  values: readonly string[],
  own: readonly { key: string; label: string }[],
): Target {
  const words = plainHeader(header);
  const content = byContent(values);
  const named = ABOUT_A_NUMBER.test(words) ? null : namedBy(words);
  const mine =
    own.find(
      ({ key, label }) => words !== '' && (plainHeader(label) === words || plainHeader(key) === words),
    ) ?? own.find(({ label }) => isShortFor(words, plainHeader(label)));
  if (mine) return `own.${mine.key}`;
  const permission = permissionColumn(words, values);
  if (permission !== null) return permission;
  if (SOMEBODY_ELSE.test(words)) return 'skip';
  // A column called “number” that holds no numbers, or “state” that holds none, is something else.
  if (named === 'number' && values.length > 0 && content !== 'number' && !values.some(looksLikeNumber))
    return content ?? 'skip';
  // Customer 7195550123 has another phone.
  if (named === null && content === 'number' && IDENTIFIER.test(words) && values.every(isBareDigits))
    return 'skip';
  // A fax takes no texts, and looks like a number.
  if (/\b(?:tele)?fax\b/.test(words)) return 'skip';
  if (
    named === null &&
    content === null &&
    SOMEBODY.test(words) &&
    values.some((value) => /\p{L}/u.test(value))
  )
    return 'full_name';
  return named ?? content ?? 'skip';
}

/** `fav planet` for `favourite planet`: each word begins the one it stands for. */
function isShortFor(words: string, label: string): boolean {
  const [short, whole] = [words.split(' '), label.split(' ')];
  return (
    words.length >= 3 &&
    short.length === whole.length &&
    short.every((word, i) => word.length >= 3 && whole[i]!.startsWith(word))
  );
}

/** Whether the first row names the columns: it holds no number, no e-mail, and words the rows below do not repeat. */
export function isHeader(first: readonly string[], rows: readonly (readonly string[])[]): boolean {
  const cells = first.map((cell) => cell.trim()).filter((cell) => cell !== '');
  if (
    cells.length === 0 ||
    cells.some((cell) => looksLikeNumber(cell) || cell.includes('@') || looksLikeDate(cell))
  )
    return false;
  if (cells.some((cell) => namedBy(plainHeader(cell)) !== null)) return true;
  return (
    rows.length > 0 &&
    new Set(cells).size === cells.length &&
    first.some((cell, i) => looksLikeNumber(rows[0]?.[i] ?? '') && !looksLikeNumber(cell))
  );
}

/** Rows above the header that are looked at: titles, a date, empty ones. */
const MOST_TITLES = 20;

/**
 * Which row names the columns, where titles may stand above it: the first that reads as a header and is as wide as the table
 * is; of two in a row (groups of columns, and the columns) the one that names more of them. -1: none does.
 */
export function findHeader(rows: readonly (readonly string[])[]): number {
  const filled = rows.map((row) => row.filter((cell) => cell.trim() !== '').length);
  const usual = [...filled].sort((a, b) => a - b)[Math.floor(filled.length / 2)] ?? 0;
  const reads = (i: number) =>
    i < rows.length && filled[i]! * 2 >= usual && isHeader(rows[i]!, rows.slice(i + 1));
  let header = rows.slice(0, MOST_TITLES).findIndex((_, i) => reads(i));
  while (header >= 0 && reads(header + 1) && names(rows[header + 1]!) > names(rows[header]!)) header += 1;
  return header;
}

/** How many columns a row names. */
const names = (row: readonly string[]): number =>
  row.filter((cell) => namedBy(plainHeader(cell)) !== null).length;

/** What a target is called, own fields by their label. */
export const targetWords = (to: string, own: readonly { key: string; label: string }[]): string =>
  TARGET_WORDS[to] ?? own.find(({ key }) => `own.${key}` === to)?.label ?? 'a field that is gone';

/** What is wrong with a mapping before anything is read, in words; null: nothing. */
export function mappingProblem(
  mapping: readonly ColumnMap[],
  guesses: readonly ColumnGuess[],
  own: readonly { key: string; label: string }[] = [],
): { field: string; message: string } | null {
  const numbers = mapping.filter(({ to }) => to === 'number').length;
  if (numbers > 1)
    return {
      field: 'number',
      message:
        'number: only one column can be the phone number. Others hold another number of theirs, or are left out.',
    };
  if (numbers === 0 && !mapping.some(({ to }) => to === 'email' || to === 'chat'))
    return {
      field: 'number',
      message: 'number: say which column holds the phone number, the e-mail, or the chat id.',
    };
  const doubled = mapping.find(
    ({ to }, i) => to !== 'new' && !MANY.has(to) && mapping.findIndex((other) => other.to === to) !== i,
  );
  if (doubled)
    return {
      field: 'mapping',
      message: `mapping: two columns go to ${targetWords(doubled.to, own)}. Leave one out.`,
    };
  for (const [i, column] of mapping.entries()) {
    const title = guesses[i]?.title ?? `Column ${i + 1}`;
    if (column.to === 'new' && (!column.label?.trim() || !column.kind || !OWN_KINDS.includes(column.kind)))
      return { field: 'mapping', message: `mapping: give the new field of “${title}” a name and a kind.` };
    const orders = guesses[i]?.orders ?? [];
    if (holdsDays(column) && !column.order && (orders === 'mixed' || orders.length === 2))
      return {
        field: 'mapping',
        message:
          orders === 'mixed'
            ? `mapping: the dates in “${title}” are mixed: some can only be day first, some only month first. Say which order holds; the others are told row by row.`
            : `mapping: are the dates in “${title}” day first or month first? Nothing in them decides it.`,
      };
  }
  return null;
}
