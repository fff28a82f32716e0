import type { Channel } from '@/core/message/channel';
import type { Consent, ConsentEvidence, ConsentKind, ConsentState, Method } from '@/core/consent/ledger';
import { toJson } from '@/db/kit/json';
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

/** Consent of one person by program, as cached; programs without a row are absent. */
export async function consentStates(
  scope: Scope,
  personId: string,
  channel: Channel = 'sms',
): Promise<Map<string, Consent>> {
  const rows = await scope.rows<StateRow>(
    `select program_id, state, method, since, event_id, was_in from consent_state
      where workspace_id = :workspace and person_id = :personId and channel = :channel`,
    { personId, channel },
  );
  return new Map(rows.map((row) => [row.program_id, consentOf(row)]));
}

export interface NewConsentEvent {
  id: string;
  personId: string;
  programId: string;
  channel: Channel;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
  at: Date;
}

/** Adds an entry to the ledger and sets the cached state that follows from it. */
export async function insertConsent(scope: Scope, event: NewConsentEvent, next: Consent): Promise<void> {
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, kind, method, evidence, at)
     values (:id, :workspace, :personId, :programId, :channel, :kind, :method, :evidence::jsonb, :at)`,
    { ...event, evidence: toJson(event.evidence) },
  );
  await scope.run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, state, method, since, event_id, was_in)
     values (:workspace, :personId, :programId, :channel, :state, :method, :at, :id, :wasIn)
     on conflict (person_id, program_id, channel) do update
       set state = excluded.state, method = excluded.method, since = excluded.since, event_id = excluded.event_id, was_in = excluded.was_in`,
    {
      personId: event.personId,
      programId: event.programId,
      channel: event.channel,
      state: next.state,
      method: event.method,
      at: event.at,
      id: event.id,
      wasIn: next.wasIn,
    },
  );
}

/** Many entries at once, each with the state that follows from it. */
export async function insertConsents(
  scope: Scope,
  entries: readonly { event: NewConsentEvent; next: Consent }[],
): Promise<void> {
  if (entries.length === 0) return;
  const of = <T>(pick: (entry: (typeof entries)[number]) => T) => entries.map(pick);
  const values = {
    ids: of(({ event }) => event.id),
    people: of(({ event }) => event.personId),
    programs: of(({ event }) => event.programId),
    channels: of(({ event }) => event.channel),
    kinds: of(({ event }) => event.kind),
    methods: of(({ event }) => event.method),
    at: entries[0]!.event.at,
  };
  // What many share, such as the wording attested for a file, travels once.
  const shared = [...new Set(of(({ event }) => event.evidence))];
  const which = new Map(shared.map((evidence, i) => [evidence, i + 1]));
  await scope.run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, kind, method, evidence, at)
     select u.id, :workspace, u.person, u.program, u.channel, u.kind, u.method, e.evidence, :at
       from unnest(:ids::text[], :people::text[], :programs::text[], :channels::text[], :kinds::text[], :methods::text[], :which::int[])
         with ordinality as u (id, person, program, channel, kind, method, which, place)
       join unnest(:shared::jsonb[]) with ordinality as e (evidence, i) on e.i = u.which order by u.place`,
    {
      ...values,
      shared: shared.map((evidence) => toJson(evidence)),
      which: of(({ event }) => which.get(event.evidence)!),
    },
  );
  await scope.run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, state, method, since, event_id, was_in)
     select :workspace, u.person, u.program, u.channel, u.state, u.method, :at, u.id, u.was_in
       from unnest(:ids::text[], :people::text[], :programs::text[], :channels::text[], :states::text[], :methods::text[], :wasIn::boolean[])
         as u (id, person, program, channel, state, method, was_in)
     on conflict (person_id, program_id, channel) do update
       set state = excluded.state, method = excluded.method, since = excluded.since, event_id = excluded.event_id, was_in = excluded.was_in`,
    {
      ids: values.ids,
      people: values.people,
      programs: values.programs,
      channels: values.channels,
      methods: values.methods,
      at: values.at,
      states: of(({ next }) => next.state),
      wasIn: of(({ next }) => next.wasIn),
    },
  );
}

/** Consent of many people to one program; those without a row are absent. */
export async function consentsOf(
  scope: Scope,
  people: readonly string[],
  programId: string,
): Promise<Map<string, Consent>> {
  const rows = await scope.rows<StateRow & { person_id: string }>(
    `select person_id, program_id, state, method, since, event_id, was_in from consent_state
      where workspace_id = :workspace and program_id = :programId and channel = 'sms' and person_id = any(:people::text[])`,
    { people, programId },
  );
  return new Map(rows.map((row) => [row.person_id, consentOf(row)]));
}

export interface LedgerRow {
  id: string;
  person_id: string;
  program_id: string;
  channel: Channel;
  kind: ConsentKind;
  method: Method;
  evidence: ConsentEvidence;
  at: Date;
  program_name: string;
}

export const personLedger = (scope: Scope, personId: string): Promise<LedgerRow[]> =>
  scope.rows<LedgerRow>(
    `select e.*, g.name as program_name from consent_event e join program g on g.id = e.program_id
      where e.workspace_id = :workspace and e.person_id = :personId order by e.seq desc`,
    { personId },
  );

export interface FoldRow {
  id: string;
  person_id: string;
  program_id: string;
  channel: Channel;
  kind: ConsentKind;
  method: Method;
  at: Date;
}

/** The whole ledger in the order it was written, a page at a time, people kept together. */
export const ledgerPage = (scope: Scope, after: string, most: number): Promise<FoldRow[]> =>
  scope.rows<FoldRow>(
    `select e.id, e.person_id, e.program_id, e.channel, e.kind, e.method, e.at from consent_event e
      where e.workspace_id = :workspace and e.person_id in
        (select p.id from person p where p.workspace_id = :workspace and p.id > :after order by p.id limit :most)
      order by e.person_id, e.seq`,
    { after, most },
  );

export const statePage = async (scope: Scope, after: string, most: number) => {
  const rows = await scope.rows<StateRow & { person_id: string; channel: Channel }>(
    `select c.* from consent_state c where c.workspace_id = :workspace and c.person_id in
       (select p.id from person p where p.workspace_id = :workspace and p.id > :after order by p.id limit :most)`,
    { after, most },
  );
  return rows.map((row) => ({
    personId: row.person_id,
    programId: row.program_id,
    channel: row.channel,
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
