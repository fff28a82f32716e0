import type { AddressKind, AddressState } from '@/core/people/address';
import type { Scope } from '@/db/kit/scope';

export interface AddressRow {
  person_id: string;
  kind: AddressKind;
  rank: number;
  value: string;
  state: AddressState;
  line_type: string;
  no_pictures: boolean;
  no_voicemail: boolean;
  failures: number;
  since: Date;
}

/** Addresses of these people, each person's preferred ones first. */
export const addressesOf = (scope: Scope, ids: readonly string[]): Promise<AddressRow[]> =>
  scope.rows<AddressRow>(
    `select person_id, kind, rank, value, state, line_type, no_pictures, no_voicemail, failures, since from address
      where workspace_id = :workspace and person_id = any(:ids::text[]) order by person_id, array_position(array['number', 'email', 'chat'], kind), rank`,
    { ids },
  );

/** Who is reached there. Of a number or a chat id there is one at most. */
export const whoHas = async (scope: Scope, kind: AddressKind, value: string): Promise<string[]> =>
  (
    await scope.rows<{ person_id: string }>(
      `select person_id from address where workspace_id = :workspace and kind = :kind and value = :value order by rank, person_id`,
      { kind, value },
    )
  ).map((row) => row.person_id);

/** The chat id somebody prefers; null: none is known. */
export const preferredChat = async (scope: Scope, personId: string): Promise<string | null> =>
  (
    await scope.rows<{ value: string }>(
      `select value from address where workspace_id = :workspace and person_id = :personId and kind = 'chat' and rank = 0`,
      { personId },
    )
  )[0]?.value ?? null;

/** Adds an address: preferred when it is the first of its kind, else after those that are there. */
export const addAddress = (
  scope: Scope,
  address: { personId: string; kind: AddressKind; value: string; at: Date },
): Promise<number> =>
  scope.run(
    `insert into address (workspace_id, person_id, kind, rank, value, since)
     select :workspace, :personId, :kind, coalesce(max(rank) + 1, 0), :value, :at from address
      where workspace_id = :workspace and person_id = :personId and kind = :kind`,
    address,
  );

/** Makes an address of theirs the preferred one; the others keep their order. */
export const preferAddress = (
  scope: Scope,
  address: { personId: string; kind: AddressKind; value: string },
): Promise<number> =>
  scope.run(
    `update address a set rank = n.rank from (
       select value, row_number() over (order by value <> :value, rank) - 1 as rank from address
        where workspace_id = :workspace and person_id = :personId and kind = :kind) n
      where a.workspace_id = :workspace and a.person_id = :personId and a.kind = :kind and a.value = n.value and a.rank <> n.rank`,
    address,
  );

export async function takeAddress(
  scope: Scope,
  address: { personId: string; kind: AddressKind; value: string },
): Promise<void> {
  await scope.run(
    `delete from address where workspace_id = :workspace and person_id = :personId and kind = :kind and value = :value`,
    address,
  );
  await closeRanks(scope, [address.personId]);
}

/** Ranks without gaps, so that whoever has an address of a kind has a preferred one. */
const closeRanks = (scope: Scope, people: readonly string[]): Promise<number> =>
  scope.run(
    `update address a set rank = n.place from (
       select person_id, kind, rank, row_number() over (partition by person_id, kind order by rank) - 1 as place from address
        where workspace_id = :workspace and person_id = any(:people::text[])) n
      where a.workspace_id = :workspace and a.person_id = n.person_id and a.kind = n.kind and a.rank = n.rank and n.place <> n.rank`,
    { people },
  );

export interface MovedAddress {
  kind: AddressKind;
  value: string;
}

/** Addresses go along to another person, after those that are there. An e-mail address both have stays one. Gives those that went. */
export async function moveAddresses(
  scope: Scope,
  from: string,
  to: string,
  only: readonly MovedAddress[] | null = null,
): Promise<MovedAddress[]> {
  const values = { from, to, only: only && only.map(({ kind, value }) => `${kind} ${value}`) };
  const rows = await scope.rows<MovedAddress & { rank: number }>(
    `with gone as (delete from address where workspace_id = :workspace and person_id = :from
                     and (:only::text[] is null or kind || ' ' || value = any(:only::text[])) returning *)
     select * from gone order by rank`,
    values,
  );
  const gone = rows as unknown as AddressRow[];
  await scope.run(
    `insert into address (workspace_id, person_id, kind, rank, value, state, line_type, failures, since, no_pictures, no_voicemail)
     select :workspace, :to, u.kind, coalesce((select max(x.rank) + 1 from address x where x.workspace_id = :workspace and x.person_id = :to and x.kind = u.kind), 0)
              + row_number() over (partition by u.kind order by u.place) - 1, u.value, u.state, u.line_type, u.failures, u.since, u.no_pictures, u.no_voicemail
       from unnest(:kinds::text[], :values::text[], :states::text[], :lines::text[], :failures::int[], :sinces::timestamptz[], :noPictures::boolean[], :noVoicemail::boolean[])
         with ordinality as u (kind, value, state, line_type, failures, since, no_pictures, no_voicemail, place)
      where not exists (select 1 from address y where y.workspace_id = :workspace and y.person_id = :to and y.kind = u.kind and y.value = u.value)`,
    {
      to,
      kinds: gone.map(({ kind }) => kind),
      values: gone.map(({ value }) => value),
      states: gone.map(({ state }) => state),
      lines: gone.map((row) => row.line_type),
      failures: gone.map(({ failures }) => failures),
      sinces: gone.map(({ since }) => since),
      noPictures: gone.map((row) => row.no_pictures),
      noVoicemail: gone.map((row) => row.no_voicemail),
    },
  );
  await closeRanks(scope, [from]);
  return gone.map(({ kind, value }) => ({ kind, value }));
}

