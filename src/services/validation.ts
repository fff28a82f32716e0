import 'reflect-metadata';
import { plainToInstance, type ClassConstructor } from 'class-transformer';
import { validate, type ValidationError } from 'class-validator';
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
export const notFound = (what: string) =>
  refuse<Refusal>({
    code: 'not-found',
    problems: [{ field: 'id', message: `There is no such ${what} here.` }],
  });

/** Reads plain data as an input class: unknown fields, null characters and wrong values are refused, all at once. */
export async function readInput<T extends object>(
  type: ClassConstructor<T>,
  data: unknown,
): Promise<Result<T, Refusal>> {
  if (typeof data !== 'object' || data === null || Array.isArray(data))
    return invalid('body', 'body: send a JSON object.');
  const dirty = findNull(data, '');
  if (dirty) return invalid(dirty, `${dirty}: holds a null character, which no text can. Remove it.`);
  const input = plainToInstance(type, data);
  const errors = await validate(input, {
    whitelist: true,
    forbidNonWhitelisted: true,
    forbidUnknownValues: true,
  });
  return errors.length === 0
    ? ok(input)
    : refuse({ code: 'invalid', problems: errors.flatMap((error) => problemsOf(error, '')) });
}

function problemsOf(error: ValidationError, path: string): FieldProblem[] {
  const field = path ? `${path}.${error.property}` : error.property;
  const own = Object.entries(error.constraints ?? {}).map(([rule, message]) => ({
    field,
    message:
      rule === 'whitelistValidation'
        ? `${field}: there is no such field. Check its spelling or leave it out.`
        : `${field}: ${withoutName(message, error.property)}`,
  }));
  return [...own.slice(0, 1), ...(error.children ?? []).flatMap((child) => problemsOf(child, field))];
}

const withoutName = (message: string, name: string): string =>
  message.startsWith(`${name} `) ? message.slice(name.length + 1) : message;

/** The path of the first string (or key) with a null character, or null. */
function findNull(value: unknown, path: string): string | null {
  if (typeof value === 'string') return value.includes('\u0000') ? path || 'body' : null;
  if (typeof value !== 'object' || value === null) return null;
  for (const [key, inner] of Object.entries(value)) {
    const found = key.includes('\u0000') ? 'body' : findNull(inner, path ? `${path}.${key}` : key);
    if (found) return found;
  }
  return null;
}

/** The transformer's record of nested classes, which JSON Schemas are made from. */
export { defaultMetadataStorage } from 'class-transformer/cjs/storage.js';
