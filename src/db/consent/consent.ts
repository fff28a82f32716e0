import type { Channel } from '@/core/message/channel';
import {
  asPerson,
  NO_CONSENT,
  type Consent,
  type ConsentEvidence,
  type ConsentKind,
  type ConsentState,
  type Method,
} from '@/core/consent/ledger';
import { rollup } from 'd3-array';
import { toJson } from '@/db/kit/json';
import { settleCurrent } from './current';
import type { Scope } from '@/db/kit/scope';

interface StateRow {
  program_id: string;
  state: Exclude<ConsentState, 'none'>;
  method: Method;
  since: Date;
  event_id: string;
  was_in: boolean;
}

const consentOf = (row: StateRow): Consent => ({
  state: row.state,
  method: row.method,
  since: row.since.getTime(),
  eventId: row.event_id,
  wasIn: row.was_in,
});

/**
 * Consent of one person by program, as cached; programs without a row are absent. With an address: as that address has
 * to be admitted (`asPerson`); without: what holds of the person.
 */
export async function consentStates(
  scope: Scope,
  personId: string,
  channel: Channel = 'sms',
  address: string | null = null,
): Promise<Map<string, Consent>> {
  const rows = await scope.rows<StateRow & { address: string; current: boolean }>(
    `select program_id, address, state, method, since, event_id, was_in, current from consent_state
      where workspace_id = :workspace and person_id = :personId and channel = :channel and (current or address = :address)`,
    { personId, channel, address },
  );
  const spoken = new Map(
    rows.filter(({ current }) => current).map((row) => [row.program_id, consentOf(row)]),
  );
  if (address === null) return spoken;
  const own = new Map(
    rows.filter((row) => row.address === address).map((row) => [row.program_id, consentOf(row)]),
  );
  const programs = [...new Set(rows.map((row) => row.program_id))];
  return new Map(programs.map((id) => [id, asPerson(own.get(id) ?? NO_CONSENT, spoken.get(id) ?? null)]));
}

export interface AddressState extends Consent {
  programId: string;
  channel: Channel;
  address: string;
  current: boolean;
}

/** What every address of a person told every program, in the order it was first told. */
export async function consentsByAddress(scope: Scope, personId: string): Promise<AddressState[]> {
  const rows = await scope.rows<StateRow & { channel: Channel; address: string; current: boolean }>(
    `select program_id, channel, address, state, method, since, event_id, was_in, current from consent_state
      where workspace_id = :workspace and person_id = :personId order by program_id, channel desc, current desc, since`,
    { personId },
  );
  return rows.map((row) => ({
    ...consentOf(row),
    ...{ programId: row.program_id, channel: row.channel, address: row.address, current: row.current },
  }));
}

/** The keyword by which somebody was last asked whether they want a program; null: they were not asked by one. */
export const keywordAskedBy = async (
  scope: Scope,
  personId: string,
  programId: string,
): Promise<string | null> =>
  (
    await scope.rows<{ keyword: string | null }>(
      `select evidence ->> 'keyword' as keyword from consent_event
        where workspace_id = :workspace and person_id = :personId and program_id = :programId and kind = 'asked' order by seq desc limit 1`,
      { personId, programId },
    )
  )[0]?.keyword ?? null;

export interface NewConsentEvent {
  id: string;
  personId: string;
  programId: string;
  channel: Channel;
  address: string;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
  at: Date;
}

