import { CHAT_ID_WORDS, parseChatId } from '../chat/chat-id';
import { isLanguage } from '../chat/template';
import { cutText } from '../shared/clean-text';
import {
  clean,
  readDate,
  readOwnValue,
  VALUE_WORDS,
  type DateOrder,
  type OwnField,
  type OwnValues,
} from '../people/values';
import { parseEmail, type EmailAddress } from '../people/address';
import type { PhoneNumber } from '../phone/number';
import { ok, refuse, type Result } from '../shared/result';
import type { ColumnMap } from './columns';
import { countedDay } from './counted-day';
import { readNameCell } from './name-cell';
import { cellWords, readFileNumber, type CellRefusal } from './number-cell';
import { postalCode, regionOf, zoneOf } from './place-cell';
import {
  leastOf,
  mayMeanNoTexts,
  saysLeft,
  PERMISSION_WORDS,
  readPermission,
  tagSaysLeft,
  type Permission,
} from './permission';

/** What a row of a file says of somebody. Values that are empty are left out: an import never empties a field. */
export interface RowPerson {
  /** Null: they are known by their e-mail address, or by their chat id alone. */
  number: PhoneNumber | null;
  first_name?: string;
  last_name?: string;
  email?: EmailAddress;
  /** Further numbers and e-mail addresses of theirs. */
  further: FurtherAddress[];
  region?: string;
  postal_code?: string;
  zone?: string;
  language?: string;
  stage_id?: string;
  owner_id?: string;
  fields: OwnValues;
  tags: string[];
  /** Lists they go on, by name; left out: none. */
  lists?: string[];
  /** What columns that say who may be texted say of them; left out: there is no such column, or it says nothing. */
  permission?: Permission;
  /** The day on which they agreed, where a column says so. */
  agreed_on?: string;
  /** What was mended or left out, in words. */
  told: string[];
}

export interface FurtherAddress {
  kind: 'number' | 'email' | 'chat';
  value: string;
}

/** A number is refused with a sentence; the row is not imported. */
export type RowRefusal = string;

const MOST_TAGS = 20;
const MOST_FURTHER = 10;

/**
 * Reads one row as it was mapped. A value that is not what its field holds is left out and told; only a number
 * nobody can have leaves the row out, and a row with neither number, e-mail address nor chat id.
 */
export function readRow(
  cells: readonly string[],
  mapping: readonly ColumnMap[],
  own: ReadonlyMap<string, OwnField>,
  country: string,
  named: NamedThings = NOTHING_NAMED,
): Result<RowPerson, RowRefusal> {
  const at = mapping.findIndex(({ to }) => to === 'number');
  const { number, others } = numbersIn(cells[at] ?? '', country);
  const otherwise = mapping.some(
    ({ to }, i) => (to === 'email' || to === 'chat' || to === 'further') && clean(cells[i] ?? '') !== '',
  );
  // Who is known otherwise does without a number that is empty, or theirs no more.
  if (!number.ok && !(otherwise && WITHOUT.has(number.reason))) return refuse(cellWords(number.reason));
  const person: RowPerson = {
    number: number.ok ? number.value.number : null,
    further: [],
    fields: {},
    tags: [],
    told: number.ok
      ? [...number.value.told]
      : number.reason === 'number-empty'
        ? []
        : [cellWords(number.reason)],
  };
  const names = mapping.flatMap(({ to }, i) => (NAMES.has(to) ? [cells[i] ?? ''] : [])).join(' ');
  const said: (Permission | null)[] = [];
  const counted: string[] = [];
  mapping.forEach((column, i) => {
    const written = clean(cells[i] ?? '');
    const day = dayCounted(column, written, own);
    if (day !== null) counted.push(`“${written}” is ${day}, as programs count days`);
    const text = day ?? written;
    // Here nothing says something too.
    if (column.to === 'agreed' || column.to === 'left') said.push(readPermission(column.to, text));
    else if (column.to === 'agreed_on') said.push(putDay(person, text, column.order ?? null, named.today));
    else if (text !== '') {
      put(person, column, text, { own, country, named, names });
      if ((NAMES.has(column.to) || column.to === 'number') && saysLeft(text)) said.push('left');
      else if (mayMeanNoTexts(text)) {
        person.told.push(`“${short(text)}” may mean that they want no texts`);
        said.push('unclear');
      }
    }
  });
  for (const one of others) putFurther(person, one, country);
  if ([...person.tags, ...(person.lists ?? [])].some(tagSaysLeft)) said.push('left');
  if (person.number === null) takeOther(person);
  putPermission(person, leastOf(said));
  if (addressOf(person) === null) return refuse(person.told[0] ?? cellWords('number-empty'));
  person.told.push(...counted);
  return ok(person);
}

/** Why somebody may have no number, who is known otherwise. */
const WITHOUT: ReadonlySet<CellRefusal> = new Set(['number-empty', 'number-given-up']);

