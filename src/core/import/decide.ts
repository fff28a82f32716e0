import { sameValue } from '../shared/json';
import type { ConsentState } from '../consent/ledger';
import type { OwnValue, OwnValues } from '../people/values';
import { isAnotherName } from './names';
import type { Permission } from './permission';
import type { RowPerson } from './row';

/** Somebody already here, as far as an import asks. */
export interface KnownPerson {
  id: string;
  firstName: string | null;
  lastName: string | null;
  email: string | null;
  region: string | null;
  language: string | null;
  postalCode: string | null;
  zone: string | null;
  stageId: string | null;
  ownerId: string | null;
  fields: OwnValues;
  /** Left the workspace altogether. */
  stopped: boolean;
  /** Toward the program of the import; `none` without one. */
  consent: ConsentState;
  /** Asked to be erased: only their own act brings them back. */
  erased: boolean;
  /** Several people have this e-mail address or chat id: nobody knows which of them is meant. */
  shared: boolean;
  /** Addresses of theirs besides the preferred ones. */
  further: readonly string[];
}

/**
 * What becomes of a row. `another-name`: whoever has its number goes by a wholly different name, and it is asked
 * whether they are meant. `left`: the file says that who is here left, or wants no texts; that counts, and nothing else.
 */
export type Verdict =
  | 'add'
  | 'update'
  | 'same'
  | 'invalid'
  | 'duplicate'
  | 'left-alone'
  | 'opted-out'
  | 'another-name'
  | 'left';

/** What an import does to who is here already: leaves them, fills what is empty, or changes what differs. */
export type OnKnown = 'leave' | 'fill' | 'change';

/** Of a number whose owner goes by another name: it is asked, the row is about them all the same, or it is not. */
export type OtherName = 'ask' | 'take' | 'leave';

/** Field by field: what stands, and what will. */
export type Changes = Record<string, [before: OwnValue | null, after: OwnValue]>;

export interface Decision {
  verdict: Exclude<Verdict, 'invalid' | 'duplicate'>;
  changes: Changes;
}

const PLAIN = [
  ['first_name', 'firstName'],
  ['last_name', 'lastName'],
  ['email', 'email'],
  ['region', 'region'],
  ['postal_code', 'postalCode'],
  ['zone', 'zone'],
  ['language', 'language'],
  ['stage_id', 'stageId'],
  ['owner_id', 'ownerId'],
] as const;

/**
 * What becomes of a row. Who opted out is not touched at all: an import never turns anybody back on and never
 * weakens what they said.
 */
export function decideRow(
  row: RowPerson,
  known: KnownPerson | null,
  { onKnown, otherName }: { onKnown: OnKnown; otherName: OtherName },
): Decision {
  if (!known) return { verdict: 'add', changes: {} };
  if (known.erased || known.stopped) return { verdict: 'opted-out', changes: {} };
  // Whatever else is done to who is here, and whoever the number belongs to: it wants no texts.
  if (row.permission === 'left' && !known.shared) return { verdict: 'left', changes: {} };
  if (known.consent === 'out') return { verdict: 'opted-out', changes: {} };
  if (onKnown === 'leave' || known.shared) return { verdict: 'left-alone', changes: {} };
  const changes = changesOf(row, known, onKnown === 'fill');
  const another =
    otherName !== 'take' &&
    isAnotherName(
      { first: row.first_name ?? null, last: row.last_name ?? null },
      { first: known.firstName, last: known.lastName },
    );
  if (another)
    return otherName === 'ask'
      ? { verdict: 'another-name', changes }
      : { verdict: 'left-alone', changes: {} };
  return { verdict: Object.keys(changes).length > 0 ? 'update' : 'same', changes };
}

/** What the row says otherwise. `onlyEmpty`: and where nothing stands. */
export function changesOf(row: RowPerson, known: KnownPerson, onlyEmpty = false): Changes {
  const changes: Changes = {};
  const put = (name: string, before: OwnValue | null, after: OwnValue) => {
    if (!onlyEmpty || before === null) changes[name] = [before, after];
  };
  for (const [name, property] of PLAIN) {
    const value = row[name];
    if (value !== undefined && value !== known[property]) put(name, known[property], value);
  }
  for (const { kind, value } of row.further)
    if (!known.further.includes(value) && (kind === 'chat' || value !== row.number) && value !== known.email)
      changes[`further.${kind === 'chat' ? 'chat:' : ''}${value}`] = [null, value];
  for (const [key, value] of Object.entries(row.fields)) {
    const before = known.fields[key] ?? null;
    if (!sameValue(before, value)) put(`own.${key}`, before, value);
  }
  return changes;
}

/** Whether what is attested for a file holds for a row: not where the row itself says otherwise, or does not say it. */
export const bringsConsent = (permission: Permission | undefined): boolean =>
  permission === undefined || permission === 'agreed';

/** What the validation file says of a row. */
export type Finding =
  | 'textable'
  | 'e-mail only'
  | 'chat only'
  | 'landline'
  | 'invalid'
  | 'duplicate in file'
  | 'already there'
  | 'another name'
  | 'opted out'
  | 'no consent';

export function findingOf(
  verdict: Verdict,
  {
    lineType,
    attested,
    agreed,
    permission,
    number,
    email,
  }: {
    lineType: string | null;
    /** Consent is attested for the file. */
    attested: boolean;
    /** They agreed before. */
    agreed: boolean;
    permission: Permission | undefined;
    number: string | null;
    email: string | null;
  },
): Finding {
  switch (verdict) {
    case 'invalid':
      return 'invalid';
    case 'duplicate':
      return 'duplicate in file';
    case 'opted-out':
    case 'left':
      return 'opted out';
    case 'left-alone':
      return 'already there';
    case 'another-name':
      return 'another name';
    default:
      if (permission === 'left') return 'opted out';
      if (number === null) return email === null ? 'chat only' : 'e-mail only';
      return lineType === 'landline'
        ? 'landline'
        : agreed || (attested && bringsConsent(permission))
          ? 'textable'
          : verdict === 'add'
            ? 'no consent'
            : 'already there';
  }
}