/**
 * Gives people another preferred e-mail address, or none. The one before goes, unless consent was given by it: then it
 * stays as a further one.
 */
export async function setEmails(
  scope: Scope,
  changes: readonly { personId: string; email: string | null }[],
  at: Date,
): Promise<void> {
  if (changes.length === 0) return;
  const values = {
    at,
    people: changes.map(({ personId }) => personId),
    emails: changes.map(({ email }) => email),
  };
  const changed = `unnest(:people::text[], :emails::text[]) as u (person, email)`;
  await scope.run(
    `insert into address (workspace_id, person_id, kind, rank, value, since)
     select :workspace, u.person, 'email', coalesce((select max(x.rank) + 1 from address x where x.person_id = u.person and x.kind = 'email'), 0), u.email, :at
       from ${changed} where u.email is not null
        and not exists (select 1 from address y where y.workspace_id = :workspace and y.person_id = u.person and y.kind = 'email' and y.value = u.email)`,
    values,
  );
  await scope.run(
    `delete from address a using ${changed}
      where a.workspace_id = :workspace and a.person_id = u.person and a.kind = 'email' and a.rank = 0 and a.value is distinct from u.email and :at::timestamptz is not null
        and (u.email is null or not exists (select 1 from consent_state c where c.person_id = a.person_id and c.channel = 'email' and c.address = a.value))`,
    values,
  );
  await scope.run(
    `update address a set rank = n.place from (
       select x.person_id, x.value, row_number() over (partition by x.person_id order by x.value is distinct from u.email, x.rank) - 1 as place
         from ${changed} join address x on x.workspace_id = :workspace and x.person_id = u.person and x.kind = 'email' where :at::timestamptz is not null) n
      where a.workspace_id = :workspace and a.person_id = n.person_id and a.kind = 'email' and a.value = n.value and a.rank <> n.place`,
    values,
  );
}

/** Adds further addresses to people, those left out that somebody has already. */
export const addFurther = (
  scope: Scope,
  further: readonly { personId: string; kind: AddressKind; value: string }[],
  at: Date,
): Promise<number> =>
  further.length === 0
    ? Promise.resolve(0)
    : scope.run(
        `insert into address (workspace_id, person_id, kind, rank, value, since)
         select :workspace, u.person, u.kind, coalesce((select max(x.rank) + 1 from address x where x.person_id = u.person and x.kind = u.kind), 0)
                  + row_number() over (partition by u.person, u.kind order by u.place) - 1, u.value, :at
           from (select distinct on (kind, value) * from unnest(:people::text[], :kinds::text[], :values::text[]) with ordinality as t (person, kind, value, place)
                  order by kind, value, place) u
          where not exists (select 1 from address y where y.workspace_id = :workspace and y.kind = u.kind and y.value = u.value
                              and (u.kind <> 'email' or y.person_id = u.person))`,
        {
          at,
          people: further.map(({ personId }) => personId),
          kinds: further.map(({ kind }) => kind),
          values: further.map(({ value }) => value),
        },
      );

/** Sets what is known of one address, whoever has it. */
export const setAddress = (
  scope: Scope,
  {
    kind,
    value,
    ...set
  }: {
    kind: AddressKind;
    value: string;
    state?: AddressState;
    lineType?: string;
    noPictures?: boolean;
    noVoicemail?: boolean;
  },
): Promise<number> =>
  scope.run(
    `update address set state = coalesce(:state, state), line_type = coalesce(:lineType, line_type), no_pictures = coalesce(:noPictures, no_pictures),
            no_voicemail = coalesce(:noVoicemail, no_voicemail)
      where workspace_id = :workspace and kind = :kind and value = :value
        and (state is distinct from coalesce(:state, state) or line_type is distinct from coalesce(:lineType, line_type)
          or no_pictures is distinct from coalesce(:noPictures, no_pictures) or no_voicemail is distinct from coalesce(:noVoicemail, no_voicemail))`,
    {
      kind,
      value,
      state: set.state ?? null,
      lineType: set.lineType ?? null,
      noPictures: set.noPictures ?? null,
      noVoicemail: set.noVoicemail ?? null,
    },
  );

/** One more failure in a row; from `stale` on it is called stale. */
export const countFailure = (
  scope: Scope,
  address: { kind: AddressKind; value: string; stale: number },
): Promise<number> =>
  scope.run(
    `update address set failures = failures + 1, state = case when state = 'in-service' and failures + 1 >= :stale::int then 'stale' else state end
      where workspace_id = :workspace and kind = :kind and value = :value`,
    address,
  );

/** It works: somebody wrote from there. */
export const addressWorks = (scope: Scope, kind: AddressKind, value: string): Promise<number> =>
  scope.run(
    `update address set failures = 0, state = 'in-service'
      where workspace_id = :workspace and kind = :kind and value = :value and (failures > 0 or state <> 'in-service')`,
    { kind, value },
  );

/** What people without a name are called by, of a person `p`. */
export const CALLED = `coalesce(p.number, p.email, p.further[1])`;

/** The preferred address of a kind, of a person `p`. */
export const PREFERRED: Record<AddressKind, string> = {
  number: 'p.number',
  email: 'p.email',
  chat: `(select x.value from address x where x.person_id = p.id and x.kind = 'chat' and x.rank = 0)`,
};