/** What a value is read beside. */
interface Beside {
  own: ReadonlyMap<string, OwnField>;
  country: string;
  named: NamedThings;
  /** Every name of the row. */
  names: string;
}

/** Columns of names. People mark in them, and beside numbers, who wants no texts. */
const NAMES: ReadonlySet<string> = new Set(['full_name', 'first_name', 'last_name']);

/** A day says that they agreed, and when; one that is still to come says nothing. */
function putDay(
  person: RowPerson,
  text: string,
  order: DateOrder | null,
  today = '9999-12-31',
): Permission | null {
  const day = readDate(text, order);
  if (!day.ok) return readPermission('agreed', text);
  if (day.value > today) {
    person.told.push(`“${short(text)}” is still to come, and no day on which they agreed`);
    return 'unclear';
  }
  person.agreed_on = day.value;
  return 'agreed';
}

/** A cell that stands for a day, where a program counted it. */
function dayCounted({ to }: ColumnMap, text: string, own: ReadonlyMap<string, OwnField>): string | null {
  const isOfDays = to === 'agreed_on' || own.get(to.slice('own.'.length))?.kind === 'date';
  return isOfDays ? countedDay(text) : null;
}

function putPermission(person: RowPerson, permission: Permission | null): void {
  if (permission === null) return;
  person.permission = permission;
  if (permission !== 'agreed') person.told.push(PERMISSION_WORDS[permission]);
}

/** Who has no number where it should stand has the one of another column, or the one a chat network knows them by. */
function takeOther(person: RowPerson): void {
  const other = person.further.find(({ kind }) => kind === 'number');
  const dialled = other ? undefined : person.further.find(isDialled);
  if (other) {
    person.further = person.further.filter((one) => one !== other);
    person.told.push('the number stands in another column, and is theirs');
  }
  if (dialled) person.told.push('the chat id is a phone number, and is theirs');
  person.number = ((other ?? dialled)?.value as PhoneNumber | undefined) ?? null;
}

/** Of a network that knows people by their numbers. */
const isDialled = ({ kind, value }: FurtherAddress): boolean => kind === 'chat' && /^\+\d+$/.test(value);

/** By what somebody in a file is known: their number, else their e-mail address, else their chat id; null: by nothing. */
export const addressOf = (person: Pick<RowPerson, 'number' | 'email' | 'further'>): string | null =>
  person.number ?? person.email ?? chatIdOf(person) ?? null;

export const chatIdOf = ({ further }: Pick<RowPerson, 'further'>): string | undefined =>
  further.find(({ kind }) => kind === 'chat')?.value;

function put(
  person: RowPerson,
  column: ColumnMap,
  text: string,
  { own, country, named, names }: Beside,
): void {
  const { to } = column;
  switch (to) {
    case 'number':
    case 'skip':
    case 'new':
      return;
    case 'first_name':
    case 'last_name':
    case 'full_name': {
      const { first, last, told } = readNameCell(text, to, names);
      if (first !== null) person.first_name = first;
      if (last !== null) person.last_name = last;
      person.told.push(...told);
      return;
    }
    case 'email':
      return putEmail(person, text);
    case 'chat': {
      const id = parseChatId(text, country);
      if (id.ok) person.further.push({ kind: 'chat', value: id.value });
      else person.told.push(`“${short(text)}” ${CHAT_ID_WORDS.replace(/[:.].*$/, '')} and was left out`);
      return;
    }
    case 'language': {
      const language = languageTag(text);
      if (language !== null) person.language = language;
      else person.told.push(`“${short(text)}” is no language, such as en or es, and was left out`);
      return;
    }
    case 'further':
      for (const one of severalIn(text).slice(0, MOST_FURTHER)) putFurther(person, one, country);
      return;
    case 'region': {
      const region = regionOf(text);
      if (region) person.region = region;
      else person.told.push(`“${short(text)}” is no state and was left out`);
      return;
    }
    case 'postal_code': {
      const code = postalCode(text);
      if (code) person.postal_code = code;
      else person.told.push(`“${short(text)}” is no postal code and was left out`);
      return;
    }
    case 'zone': {
      const zone = zoneOf(text);
      if (zone) person.zone = zone;
      else person.told.push(`“${short(text)}” is no time zone, such as America/Denver, and was left out`);
      return;
    }
    case 'stage':
      return byName(person, 'stage_id', named.stages, text, 'no stage of yours');
    case 'owner':
      return byName(person, 'owner_id', named.owners, text, 'no teammate of yours');
    case 'tags':
      person.tags = labelsIn(text);
      return;
    case 'lists':
      person.lists = labelsIn(text);
      return;
    default: {
      const field = own.get(to.slice('own.'.length));
      if (!field) return;
      const value = readOwnValue(field, text, column.order ?? null);
      if (value.ok) {
        if (value.value !== null) person.fields[field.key] = value.value;
      } else
        person.told.push(
          `${field.label}: “${short(text)}” ${VALUE_WORDS[value.reason].split('.')[0]!} and was left out`,
        );
    }
  }
}

