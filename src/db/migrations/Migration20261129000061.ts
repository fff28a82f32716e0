import { Migration } from '@mikro-orm/migrations';

/**
 * What came back to a number (`heard`): messages it carried that were answered first, and those somebody left after, by the
 * day (UTC) they left. Beside what it carried (`sender`), so that how it stands is not counted anew at each look. And who left by
 * an address that was taken away since has left.
 */
export class Migration20261129000061 extends Migration {
  override up(): void {
    for (const sql of UP) this.addSql(sql);
  }

  override down(): void {
    for (const sql of DOWN) this.addSql(sql);
  }
}

const INTO = `insert into tally (workspace_id, about, id, day, what, reason, n, parts, credits)`;
const AFTER = `m.sender_id is not null and m.submitted_at is not null`;
const HEARD = (workspace: string, what: string, n: string): string =>
  `select ${workspace}, 'heard', m.sender_id, (m.submitted_at at time zone 'UTC')::date, '${what}', '', ${n}, 0, 0`;

const ANSWERED = (row: 'new' | 'old', n: number): string =>
  `if ${row}.answers then ${INTO} ${HEARD(`${row}.workspace_id`, 'answered', String(n))} from message m where m.id = ${row}.after_text_id and ${AFTER}; end if;`;

const UP = [
  `alter table tally drop constraint tally_about_check`,
  `alter table tally add check (about in ('send', 'sender', 'heard', 'day', 'hour', 'stay'))`,
  `create function tally_heard() returns trigger language plpgsql as $$
     begin
       if tg_op = 'UPDATE' then ${ANSWERED('old', -1)} end if;
       ${ANSWERED('new', 1)}
       return null;
     end $$`,
  `create function tally_lost() returns trigger language plpgsql as $$
     begin
       ${INTO} ${HEARD('new.workspace_id', 'lost', '1')} from message m where m.id = new.after_text_id and m.program_id = new.program_id and ${AFTER};
       return null;
     end $$`,
  `create trigger tally_heard after insert on inbound_text for each row when (new.answers) execute function tally_heard()`,
  `create trigger tally_heard_anew after update of meaning, after_text_id on inbound_text for each row
     when ((old.answers, old.after_text_id) is distinct from (new.answers, new.after_text_id)) execute function tally_heard()`,
  `create trigger tally_lost after insert on consent_event for each row when (new.leaves and new.after_text_id is not null) execute function tally_lost()`,
  `${INTO} ${HEARD('i.workspace_id', 'answered', 'count(*)')} from inbound_text i join message m on m.id = i.after_text_id where i.answers and ${AFTER} group by 1, 3, 4`,
  `${INTO} ${HEARD('e.workspace_id', 'lost', 'count(*)')} from consent_event e join message m on m.id = e.after_text_id and m.program_id = e.program_id
     where e.leaves and ${AFTER} group by 1, 3, 4`,
  // An opt-out by an address that was taken away since is theirs all the same (`currentAddress`).
  `update consent_state c set current = c.address = w.left_by
     from (select i.person_id, i.program_id, i.channel, i.address, o.address as left_by from consent_state i
             cross join lateral (select o.address from consent_state o where o.person_id = i.person_id and o.program_id = i.program_id and o.channel = i.channel
                                    and o.state = 'out' and o.since >= i.since order by o.since desc, o.address limit 1) o
            where i.current and i.state = 'in') w
    where c.person_id = w.person_id and c.program_id = w.program_id and c.channel = w.channel and c.address in (w.address, w.left_by)`,
  // Today asks how many there are, of all people.
  `create index person_unclear on person (workspace_id, unclear_since) where unclear_since is not null`,
];

const DOWN = [
  `drop index person_unclear`,
  `drop trigger tally_lost on consent_event`,
  `drop trigger tally_heard_anew on inbound_text`,
  `drop trigger tally_heard on inbound_text`,
  `drop function tally_lost(), tally_heard()`,
  `delete from tally where about = 'heard'`,
  `alter table tally drop constraint tally_about_check`,
  `alter table tally add check (about in ('send', 'sender', 'day', 'hour', 'stay'))`,
];
