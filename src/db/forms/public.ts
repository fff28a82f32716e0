import type { FormDocument } from '@/core/form/document';
import type { OwnValue, OwnField } from '@/core/people/values';
import type { Crossing, Scope } from '@/db/kit/scope';
import { toJson } from '@/db/kit/json';

/** All that the page of a form shows, by its code, in one question: it is asked hundreds of times a second. */
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

export const publicForm = async (crossing: Crossing, code: string): Promise<PublicFormRow | null> =>
  (
    await crossing.rows<PublicFormRow>(
      `select f.id, f.workspace_id, f.version, v.document, v.wording, (f.closed_at is not null or g.archived_at is not null) as closed,
              w.business, w.country, w.zone, w.terms_url, w.privacy_url,
              (select n.number from program_sender ps join sender_number n on n.id = ps.sender_id and n.released_at is null
                where ps.program_id = f.program_id order by n.id limit 1) as sender,
              coalesce((select jsonb_agg(jsonb_build_object('key', o.key, 'label', o.label, 'kind', o.kind, 'options', o.options)) from field o
                where o.workspace_id = f.workspace_id and o.archived_at is null), '[]') as own
         from form f join workspace w on w.id = f.workspace_id join program g on g.id = f.program_id
         left join form_version v on v.form_id = f.id and v.version = f.version where f.code = :code`,
      { code },
    )
  )[0] ?? null;

export interface NewSubmission {
  id: string;
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
 * Keeps what somebody sent, unless more than `most` came from their address since; the same press again is kept once.
 * False: too many came.
 */
export async function insertSubmission(
  scope: Scope,
  { filled, ...row }: NewSubmission,
  { most, since }: { most: number; since: Date },
): Promise<boolean> {
  const [found] = await scope.rows<{ kept: boolean }>(
    `with before as (
       select count(*) as n from (
         select 1 from submission where form_id = :formId and address = :address and at > :since limit :most) x),
     same as (select 1 from submission where form_id = :formId and press = :press),
     kept as (
       insert into submission (id, workspace_id, form_id, version, press, number, filled, address, agent, state, because, at, due_at)
       select :id, :workspace, :formId, :version, :press, :number, :filled::jsonb, :address, :agent, :state, :because, :at::timestamptz,
              case when :state = 'received' then :at::timestamptz end
         from before where n < :most on conflict (form_id, press) do nothing returning 1)
     select exists (select 1 from kept) or exists (select 1 from same) or (select n < :most from before) as kept`,
    { ...row, filled: toJson(filled), most, since },
  );
  return found!.kept;
}

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
