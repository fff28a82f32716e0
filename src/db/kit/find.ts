import type { Scope } from './scope';

/** Rows of a room that are reached by typing what they are called. */
export interface Findable {
  /** What it is, in a word that is shown beside its name. */
  kind: string;
  table: string;
  /** SQL of what it is called. */
  label: string;
  /** SQL: only these are found. `:viewer` is the account that looks. */
  where?: string;
  /** SQL: what fits; unless the label holds `:search`, in which nothing means anything to `like`. `:digits` are those of it, if they are many. */
  fits?: string;
  /** Its page is here, by its id. */
  at: string;
}

export interface Found {
  kind: string;
  label: string;
  href: string;
}

const MOST = 5;

/** What is called so, kind by kind, the newest first. */
export const findRows = (
  scope: Scope,
  kinds: readonly Findable[],
  asked: { search: string; digits: string; viewer: string },
): Promise<Found[]> =>
  scope.rows<Found>(
    kinds
      .map(
        ({ kind, table, label, where = 'true', fits = `${label} ilike '%' || :search || '%'`, at }) =>
          `(select '${kind}' as kind, ${label} as label, '${at}' || id as href from ${table}
             where workspace_id = :workspace and ${where} and ${fits} order by id desc limit ${MOST})`,
      )
      .join(' union all '),
    asked,
  );
