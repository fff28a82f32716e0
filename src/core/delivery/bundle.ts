import type { Day } from '../audience/days';
import { parseJson } from '../shared/json';

export const BUNDLE_FORMAT = 'steady-wren/messages/1';

/** One step in the history of a message; `at` is ISO 8601 in UTC. */
export interface BundledEvent {
  event: string;
  detail: string | null;
  at: string;
}

/** A message that was put away: a line of JSON in a compressed file. It can be read without the application. */
export interface BundledMessage {
  id: string;
  address: string;
  channel: string;
  kind: string;
  program: string;
  send: string | null;
  state: string;
  /** When it was made and when it left, ISO 8601 in UTC; null: it never left. */
  made: string;
  left: string | null;
  words: string;
  /** What clearance found when it left; null: it is from before that was kept. */
  clearance: unknown;
  events: BundledEvent[];
}

/** What is left of a message whose person was erased: that there was one. */
interface ErasedMessage {
  id: string;
  erased: true;
}

const isErased = (line: BundledMessage | ErasedMessage): line is ErasedMessage => 'erased' in line;

/** Messages as lines of JSON under a first one that names the format. */
export const writeBundle = (messages: readonly (BundledMessage | ErasedMessage)[]): string =>
  [{ format: BUNDLE_FORMAT }, ...messages].map((line) => `${JSON.stringify(line)}\n`).join('');

/** The lines of a bundle in their order; null: it is none. */
function linesOf(text: string): (BundledMessage | ErasedMessage)[] | null {
  const lines = text
    .split('\n')
    .filter(Boolean)
    .map((line) => parseJson(line));
  const [first, ...rest] = lines.map((line) => (line.ok ? (line.value as object | null) : null));
  if ((first as { format?: string } | null | undefined)?.format !== BUNDLE_FORMAT) return null;
  return rest.includes(null) ? null : (rest as (BundledMessage | ErasedMessage)[]);
}

/** The messages of a bundle by their ids, without those that were erased; null: it is no bundle. */
export function readBundle(text: string): Map<string, BundledMessage> | null {
  const lines = linesOf(text);
  if (lines === null) return null;
  return new Map(lines.flatMap((line) => (isErased(line) ? [] : [[line.id, line] as const])));
}

/** The same bundle without what some of its messages said and whom they went to; null: it is no bundle. */
export function eraseFrom(text: string, ids: ReadonlySet<string>): string | null {
  const lines = linesOf(text);
  return lines && writeBundle(lines.map((line) => (ids.has(line.id) ? { id: line.id, erased: true } : line)));
}

/** So many whole months are kept as they are, of a choice; what is older is put away. */
export const PUT_AWAY_CHOICES = [3, 6, 12, 18, 24, 36] as const;

/** The first day of the first month that stays as it is: months before it are put away. In UTC, as ids count time. */
export function firstKept(now: Date, months: number): Day {
  return new Date(Date.UTC(now.getUTCFullYear(), now.getUTCMonth() - months, 1)).toISOString().slice(0, 10);
}

/** The first day of the month of an instant, in UTC. */
export const monthOf = (at: Date): Day => `${at.toISOString().slice(0, 7)}-01`;