/** Adds entries to the ledger, each with the state that follows from it. */
export async function insertConsents(
  scope: Scope,
  entries: readonly { event: NewConsentEvent; next: Consent }[],
): Promise<void> {
  if (entries.length === 0) return;
  const column = <T>(pick: (entry: (typeof entries)[number]) => T) => entries.map(pick);
  const values = {
    ids: column(({ event }) => event.id),
    people: column(({ event }) => event.personId),
    programs: column(({ event }) => event.programId),
    channels: column(({ event }) => event.channel),
    addresses: column(({ event }) => event.address),
    kinds: column(({ event }) => event.kind),
    methods: column(({ event }) => event.method),
    ats: column(({ event }) => event.at),
  };
  // What many share, such as the wording attested for a file, travels once.
  const shared = [...new Set(column(({ event }) => event.evidence))];
  const which = new Map(shared.map((evidence, i) => [evidence, i + 1]));
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at)
     select u.id, :workspace, u.person, u.program, u.channel, u.address, u.kind, u.method, e.evidence, u.at
       from unnest(:ids::text[], :people::text[], :programs::text[], :channels::text[], :addresses::text[], :kinds::text[], :methods::text[], :ats::timestamptz[], :which::int[])
         with ordinality as u (id, person, program, channel, address, kind, method, at, which, place)
       join unnest(:shared::jsonb[]) with ordinality as e (evidence, i) on e.i = u.which order by u.place`,
    {
      ...values,
      shared: shared.map((evidence) => toJson(evidence)),
      which: column(({ event }) => which.get(event.evidence)!),
    },
  );
  await scope.run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, address, state, method, since, event_id, was_in, current)
     select :workspace, u.person, u.program, u.channel, u.address, u.state, u.method, u.at, u.id, u.was_in,
            not exists (select 1 from consent_state o where o.person_id = u.person and o.program_id = u.program and o.channel = u.channel)
       from unnest(:ids::text[], :people::text[], :programs::text[], :channels::text[], :addresses::text[], :states::text[], :methods::text[], :ats::timestamptz[], :wasIn::boolean[])
         as u (id, person, program, channel, address, state, method, at, was_in)
     on conflict (person_id, program_id, channel, address) do update
       set state = excluded.state, method = excluded.method, since = excluded.since, event_id = excluded.event_id, was_in = excluded.was_in`,
    {
      ids: values.ids,
      people: values.people,
      programs: values.programs,
      channels: values.channels,
      addresses: values.addresses,
      methods: values.methods,
      ats: values.ats,
      states: column(({ next }) => next.state),
      wasIn: column(({ next }) => next.wasIn),
    },
  );
  await settleCurrent(scope, [...new Set(values.people)]);
}

export interface ToldProgram {
  byAddress: ReadonlyMap<string, Consent>;
  /** What holds of the person. */
  spoken: Consent;
}

/** What the addresses of many people told one program; people without a row are absent. */
export async function consentsOf(
  scope: Scope,
  people: readonly string[],
  programId: string,
  channel: Channel,
): Promise<Map<string, ToldProgram>> {
  const rows = await scope.rows<StateRow & { person_id: string; address: string; current: boolean }>(
    `select person_id, program_id, address, state, method, since, event_id, was_in, current from consent_state
      where workspace_id = :workspace and program_id = :programId and channel = :channel and person_id = any(:people::text[])`,
    { people, programId, channel },
  );
  return rollup(
    rows,
    (theirs) => ({
      byAddress: new Map(theirs.map((row) => [row.address, consentOf(row)])),
      spoken: consentOf(theirs.find(({ current }) => current) ?? theirs[0]!),
    }),
    (row) => row.person_id,
  );
}

export interface LedgerRow {
  id: string;
  person_id: string;
  program_id: string;
  channel: Channel;
  address: string;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
  at: Date;
  program_name: string;
  /** The teammate who wrote it down; null: nobody did, or a key. */
  recorded_by_name: string | null;
}

export const personLedger = (scope: Scope, personId: string): Promise<LedgerRow[]> =>
  scope.rows<LedgerRow>(
    `select e.*, g.name as program_name, a.name as recorded_by_name from consent_event e join program g on g.id = e.program_id
       left join account a on a.id = e.evidence ->> 'recordedBy'
      where e.workspace_id = :workspace and e.person_id = :personId order by e.seq desc`,
    { personId },
  );

export interface FoldRow {
  id: string;
  person_id: string;
  program_id: string;
  channel: Channel;
  address: string;
  kind: ConsentKind;
  method: Method;
  at: Date;
}

/** The whole ledger in the order it was written, a page at a time, people kept together. */
export const ledgerPage = (scope: Scope, after: string, most: number): Promise<FoldRow[]> =>
  scope.rows<FoldRow>(
    `select e.id, e.person_id, e.program_id, e.channel, e.address, e.kind, e.method, e.at from consent_event e
      where e.workspace_id = :workspace and e.person_id in
        (select p.id from person p where p.workspace_id = :workspace and p.id > :after order by p.id limit :most)
      order by e.person_id, e.seq`,
    { after, most },
  );

export const statePage = async (scope: Scope, after: string, most: number) => {
  const rows = await scope.rows<StateRow & { person_id: string; channel: Channel; address: string }>(
    `select c.* from consent_state c where c.workspace_id = :workspace and c.person_id in
       (select p.id from person p where p.workspace_id = :workspace and p.id > :after order by p.id limit :most)`,
    { after, most },
  );
  return rows.map((row) => ({
    personId: row.person_id,
    programId: row.program_id,
    channel: row.channel,
    address: row.address,
    consent: consentOf(row),
  }));
};

export const lastPersonOfPage = async (scope: Scope, after: string, most: number): Promise<string | null> => {
  const [row] = await scope.rows<{ id: string | null }>(
    `select max(id) as id from (select id from person where workspace_id = :workspace and id > :after order by id limit :most) page`,
    { after, most },
  );
  return row?.id ?? null;
};
