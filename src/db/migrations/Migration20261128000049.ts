import { Migration } from '@mikro-orm/migrations';

/** What other tools may read: views of one workspace, for roles of the database that may do nothing else. */
export class Migration20261128000049 extends Migration {
  override up(): void {
    for (const sql of [
      `create table reader (
         role text primary key, workspace_id text not null references workspace on delete cascade, created_at timestamptz not null)`,
      `create schema reading`,
      ...Object.entries(VIEWS).map(
        ([name, select]) => `create view reading.${name} with (security_barrier = true) as ${select}`,
      ),
    ])
      this.addSql(sql);
  }

  override down(): void {
    for (const sql of [`drop schema reading cascade`, `drop table reader`]) this.addSql(sql);
  }
}

/** Of whoever asks: a role reads one workspace. */
const mine = (row: string): string =>
  `${row}.workspace_id = (select r.workspace_id from public.reader r where r.role = current_user)`;

const SEND = 'coalesce(b.name, q.name, t.name)';
const sends = (id: string): string =>
  `left join broadcast b on b.id = ${id} left join sequence q on q.id = ${id} left join batch t on t.id = ${id}`;

/** See `docs/formats/reading.md`. Once there, a column keeps its name and its meaning. */
const VIEWS: Record<string, string> = {
  people: `select p.id, p.first_name, p.last_name, p.number, p.email, p.created_at from person p
    where ${mine('p')} and p.merged_into is null and p.erased_at is null`,
  programs: `select g.id, g.name, g.purpose, g.archived_at, g.created_at from program g where ${mine('g')}`,
  consents: `select c.person_id, g.name as program, c.channel, c.address, c.state, c.method, c.since
    from consent_state c join program g on g.id = c.program_id where ${mine('c')} and c.current`,
  consent_events: `select e.id, e.person_id, g.name as program, e.channel, e.kind, e.method, e.at
    from consent_event e join program g on g.id = e.program_id where ${mine('e')}`,
  messages: `select m.id, m.person_id, m.channel, m.kind, g.name as program, m.send_id, ${SEND} as send, m.address, n.number as from_number, m.body, m.parts,
      case when m.submitted_at is null then 0 else m.credits end as credits, m.state, m.failure, m.created_at, m.submitted_at as left_at, m.settled_at
    from message m join program g on g.id = m.program_id left join sender_number n on n.id = m.sender_id ${sends('m.send_id')} where ${mine('m')}`,
  replies: `select i.id, i.person_id, i.channel, i.body, i.meaning, i.after_text_id as message_id, i.at from inbound_text i where ${mine('i')}`,
  sends: `select s.id, s.kind, ${SEND} as name, s.began_at from send s ${sends('s.id')} where ${mine('s')}`,
  numbers: `select n.id, n.number, n.kind, n.registration, n.daily_cap, n.rest_until, n.created_at from sender_number n where ${mine('n')} and n.released_at is null`,
  credits: `select e.id, e.at, e.kind, e.delta as credits, e.texts as messages, e.channel, g.name as program, ${SEND} as send
    from credit_entry e left join program g on g.id = e.program_id ${sends('e.send_id')} where ${mine('e')}`,
  days: `select t.day, g.name as program, t.channel, t.what, t.reason, sum(t.n)::integer as n, sum(t.credits)::integer as credits
    from tally t left join program g on g.id = t.id where ${mine('t')} and t.about = 'day' group by 1, 2, 3, 4, 5 having sum(t.n) <> 0`,
};
