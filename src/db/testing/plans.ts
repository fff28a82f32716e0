import type { Reading, SqlValue } from '@/db/kit/scope';

/** How PostgreSQL would go about every question that a look at the database asks, as JSON; each is answered with no rows. */
export async function plansOf<T extends Reading>(
  asked: T,
  look: (explaining: T) => Promise<unknown>,
): Promise<string> {
  let plans = '';
  await look({
    ...asked,
    async rows(sql: string, values?: Record<string, SqlValue>) {
      plans += JSON.stringify(await asked.rows(`explain (format json) ${sql}`, values));
      return [];
    },
  });
  return plans;
}
