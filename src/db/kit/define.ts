import { BigIntType, EntitySchema, JsonType, TextType, type EntitySchemaMetadata } from '@mikro-orm/core';
import { cleanText } from '@/core/shared/clean-text';
import { toJson } from './json';

type Columns<T> = { [K in keyof T & string]: Column };

/** Text and JSON that go into the database hold nothing it cannot: see `core/shared/clean-text.ts`. */
class CleanTextType extends TextType {
  override convertToDatabaseValue(value: unknown): string {
    return (typeof value === 'string' ? cleanText(value) : value) as string;
  }
}

class CleanJsonType extends JsonType {
  override convertToDatabaseValue(value: unknown): string | null {
    return value === null || value === undefined ? null : toJson(value);
  }
}

interface Column {
  type:
    | 'text'
    | 'integer'
    | 'boolean'
    | 'Date'
    | 'double'
    | 'array'
    | 'blob'
    | 'string'
    | BigIntType<'number'>
    | CleanTextType
    | CleanJsonType;
  primary?: true;
  nullable?: true;
  columnType?: 'date';
}

export const text = { type: new CleanTextType() } as const;
export const key = { type: 'text', primary: true } as const;
export const integer = { type: 'integer' } as const;
/** A bigint that fits into a number, as everything counted here does. */
export const big = { type: new BigIntType('number') } as const;
export const double = { type: 'double' } as const;
export const boolean = { type: 'boolean' } as const;
export const texts = { type: 'array' } as const;
export const instant = { type: 'Date' } as const;
/** A calendar day, `2026-11-24`. */
export const day = { type: 'string', columnType: 'date' } as const;
export const bytes = { type: 'blob' } as const;
export const json = { type: new CleanJsonType() } as const;
/** Part of the key, where that is no text. */
export const keyOf = <C extends Column>(column: C) => ({ ...column, primary: true }) as const;
export const maybe = <C extends Column>(column: C) => ({ ...column, nullable: true }) as const;

/**
 * An entity by name and columns, without a class: Next loads server modules more than once and shortens
 * class names. Columns are `snake_case` of the property. An entity with `workspaceId` always carries the
 * workspace filter, which throws when a session has no workspace set.
 */
export function entity<T extends object>(
  name: string,
  tableName: string,
  columns: Columns<T>,
): EntitySchema<T> {
  const properties = Object.fromEntries(
    Object.entries<Column>(columns).map(([property, column]) => [
      property,
      { fieldName: snake(property), ...column },
    ]),
  );
  const filters = 'workspaceId' in columns ? { workspace: WORKSPACE_FILTER } : {};
  return new EntitySchema<T>({ name, tableName, properties, filters } as unknown as EntitySchemaMetadata<T>);
}

const WORKSPACE_FILTER = {
  name: 'workspace',
  default: true,
  cond: ({ workspaceId }: { workspaceId: string }) => ({ workspaceId }),
};

const snake = (name: string): string => name.replace(/[A-Z]/g, (letter) => `_${letter.toLowerCase()}`);
