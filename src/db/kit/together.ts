import { NAMED, type Reading, type Row, type SqlValue } from './scope';

interface Question {
  sql: string;
  values: Record<string, SqlValue>;
  answer: (rows: Row[]) => void;
  fail: (error: unknown) => void;
}

/**
 * Questions that are asked within `waitMs` go to the database as one: a worker with fifty loops would go there for each of
 * them, several times a second. Rows come as JSON has them: words and numbers are what they were, an instant is text. Where
 * one of them cannot be answered, each is asked by itself.
 */
export function together(asking: Reading, waitMs: number): Reading {
  let waiting: Question[] = [];

  const askAll = async (all: readonly Question[]) => {
    if (all.length === 1) return askEach(all);
    try {
      const [row] = await asking.rows<Record<string, Row[]>>(asOne(all), valuesOf(all));
      all.forEach((question, i) => question.answer(row![`q${i}`]!));
    } catch {
      await askEach(all);
    }
  };
  const askEach = async (all: readonly Question[]) => {
    for (const { sql, values, answer, fail } of all) await asking.rows(sql, values).then(answer, fail);
  };

  return {
    rows: <T extends object>(sql: string, values: Record<string, SqlValue> = {}) =>
      new Promise<T[]>((resolve, reject) => {
        waiting.push({ sql, values, answer: (rows) => resolve(rows as T[]), fail: reject });
        if (waiting.length > 1) return;
        setTimeout(() => {
          const all = waiting;
          waiting = [];
          void askAll(all);
        }, waitMs);
      }),
  };
}

const asOne = (all: readonly Question[]): string =>
  `select ${all
    .map(
      ({ sql }, i) =>
        `(select coalesce(json_agg(x), '[]') from (${sql.replace(NAMED, (_, name: string) => `:q${i}${name}`)}) x) as q${i}`,
    )
    .join(',\n')}`;

const valuesOf = (all: readonly Question[]): Record<string, SqlValue> =>
  Object.fromEntries(
    all.flatMap(({ values }, i) => Object.entries(values).map(([name, value]) => [`q${i}${name}`, value])),
  );
