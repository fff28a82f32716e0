import { EVERYBODY, type Condition } from '@/core/audience/condition';
import type { Result } from '@/core/shared/result';
import { createPerson } from '@/services/people/create-person';
import { editPerson } from '@/services/people/edit-person';
import { readPeopleTable, type TableQuery } from '@/services/people/people-table';
import type { World } from './world';

/** What is behind a result that must not be a refusal. */
export function must<T, R>(result: Result<T, R>): T {
  if (!result.ok) throw new Error(JSON.stringify(result.reason));
  return result.value;
}

/** Makes somebody, and lets a second pass, so that people stand in the order they were made. */
export async function addPerson(world: World, number: string, more: object = {}): Promise<string> {
  const made = await world.within((scope) => createPerson(world.ctx, scope, { number, ...more }, 'test'));
  world.clock.at += 1_000;
  return must(made).id;
}

export const editField = (world: World, id: string, field: string, value: string) =>
  world.within((scope) => editPerson(world.ctx, scope, id, field, value, 'test'));

/** The whole table of people, page by page, as first names or numbers. */
export async function pageThrough(
  world: World,
  sort: string,
  most = 100,
  condition: Condition = EVERYBODY,
  search = '',
): Promise<string[]> {
  const all: string[] = [];
  for (let after: string | null = ''; after !== null;) {
    const question: TableQuery = { condition, search, sort, after };
    const page: Awaited<ReturnType<typeof readPeopleTable>> = await world.within((scope) =>
      readPeopleTable(scope, question, world.clock.at, most),
    );
    const { rows, next } = must(page);
    all.push(...rows.map((row) => row.first_name ?? row.number ?? ''));
    after = next;
  }
  return all;
}

/** Who has a number. */
export async function personOf(world: World, number: string): Promise<string> {
  const [row] = await world.rows<{ id: string }>(
    `select id from person where workspace_id = :workspace and number = :number`,
    { number },
  );
  return row!.id;
}
