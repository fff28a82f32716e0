import { LEFT_STATES } from '@/core/results/sums';
import { countsAsSent } from '@/db/delivery/texts';
import { kindsThat } from '@/core/message/kinds';
import type { Measure } from '@/core/results/overview';
import { CALLED } from '@/db/people/addresses';
import { STANDS } from '@/db/consent/joined';
import { sqlList } from '@/db/kit/sql';
import type { Scope } from '@/db/kit/scope';
import type { Instants } from './works';

/** Whose number it is. */
export interface Behind extends Instants {
  measure: Measure;
  /** Of failures why, of who came by which way, of who went after what; null: any. */
  reason: string | null;
  program: string | null;
  channel: string | null;
}

export interface BehindRow {
  person_id: string;
  first_name: string | null;
  last_name: string | null;
  number: string | null;
  /** The preferred one of theirs; null: they have none. */
  address: string | null;
  /** How often. */
  n: number;
  last: Date;
}

const OF_MESSAGES = (states: readonly string[], reason = ''): string =>
  `select m.person_id, m.submitted_at as at from message m
    where m.workspace_id = :workspace and m.program_id in (select id from program where workspace_id = :workspace) and m.submitted_at >= :from and m.submitted_at < :until
      and m.state in (${sqlList(states)}) and ${countsAsSent('m')} and (:program::text is null or m.program_id = :program) and (:channel::text is null or m.channel = :channel) ${reason}`;

const OF_REPLIES = (which: string): string =>
  `select i.person_id, i.at from inbound_text i left join message m on m.id = i.after_text_id
    where i.workspace_id = :workspace and i.at >= :from and i.at < :until and ${which}
      and (:program::text is null or m.program_id = :program) and (:channel::text is null or i.channel = :channel)`;

const OF_LEDGER = (which: string): string =>
  `select e.person_id, e.at from consent_event e left join message m on m.id = e.after_text_id and m.program_id = e.program_id
    where e.workspace_id = :workspace and e.at >= :from and e.at < :until and ${which}
      and (:program::text is null or e.program_id = :program) and (:channel::text is null or e.channel = :channel)`;

const OF_ENGAGED = (which: string): string =>
  `select g.person_id, g.at from engagement g left join message m on m.id = g.text_id
    where g.workspace_id = :workspace and g.at >= :from and g.at < :until and ${which}
      and (:program::text is null or m.program_id = :program) and (:channel::text is null or m.channel = :channel)`;

const WHO: Record<Measure, string> = {
  sent: OF_MESSAGES(LEFT_STATES),
  spent: OF_MESSAGES(LEFT_STATES, 'and m.credits > 0'),
  delivered: OF_MESSAGES(['delivered']),
  failed: OF_MESSAGES(['failed'], 'and (:reason::text is null or m.failure = :reason)'),
  answered: `select i.person_id, i.at from inbound_text i join message m on m.id = i.after_text_id
    where i.workspace_id = :workspace and i.answers and m.submitted_at >= :from and m.submitted_at < :until and m.kind in (${sqlList(kindsThat(({ counts }) => counts))})
      and (:program::text is null or m.program_id = :program) and (:channel::text is null or m.channel = :channel)`,
  replied: OF_REPLIES(`i.meaning in ('reply', 'unclear')`),
  conversation: OF_REPLIES('i.begins'),
  joined: OF_LEDGER(`e.comes and ${STANDS} and (:reason::text is null or e.method = :reason)`),
  left: OF_LEDGER(`e.leaves and (:reason::text is null or coalesce(m.kind, '') = :reason)`),
  clicked: OF_ENGAGED(`g.kind = 'clicked' and g.first`),
  redeemed: OF_ENGAGED(`g.kind = 'redeemed'`),
};

/** The people behind a number, the latest first; who was erased is not among them. */
export const peopleBehind = (
  scope: Scope,
  behind: Behind,
  skip: number,
  most: number,
): Promise<BehindRow[]> => {
  const { measure, reason, program, channel, from, until } = behind;
  return scope.rows<BehindRow>(
    `select p.id as person_id, p.first_name, p.last_name, p.number, ${CALLED} as address, b.n, b.last from (
       select person_id, count(*)::int as n, max(at) as last from (${WHO[measure]}) rows group by 1) b
       join person p on p.id = b.person_id and p.workspace_id = :workspace and p.erased_at is null
      order by b.last desc, p.id limit :most offset :skip`,
    { reason, program, channel, from, until, skip, most },
  );
};
