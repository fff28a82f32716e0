import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { acrossWorkspaces } from './kit/scope';
import { ENTITIES } from './entities';
import { makeWorld, type World } from '@/services/testing/world';

let world: World;
beforeAll(async () => {
  world = await makeWorld();
});
afterAll(() => world.close());

/** What PostgreSQL calls the types our columns are told with. */
const TYPES: Record<string, readonly string[]> = {
  text: ['text'],
  CleanTextType: ['text'],
  integer: ['int2', 'int4'],
  BigIntType: ['int8'],
  double: ['float8'],
  boolean: ['bool'],
  Date: ['timestamptz'],
  array: ['_text'],
  blob: ['bytea'],
  string: ['date'],
  CleanJsonType: ['jsonb'],
};

interface ColumnRow {
  table_name: string;
  column_name: string;
  udt_name: string;
  is_nullable: 'YES' | 'NO';
  is_key: boolean;
}

/** Columns of our tables as the migrations left them; what the database works out itself is nobody's to write. */
const columnsOf = async (): Promise<Map<string, ColumnRow[]>> => {
  const rows = await acrossWorkspaces(world.ctx.orm, (crossing) =>
    crossing.rows<ColumnRow>(
      `select c.table_name, c.column_name, c.udt_name, c.is_nullable,
              exists (select 1 from information_schema.table_constraints t join information_schema.key_column_usage k using (constraint_schema, constraint_name)
                       where t.constraint_type = 'PRIMARY KEY' and t.table_schema = 'public' and t.table_name = c.table_name and k.column_name = c.column_name) as is_key
         from information_schema.columns c where c.table_schema = 'public' and c.is_generated = 'NEVER' and c.table_name <> 'migration'`,
    ),
  );
  const tables = new Map<string, ColumnRow[]>();
  for (const row of rows) tables.set(row.table_name, [...(tables.get(row.table_name) ?? []), row]);
  return tables;
};

const told = (row: Omit<ColumnRow, 'table_name'>): string =>
  `${row.column_name} ${row.udt_name}${row.is_nullable === 'YES' ? ' null' : ''}${row.is_key ? ' key' : ''}`;

interface Property {
  type: unknown;
  fieldNames?: string[];
  fieldName?: string;
  nullable?: boolean;
  primary?: boolean;
}

const nameOfType = (type: unknown): string =>
  typeof type === 'string' ? type : (type as object).constructor.name;

describe('entities and the migrated database', () => {
  it('know the same tables', async () => {
    const tables = await columnsOf();
    expect(ENTITIES.map(({ meta }) => meta.tableName).sort()).toEqual([...tables.keys()].sort());
  });

  it('know the same columns, of the same types, empty where they may be, in the same keys', async () => {
    const tables = await columnsOf();
    for (const { meta } of ENTITIES) {
      const columns = tables.get(meta.tableName)!;
      const properties = Object.values(meta.properties as unknown as Record<string, Property>).map(
        (property) => {
          const name = property.fieldNames?.[0] ?? property.fieldName!;
          const known =
            TYPES[nameOfType((property as { customType?: unknown }).customType ?? property.type)] ?? [];
          const own = columns.find(({ column_name: column }) => column === name);
          return told({
            column_name: name,
            udt_name: own && known.includes(own.udt_name) ? own.udt_name : known.join('|'),
            is_nullable: property.nullable ? 'YES' : 'NO',
            is_key: property.primary ?? false,
          });
        },
      );
      expect(properties.sort(), meta.className).toEqual(columns.map(told).sort());
    }
  });
});
