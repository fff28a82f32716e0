import { mkdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { dirname } from 'node:path';

/** What the bench still knows after a restart. Null, or none that can be read: nothing. */
export function kept<T extends object>(file: string | null): Partial<T> {
  if (!file) return {};
  try {
    return (JSON.parse(readFileSync(file, 'utf8')) ?? {}) as Partial<T>;
  } catch {
    return {};
  }
}

/** Whole or not at all: a bench that is killed while it writes still knows what it knew. */
export function keep(file: string | null, value: object): void {
  if (!file) return;
  mkdirSync(dirname(file), { recursive: true });
  writeFileSync(`${file}.new`, JSON.stringify(value));
  renameSync(`${file}.new`, file);
}