/** What rows call by name: each name in its plainest dress, with the id of what it is. */
export interface NamedThings {
  stages: ReadonlyMap<string, string>;
  /** Teammates, by name and by e-mail address. */
  owners: ReadonlyMap<string, string>;
  /** The day on which it is read. */
  today?: string;
}

const NOTHING_NAMED: NamedThings = { stages: new Map(), owners: new Map() };

/** As `NamedThings` has its names. */
export const plainName = (name: string): string => clean(name).toLowerCase();

function byName(
  person: RowPerson,
  to: 'stage_id' | 'owner_id',
  things: ReadonlyMap<string, string>,
  text: string,
  otherwise: string,
): void {
  const id = things.get(plainName(text));
  if (id) person[to] = id;
  else person.told.push(`“${short(text)}” is ${otherwise} and was left out`);
}

const labelsIn = (text: string): string[] =>
  [
    ...new Set(
      text
        .split(/[;,|]/)
        .map(clean)
        .filter((label) => label !== '' && label.length <= 60),
    ),
  ].slice(0, MOST_TAGS);

/** Several addresses in one cell, as other programs put them there: one behind the other, with a mark or a word between. */
const severalIn = (text: string): string[] =>
  text
    .split(/[;,|\r\n]+|:{2,}|\s\/\s|\s(?:or|and|&)\s/i)
    .map(clean)
    .filter((one) => one !== '');

/** The number in a cell, and what else stands in it where that is several: the first that can be read is theirs. */
function numbersIn(
  cell: string,
  country: string,
): { number: ReturnType<typeof readFileNumber>; others: string[] } {
  const number = readFileNumber(cell, country);
  const parts = number.ok ? [] : severalIn(cell).slice(0, MOST_FURTHER);
  const read = parts.map((part) => readFileNumber(part, country));
  const at = read.findIndex((one) => one.ok);
  const found = read[at];
  if (parts.length < 2 || !found?.ok) return { number, others: [] };
  const told = [...found.value.told, 'several numbers stood in one place: the first is theirs'];
  return { number: ok({ ...found.value, told }), others: parts.filter((_, i) => i !== at) };
}

/** `pt_br` as `pt-BR` (BCP 47); null: no language. */
function languageTag(text: string): string | null {
  try {
    const [tag = ''] = Intl.getCanonicalLocales(text.replace('_', '-'));
    return isLanguage(tag) ? tag : null;
  } catch {
    return null;
  }
}

/** Longer than any address with a name before it. */
const LONGEST_PART = 500;

/** `Ana <ana@example.org>`, `ana@example.org (work).`, `'ana@example.org'` */
const bareAddress = (text: string): string =>
  text.length > LONGEST_PART
    ? text
    : (/<([^<>\s]+@[^<>\s]+)>/.exec(text)?.[1] ?? text)
        .replace(/\s*\([^()]*\)[.,\s]*$/, '')
        .replace(/^["'’([<]+|["'’)\]>.,]+$/g, '')
        .trim();

/** The address in a cell; where several stand there, the first is theirs and the others are further ones. */
function putEmail(person: RowPerson, text: string): void {
  const parts = severalIn(text)
    .filter((part) => part.includes('@'))
    .slice(0, MOST_FURTHER);
  const read = parts.map((part) => parseEmail(bareAddress(part)));
  const found = read.flatMap((address) => (address.ok ? [address.value] : []));
  const [first, ...others] = found;
  if (first) person.email = first;
  person.further.push(...others.map((value) => ({ kind: 'email' as const, value })));
  if (others.length > 0) person.told.push('several e-mail addresses stood in one place: the first is theirs');
  const unread = parts.filter((_, i) => !read[i]!.ok);
  for (const one of first ? unread : [text])
    person.told.push(`“${short(one)}” is no e-mail address and was left out`);
}

/** What is neither a number nor an e-mail address is left out; what the person has already is no further one. */
function putFurther(person: RowPerson, text: string, country: string): void {
  if (saysLeft(text)) return void person.told.push(`“${short(text)}” is not to be texted and was left out`);
  const address = text.includes('@') ? parseEmail(bareAddress(text)) : null;
  const number = address ? null : readFileNumber(text, country);
  if (address?.ok) person.further.push({ kind: 'email', value: address.value });
  else if (number?.ok) person.further.push({ kind: 'number', value: number.value.number });
  else person.told.push(`“${short(text)}” is neither a number nor an e-mail address and was left out`);
}

const short = (text: string): string => (text.length > 40 ? `${cutText(text, 40)}…` : text);
