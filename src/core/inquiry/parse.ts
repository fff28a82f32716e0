import { clean } from '../people/values';
import { ok, refuse, type Result } from '../shared/result';
import {
  LONGEST_POINTER,
  MOST_KINDS,
  MOST_POINTERS,
  MOST_RULES,
  PLAIN_TARGETS,
  type InquiryTarget,
  type Mapping,
  type MappingRule,
} from './mapping';

const LONGEST_KIND = 60;
const LONGEST_WORD = 80;
const MOST_WORDS = 40;

/** Reads a mapping as it comes from a page or the API. A problem names the place and what would be right. */
export function parseMapping(data: unknown, own: readonly string[]): Result<Mapping, string> {
  const given = data as Partial<Record<keyof Mapping, unknown>> | null;
  if (
    typeof given !== 'object' ||
    given === null ||
    !Array.isArray(given.rules) ||
    !Array.isArray(given.kinds)
  )
    return refuse('must be { rules: […], kinds: […], otherKind: "…" }.');
  if (given.rules.length > MOST_RULES) return refuse(`rules: must be at most ${MOST_RULES}.`);
  if (given.kinds.length > MOST_KINDS) return refuse(`kinds: must be at most ${MOST_KINDS}.`);
  const rules: MappingRule[] = [];
  for (const [i, one] of (given.rules as unknown[]).entries()) {
    const rule = readRule(one, own);
    if (!rule.ok) return refuse(`rules.${i}: ${rule.reason}`);
    if (rules.some(({ to }) => to === rule.value.to && to !== 'further'))
      return refuse(`rules.${i}: “${rule.value.to}” stands twice. Put both places into one rule.`);
    rules.push(rule.value);
  }
  const kinds: Mapping['kinds'] = [];
  for (const [i, one] of (given.kinds as unknown[]).entries()) {
    const kind = readKind(one);
    if (!kind) return refuse(`kinds.${i}: needs a name of at most ${LONGEST_KIND} characters, and words.`);
    kinds.push(kind);
  }
  const otherKind = name(given.otherKind);
  return otherKind === null
    ? refuse('otherKind: must say what kind the others are, such as “inquiry”.')
    : ok({ rules, kinds, otherKind });
}

const name = (value: unknown): string | null => {
  const text = typeof value === 'string' ? clean(value) : '';
  return text !== '' && text.length <= LONGEST_KIND ? text : null;
};

function readRule(data: unknown, own: readonly string[]): Result<MappingRule, string> {
  const { to, from, join, order, otherwise } = (data ?? {}) as Partial<Record<keyof MappingRule, unknown>>;
  if (typeof to !== 'string' || !isTarget(to, own)) return refuse('“to” names no field that is here.');
  if (!Array.isArray(from) || from.length > MOST_POINTERS || !from.every(isPointer))
    return refuse(`“from” must be at most ${MOST_POINTERS} JSON Pointers, such as "/contact/phone".`);
  const text = (value: unknown, most: number) =>
    typeof value === 'string' ? clean(value).slice(0, most) : '';
  const instead = text(otherwise, 200);
  if (from.length === 0 && instead === '') return refuse('needs a place, or a value to stand there always.');
  return ok({
    ...{ to, from: [...from] },
    ...(typeof join === 'string' && join !== ' ' ? { join: join.slice(0, 5) } : {}),
    ...(order === 'day-month' || order === 'month-day' ? { order } : {}),
    ...(instead === '' ? {} : { otherwise: instead }),
  });
}

const isTarget = (to: string, own: readonly string[]): to is InquiryTarget =>
  (PLAIN_TARGETS as readonly string[]).includes(to) || own.some((key) => to === `own.${key}`);

const isPointer = (value: unknown): value is string =>
  typeof value === 'string' &&
  value.startsWith('/') &&
  value.length <= LONGEST_POINTER &&
  clean(value) === value;

function readKind(data: unknown): Mapping['kinds'][number] | null {
  const { kind, words } = (data ?? {}) as { kind?: unknown; words?: unknown };
  const called = name(kind);
  if (called === null || !Array.isArray(words) || words.length > MOST_WORDS) return null;
  const read = words.map((word) => (typeof word === 'string' ? clean(word) : ''));
  return read.every((word) => word.length <= LONGEST_WORD)
    ? { kind: called, words: read.filter((word) => word !== '') }
    : null;
}
