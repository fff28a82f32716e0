import type { FormDocument } from '@/core/form/document';
import type { OwnValue, OwnField } from '@/core/people/values';
import type { Crossing } from '@/db/kit/scope';
import { toJson } from '@/db/kit/json';

/** All that the page of a form shows, in one question for all that are asked for at a time. */
export interface PublicFormRow {
  id: string;
  workspace_id: string;
  /** Null: it was never published. */
  version: number | null;
  document: FormDocument | null;
  wording: string | null;
  closed: boolean;
  business: string;
  country: string;
  zone: string;
  terms_url: string | null;
  privacy_url: string | null;
  own: OwnField[];
  /** The first number its program texts from; null: none. */
  sender: string | null;
}

export const publicForms = (
  crossing: Crossing,
  codes: readonly string[],
): Promise<(PublicFormRow & { code: string })[]> =>
  crossing.rows(
    `select f.code, f.id, f.workspace_id, f.version, v.document, v.wording, (f.closed_at is not null or g.archived_at is not null) as closed,
            w.business, w.country, w.zone, w.terms_url, w.privacy_url,
            (select n.number from program_sender ps join sender_number n on n.id = ps.sender_id and n.released_at is null
              where ps.program_id = f.program_id order by n.id limit 1) as sender,
            coalesce((select jsonb_agg(jsonb_build_object('key', o.key, 'label', o.label, 'kind', o.kind, 'options', o.options)) from field o
              where o.workspace_id = f.workspace_id and o.archived_at is null), '[]') as own
       from form f join workspace w on w.id = f.workspace_id join program g on g.id = f.program_id
       left join form_version v on v.form_id = f.id and v.version = f.version where f.code = any(:codes::text[])`,
    { codes },
  );

export interface NewSubmission {
  id: string;
  workspaceId: string;
  formId: string;
  version: number;
  press: string;
  number: string;
  filled: [field: string, value: OwnValue][];
  address: string;
  agent: string;
  state: 'received' | 'dropped';
  because: string | null;
  at: Date;
}

/**
 * Keeps what people sent, but of each address no more than `most` since; the same press again is kept once. Gives those
 * that are kept, now or before.
 */
export async function insertSubmissions(
  crossing: Crossing,
  rows: readonly NewSubmission[],
  { most, since }: { most: number; since: Date },
): Promise<Set<string>> {
  const kept = await crossing.rows<{ id: string }>(
    `with given as (
       select *, row_number() over (partition by form_id, address order by id) as nth
         from json_to_recordset(:rows::json) as g (id text, workspace_id text, form_id text, version integer, press text, number text, filled jsonb, address text, agent text, state text, because text, at timestamptz)),
     placed as (
       select g.*, g.nth + (select count(*) from (
                select 1 from submission s where s.form_id = g.form_id and s.address = g.address and s.at > :since limit :most) x) as place from given g),
     fresh as (
       insert into submission (id, workspace_id, form_id, version, press, number, filled, address, agent, state, because, at, due_at)
       select id, workspace_id, form_id, version, press, number, filled, address, agent, state, because, at, case when state = 'received' then at end
         from placed where place <= :most on conflict (form_id, press) do nothing returning form_id, press)
     select g.id from given g where exists (select 1 from fresh f where f.form_id = g.form_id and f.press = g.press)
        or exists (select 1 from submission s where s.form_id = g.form_id and s.press = g.press)`,
    { rows: toJson(rows.map(rowOf)), most, since },
  );
  return new Set(kept.map(({ id }) => id));
}

const rowOf = ({ workspaceId, formId, ...row }: NewSubmission) => ({
  ...row,
  ...{ workspace_id: workspaceId, form_id: formId },
});

/** A browser drew the page, or somebody began: how far they came. What was not drawn before is drawn now. */
export const noteVisit = (
  crossing: Crossing,
  seen: { code: string; press: string; furthest: number; at: Date },
): Promise<number> =>
  crossing.run(
    `insert into form_visit (press, form_id, workspace_id, version, opened_at, begun_at, furthest)
     select :press, f.id, f.workspace_id, f.version, :at::timestamptz, case when :furthest > 0 then :at::timestamptz end, :furthest from form f where f.code = :code and f.version is not null
     on conflict (form_id, press) do update
        set begun_at = coalesce(form_visit.begun_at, excluded.begun_at), furthest = greatest(form_visit.furthest, excluded.furthest)`,
    { ...seen },
  );
