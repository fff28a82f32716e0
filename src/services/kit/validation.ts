import 'reflect-metadata';
import { plainToInstance, type ClassConstructor } from 'class-transformer';
import { validate, type ValidationError } from 'class-validator';
import { cleanText } from '@/core/shared/clean-text';
import { ok, refuse, type Result } from '@/core/shared/result';

export * from 'class-validator';
export { Type } from 'class-transformer';

/** A value that was refused: which field, and a sentence that says what would be right. */
export interface FieldProblem {
  field: string;
  message: string;
}

export type Refusal =
  | { code: 'invalid'; problems: FieldProblem[] }
  | { code: 'conflict'; problems: FieldProblem[] }
  | { code: 'not-found'; problems: FieldProblem[] }
  | { code: 'forbidden'; problems: FieldProblem[] };

export const invalid = (field: string, message: string) =>
  refuse<Refusal>({ code: 'invalid', problems: [{ field, message }] });
export const conflict = (field: string, message: string) =>
  refuse<Refusal>({ code: 'conflict', problems: [{ field, message }] });
/** Somebody saved since the row was read: nothing is written over a change that was not seen. */
export const overtaken = () =>
  conflict(
    'stamp',
    'stamp: somebody saved a change since you opened this. Look at theirs, and change it again.',
  );
export const notFound = (what: string) =>
  refuse<Refusal>({
    code: 'not-found',
    problems: [{ field: 'id', message: `There is no such ${what} here.` }],
  });

/**
 * Reads plain data as an input class: unknown fields, text that no database can hold and wrong values are refused, all
 * at once. Other control characters are taken out, so that what is answered is what is stored.
 */
export async function readInput<T extends object>(
  type: ClassConstructor<T>,
  data: unknown,
): Promise<Result<T, Refusal>> {
  if (!isPlain(data)) return invalid('body', 'body: send a JSON object.');
  const dirty = findUnfit(data, '');
  if (dirty) return invalid(dirty.field, `${dirty.field}: ${dirty.message}`);
  const input = plainToInstance(type, cleaned(data) as object);
  const errors = await validate(input, {
    whitelist: true,
    forbidNonWhitelisted: true,
    forbidUnknownValues: true,
  });
  return errors.length === 0
    ? ok(input)
    : refuse({
        code: 'invalid',
        problems: errors.flatMap((error) => problemsOf(error, '')).slice(0, MOST_PROBLEMS),
      });
}

const MOST_PROBLEMS = 50;

const isPlain = (value: unknown): value is object =>
  typeof value === 'object' && value !== null && !Array.isArray(value);

function problemsOf(error: ValidationError, path: string): FieldProblem[] {
  const field = path ? `${path}.${error.property}` : error.property;
  const own = Object.entries(error.constraints ?? {}).map(([rule, message]) => ({
    field,
    message:
      rule === 'whitelistValidation'
        ? `${field}: there is no such field. Check its spelling or leave it out.`
        : `${field}: ${withoutName(message, error.property)}`,
  }));
  // Decorators are asked from the lowest up. The highest that objects says it best: of what is not there, that it is missing and
  // not that it is too long.
  return [...own.slice(-1), ...(error.children ?? []).flatMap((child) => problemsOf(child, field))];
}

const withoutName = (message: string, name: string): string =>
  message.startsWith(`${name} `) ? message.slice(name.length + 1) : message;

interface Unfit {
  field: string;
  message: string;
}

const NULL = 'holds a null character, which no text can. Remove it.';
const HALF = 'holds half of a character (a lone surrogate). Send whole characters.';
const NESTED = 'holds a list within a list. Send a plain list.';
const NAME = 'this name cannot be used for a field. Choose another.';
/** Names that mean something else to JavaScript than to who sends them. */
const NOT_A_NAME = new Set(['__proto__', 'constructor', 'prototype']);

/** The first text or name that cannot be taken as it is; null: all can. */
function findUnfit(value: unknown, path: string): Unfit | null {
  if (typeof value === 'string') {
    if (value.includes('\u0000')) return { field: path || 'body', message: NULL };
    return value.isWellFormed() ? null : { field: path || 'body', message: HALF };
  }
  if (typeof value !== 'object' || value === null) return null;
  const list = Array.isArray(value) ? listProblem(value) : null;
  if (list) return { field: path || 'body', message: list };
  for (const [key, inner] of Object.entries(value)) {
    if (NOT_A_NAME.has(key)) return { field: path ? `${path}.${key}` : key, message: NAME };
    const found = findUnfit(key, 'body') ?? findUnfit(inner, path ? `${path}.${key}` : key);
    if (found) return found;
  }
  return null;
}

/** Lists are counted before each of their values is looked at: that alone could keep the process busy. */
const MOST_VALUES = 10_000;
const MOST_OBJECTS = 500;

function listProblem(list: readonly unknown[]): string | null {
  if (list.length > MOST_VALUES) return `holds more than ${MOST_VALUES} values. Send them in parts.`;
  if (list.some(Array.isArray)) return NESTED;
  const objects = list.length > MOST_OBJECTS && list.some((one) => typeof one === 'object' && one !== null);
  return objects ? `holds more than ${MOST_OBJECTS} objects. Send them in parts.` : null;
}

/** The same data with well-formed text throughout; a field that is null is one that is left out. */
function cleaned(value: unknown): unknown {
  if (typeof value === 'string') return cleanText(value);
  if (Array.isArray(value)) return value.map(cleaned);
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value)
      .filter(([, inner]) => inner !== null)
      .map(([key, inner]) => [cleanText(key), cleaned(inner)]),
  );
}

/** The transformer's record of nested classes, which JSON Schemas are made from. */
export { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
