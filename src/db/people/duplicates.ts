import type { Reading, Scope } from '@/db/kit/scope';
import { HERE } from '@/db/audience/cut';

/** Groups larger than this share a switchboard or a shop's address: they are no duplicates of each other. */
const LARGEST_GROUP = 12;

/**
 * Everybody's pairs by one key, each with the lower id first. The keys that occur more than once are counted first,
 * which needs no list of ids for each of a million keys; only their people are paired.
 */
const pairsBy = (key: string, where: string, reason: string): string => `
  with keys as materialized (
    select ${key} as key from person p where ${HERE} and ${where} group by 1 having count(*) between 2 and ${LARGEST_GROUP}),
  members as materialized (
    select p.id, ${key} as key from person p where ${HERE} and ${where} and ${key} in (select key from keys))
  insert into duplicate_pair (workspace_id, one_id, other_id, reasons, found_at)
  select :workspace, a.id, b.id, array['${reason}'], :at from members a join members b on b.key = a.key and a.id < b.id
  on conflict (workspace_id, one_id, other_id) do update set reasons = array(select distinct unnest(duplicate_pair.reasons || excluded.reasons)), found_at = excluded.found_at`;

/** The same number in other dress: a country code lost or doubled leaves the last ten digits alike. */
export const pairByNumber = (scope: Scope, at: Date): Promise<number> =>
  scope.run(pairsBy('right(p.number, 10)', 'length(p.number) >= 11', 'number'), { at });

export const pairByEmail = (scope: Scope, at: Date): Promise<number> =>
  scope.run(pairsBy('lower(p.email)', 'p.email is not null', 'e-mail'), { at });

export interface Neighbour {
  id: string;
  first: string;
  last: string;
}

/** People with a name, by postal code, where there is more than one: candidates, to be compared name by name. */
export async function neighbours(scope: Scope): Promise<Neighbour[][]> {
  // A row for each place and not for each person: of a million, most of the time would go into making rows.
  const places = await scope.rows<{ ids: string[]; firsts: string[]; lasts: string[] }>(
    `select array_agg(p.id) as ids, array_agg(p.first_name) as firsts, array_agg(p.last_name) as lasts from person p
      where ${HERE} and p.postal_code is not null and p.first_name is not null and p.last_name is not null
      group by split_part(p.postal_code, '-', 1) having count(*) > 1`,
  );
  return places.map(({ ids, firsts, lasts }) =>
    ids.map((id, i) => ({ id, first: firsts[i]!, last: lasts[i]! })),
  );
}

export const insertPairs = (
  scope: Scope,
  pairs: readonly [string, string][],
  reason: string,
  at: Date,
): Promise<number> =>
  scope.run(
    `insert into duplicate_pair (workspace_id, one_id, other_id, reasons, found_at)
     select :workspace, a, b, array[:reason::text], :at from unnest(:ones::text[], :others::text[]) as u (a, b)
     on conflict (workspace_id, one_id, other_id) do update set reasons = array(select distinct unnest(duplicate_pair.reasons || excluded.reasons)), found_at = excluded.found_at`,
    { ones: pairs.map(([one]) => one), others: pairs.map(([, other]) => other), reason, at },
  );

/** Pairs that were not found again are none any more. */
export const forgetOldPairs = (scope: Scope, at: Date): Promise<number> =>
  scope.run(
    `delete from duplicate_pair where workspace_id = :workspace and found_at < :at and dismissed_at is null`,
    { at },
  );

export interface PairRow {
  one_id: string;
  other_id: string;
  reasons: string[];
  one_name: string;
  other_name: string;
  one_address: string | null;
  other_address: string | null;
}

const ADDRESS = (alias: string) => `coalesce(${alias}.number, ${alias}.email)`;

const NAME = (alias: string) =>
  `coalesce(nullif(trim(coalesce(${alias}.first_name, '') || ' ' || coalesce(${alias}.last_name, '')), ''), ${ADDRESS(alias)})`;

export const openPairs = (scope: Scope, most: number): Promise<PairRow[]> =>
  scope.rows<PairRow>(
    `select d.one_id, d.other_id, d.reasons, ${NAME('a')} as one_name, ${NAME('b')} as other_name, ${ADDRESS('a')} as one_address, ${ADDRESS('b')} as other_address
       from duplicate_pair d join person a on a.id = d.one_id join person b on b.id = d.other_id
      where d.workspace_id = :workspace and d.dismissed_at is null and a.merged_into is null and b.merged_into is null and a.erased_at is null and b.erased_at is null
      order by cardinality(d.reasons) desc, d.one_id limit :most`,
    { most },
  );

export interface SearchRow {
  state: 'running' | 'finished';
  pairs: number;
  started_at: Date;
  finished_at: Date | null;
}

export const duplicateSearch = async (scope: Scope): Promise<SearchRow | null> =>
  (await scope.rows<SearchRow>(`select * from duplicate_search where workspace_id = :workspace`))[0] ?? null;

export const askForSearch = (scope: Scope, at: Date): Promise<number> =>
  scope.run(
    `insert into duplicate_search (workspace_id, state, started_at) values (:workspace, 'running', :at)
     on conflict (workspace_id) do update set state = 'running', started_at = excluded.started_at, finished_at = null`,
    { at },
  );

/** Workspaces whose search is asked for. */
export const searchesToDo = (
  reading: Reading,
  untroubled: string,
  at: Date,
): Promise<{ workspace_id: string }[]> =>
  reading.rows(
    `select workspace_id from duplicate_search where state = 'running' and ${untroubled} and :at::timestamptz is not null order by started_at`,
    { at },
  );

/** Holds the search of this workspace; false when it is over or somebody else does it. */
export const lockSearch = async (scope: Scope): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from duplicate_search where workspace_id = :workspace and state = 'running' for update skip locked`,
    )
  ).length > 0;

export const endSearch = (scope: Scope, at: Date): Promise<number> =>
  scope.run(
    `update duplicate_search set state = 'finished', finished_at = :at, pairs = (select count(*) from duplicate_pair where workspace_id = :workspace and dismissed_at is null)
      where workspace_id = :workspace`,
    { at },
  );
