import type { PersonRecord, RecordedConsent, RecordedText, TextOrigin } from '@/core/audience/evaluate';
import type { Channel } from '@/core/message/channel';
import { areaCodeOf } from '@/core/phone/number';
import type { OwnValues } from '@/core/people/values';
import type { Scope } from '@/db/kit/scope';
import { IMPORTED } from './compile';

/** What a person told the programs by one channel, by their ids; instants in milliseconds, as records have them. */
const consentsBy = (channel: Channel): string =>
  `coalesce((select jsonb_object_agg(x.program_id, jsonb_build_object('state', x.state, 'since', round(extract(epoch from x.since) * 1000)))
     from consent_state x where x.person_id = p.id and x.channel = '${channel}' and x.current), '{}')`;

interface RecordRow {
  id: string;
  first_name: string | null;
  last_name: string | null;
  email: string | null;
  number: string | null;
  email_state: string;
  number_state: string;
  further: string[] | null;
  postal_code: string | null;
  line_type: string;
  source: string;
  stage_id: string | null;
  owner_id: string | null;
  place_region: string | null;
  place_zones: string[] | null;
  fields: OwnValues;
  created_at: Date;
  last_wrote_at: Date | null;
  paused_until: Date | null;
  last_text_at: Date | null;
  labels: string[];
  consents: Record<string, RecordedConsent>;
  mail_consents: Record<string, RecordedConsent>;
  chat_consents: Record<string, RecordedConsent>;
  call_consents: Record<string, RecordedConsent>;
  imports: string[];
  batches: string[];
}

interface OriginRow {
  person_id: string;
  broadcast_id: string | null;
  step_id: string | null;
  program_id: string | null;
  about: string[];
}

/** Items that a message (`t`) named. */
const ABOUT = `array(select a.item_id from written_about a where a.workspace_id = t.workspace_id and a.send_id = t.send_id and (a.step_id = '' or a.step_id = t.step_id)) as about`;

interface VoucherRow {
  person_id: string;
  offer_id: string;
  uses_left: number;
  expires_at: Date | null;
  used: boolean;
}

/** Everything that can be asked of these people, for the evaluator: a few people, not a million. */
export async function personRecords(
  scope: Scope,
  ids: readonly string[],
): Promise<Map<string, PersonRecord>> {
  const values = { ids };
  const people = await scope.rows<RecordRow>(
    `select p.*, l.at as last_text_at,
            coalesce((select array_agg(x.label_id) from person_label x where x.person_id = p.id), '{}') as labels,
            ${consentsBy('sms')} as consents,
            ${consentsBy('email')} as mail_consents,
            ${consentsBy('chat')} as chat_consents,
            ${consentsBy('voicemail')} as call_consents,
            coalesce((select array_agg(x.import_id) from import_row x join import i on i.id = x.import_id where x.person_id = p.id and ${IMPORTED}), '{}') as imports,
            coalesce((select array_agg(x.batch_id) from batch_person x where x.person_id = p.id and x.workspace_id = :workspace), '{}') as batches
       from person p left join last_text l on l.person_id = p.id
      where p.workspace_id = :workspace and p.id = any(:ids::text[])`,
    values,
  );
  const texts = await scope.rows<
    OriginRow & { state: string; failure: string | null; submitted_at: Date | null }
  >(
    `select t.person_id, t.send_id as broadcast_id, t.step_id, t.program_id, ${ABOUT}, t.state, t.failure, t.submitted_at from message t
      where t.workspace_id = :workspace and t.person_id = any(:ids::text[])`,
    values,
  );
  const replies = await scope.rows<OriginRow & { meaning: string; at: Date }>(
    `select i.person_id, i.meaning, i.at, t.send_id as broadcast_id, t.step_id, t.program_id, ${ABOUT}
       from inbound_text i left join message t on t.id = i.after_text_id
      where i.workspace_id = :workspace and i.person_id = any(:ids::text[])`,
    values,
  );
  const engagements = await scope.rows<OriginRow & { kind: 'clicked' | 'redeemed'; at: Date }>(
    `select e.person_id, e.kind, e.at, t.send_id as broadcast_id, t.step_id, t.program_id, ${ABOUT}
       from engagement e left join message t on t.id = e.text_id
      where e.workspace_id = :workspace and e.person_id = any(:ids::text[])`,
    values,
  );
  const leavings = await scope.rows<{ person_id: string; program_id: string; at: Date }>(
    `select person_id, program_id, at from consent_event
      where workspace_id = :workspace and person_id = any(:ids::text[]) and kind = 'opted-out'`,
    values,
  );
  const vouchers = await scope.rows<VoucherRow>(
    `select v.person_id, v.offer_id, v.uses_left, v.expires_at,
            exists (select 1 from redemption r where r.voucher_id = v.id and r.undone_at is null) as used
       from voucher v where v.workspace_id = :workspace and v.person_id = any(:ids::text[])`,
    values,
  );
  const rowsOf = <T extends { person_id: string }>(rows: readonly T[], id: string) =>
    rows.filter((row) => row.person_id === id);
  return new Map(
    people.map((row) => [
      row.id,
      {
        values: valuesOf(row),
        labels: new Set(row.labels),
        consents: {
          sms: new Map(Object.entries(row.consents)),
          email: new Map(Object.entries(row.mail_consents)),
          chat: new Map(Object.entries(row.chat_consents)),
          voicemail: new Map(Object.entries(row.call_consents)),
        },
        texts: rowsOf(texts, row.id).map((text): RecordedText => ({
          ...originOf(text)!,
          state: text.state,
          failure: text.failure,
          at: text.submitted_at?.getTime() ?? null,
        })),
        replies: rowsOf(replies, row.id).map((reply) => ({
          meaning: reply.meaning,
          after: originOf(reply),
          at: reply.at.getTime(),
        })),
        engagements: rowsOf(engagements, row.id).map((one) => ({
          act: one.kind,
          of: originOf(one),
          at: one.at.getTime(),
        })),
        leavings: rowsOf(leavings, row.id).map(({ program_id, at }) => ({
          program: program_id,
          at: at.getTime(),
        })),
        imports: new Set(row.imports),
        batches: new Set(row.batches),
        vouchers: rowsOf(vouchers, row.id).map((voucher) => ({
          ...{ offer: voucher.offer_id, usesLeft: voucher.uses_left, used: voucher.used },
          expiresAt: voucher.expires_at?.getTime() ?? null,
        })),
      },
    ]),
  );
}

const originOf = ({ broadcast_id, step_id, program_id, about }: OriginRow): TextOrigin | null =>
  program_id === null ? null : { broadcast: broadcast_id, step: step_id, program: program_id, about };

const valuesOf = (row: RecordRow): PersonRecord['values'] => ({
  first_name: row.first_name,
  last_name: row.last_name,
  email: row.email,
  number: row.number,
  further: row.further,
  number_state: row.number && row.number_state,
  email_state: row.email && row.email_state,
  area_code: row.number && areaCodeOf(row.number),
  place: row.place_region,
  postal_code: row.postal_code,
  zone: row.place_zones,
  line_type: row.line_type,
  source: row.source,
  stage: row.stage_id,
  owner: row.owner_id,
  created: row.created_at.getTime(),
  last_text: row.last_text_at?.getTime() ?? null,
  last_reply: row.last_wrote_at?.getTime() ?? null,
  paused_until: row.paused_until?.getTime() ?? null,
  ...Object.fromEntries(Object.entries(row.fields).map(([key, value]) => [`own.${key}`, value])),
});
