import { showOwnValue, type OwnField } from '../people/values';
import { displayNumber } from '../phone/number';
import type { Result } from '../shared/result';
import type { InquiryRead } from './read-inquiry';

/** What was read of something that came, as a page shows it. */
export interface Tried {
  /** Null: it can be read. */
  problem: string | null;
  rows: [what: string, value: string][];
  /** What was left out. */
  told: string[];
}

export function readRowsOf(read: Result<InquiryRead, string>, own: ReadonlyMap<string, OwnField>): Tried {
  if (!read.ok) return { problem: read.reason, rows: [], told: [] };
  const { person, kind, words, agreed, senderId } = read.value;
  const rows: [string, string | null | undefined][] = [
    ['name', [person.first_name, person.last_name].filter(Boolean).join(' ')],
    ['number', person.number && displayNumber(person.number)],
    ['e-mail', person.email],
    ['kind', kind],
    ['wrote', words],
    ['postal code', person.postal_code],
    ['state', person.region],
    ...Object.entries(person.fields).map(([key, value]): [string, string] => [
      own.get(key)?.label ?? key,
      showOwnValue(value),
    ]),
    ['agreed to texts', agreed ? 'yes' : null],
    ['sender’s id', senderId],
  ];
  return {
    problem: null,
    rows: rows.filter((row): row is [string, string] => Boolean(row[1])),
    told: person.told,
  };
}
