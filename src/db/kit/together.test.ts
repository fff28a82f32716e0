import { describe, expect, it } from 'vitest';
import type { Reading, Row, SqlValue } from './scope';
import { together } from './together';

/** A database that tells what it was asked, and answers each part with its own name. */
function world(fails: (sql: string) => boolean = () => false) {
  const asked: { sql: string; values: Record<string, SqlValue> }[] = [];
  const reading: Reading = {
    rows: <T extends object>(sql: string, values: Record<string, SqlValue> = {}) => {
      asked.push({ sql, values });
      if (fails(sql)) return Promise.reject(new Error(`cannot: ${sql}`));
      const parts = [...sql.matchAll(/as (q\d+)/g)].map(([, name]) => name!);
      const rows: Row[] =
        parts.length > 0
          ? [Object.fromEntries(parts.map((name) => [name, [{ from: name }]]))]
          : [{ from: sql }];
      return Promise.resolve(rows as T[]);
    },
  };
  return { asked, ask: together(reading, 5) };
}

describe('questions of one moment', () => {
  it('go as one, each with its own values, and each gets its own answer', async () => {
    const { asked, ask } = world();
    const at = new Date(0);
    const answers = await Promise.all([
      ask.rows('select id from a where due <= :at and x::text = :x', { at, x: 'one' }),
      ask.rows('select id from b where due <= :at', { at: new Date(1) }),
    ]);
    expect(answers).toEqual([[{ from: 'q0' }], [{ from: 'q1' }]]);
    expect(asked).toHaveLength(1);
    expect(asked[0]!.sql).toContain('(select id from a where due <= :q0at and x::text = :q0x)');
    expect(asked[0]!.values).toEqual({ q0at: at, q0x: 'one', q1at: new Date(1) });
    await ask.rows('select later', {});
    expect(asked).toHaveLength(2);
  });

  it('that is alone goes as it is', async () => {
    const { asked, ask } = world();
    expect(await ask.rows('select 1', {})).toEqual([{ from: 'select 1' }]);
    expect(asked).toEqual([{ sql: 'select 1', values: {} }]);
  });

  it('are asked one by one when one of them fails: the others get theirs', async () => {
    const { asked, ask } = world((sql) => sql.includes('broken'));
    const answers = await Promise.allSettled([
      ask.rows('select 1'),
      ask.rows('broken'),
      ask.rows('select 3'),
    ]);
    expect(answers.map(({ status }) => status)).toEqual(['fulfilled', 'rejected', 'fulfilled']);
    expect(asked.map(({ sql }) => sql).slice(1)).toEqual(['select 1', 'broken', 'select 3']);
  });
});
