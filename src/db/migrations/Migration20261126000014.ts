import { Migration } from '@mikro-orm/migrations';

/** Workspaces and programs that are changed where they are shown, with what was promised; people who are invited. */
export class Migration20261126000014 extends Migration {
  override up(): void {
    for (const statement of [...PROGRAMS, ...WORKSPACES, ...REFERENCES]) this.addSql(statement);
  }

  override down(): void {
    for (const statement of BACK) this.addSql(statement);
  }
}

const PROGRAMS = [
  `alter table program add column stamp integer not null default 0, add column merged_into text references program`,
  // What was promised from when on; none for a program whose promise never changed.
  `create table program_promise (
     workspace_id text not null, program_id text not null, since timestamptz not null, count integer check (count > 0),
     period text not null check (period in ('week', 'month')), binds text not null check (binds in ('all', 'later')),
     primary key (program_id, since), foreign key (workspace_id, program_id) references program (workspace_id, id))`,
];

const WORKSPACES = [
  `alter table workspace add column stamp integer not null default 0`,
  // An invitation is a link that works once: only the hash of its key is kept.
  `create table invitation (
     id text primary key, workspace_id text not null references workspace, email text not null, name text not null, role text not null,
     hash text not null unique, created_by text not null, created_at timestamptz not null, expires_at timestamptz not null,
     accepted_at timestamptz, revoked_at timestamptz)`,
  `create unique index invitation_open on invitation (workspace_id, lower(email)) where accepted_at is null and revoked_at is null`,
  // Where the first owner comes in.
  `create table first_door (hash text primary key, created_at timestamptz not null, used_at timestamptz)`,
];

// A row reaches only into its own workspace; that it is one is said by the row it points at.
const REFERENCES = [
  `alter table enrolment drop constraint enrolment_workspace_id_fkey, drop constraint enrolment_sequence_id_fkey, drop constraint enrolment_person_id_fkey,
     add constraint enrolment_sequence foreign key (workspace_id, sequence_id) references sequence (workspace_id, id),
     add constraint enrolment_person foreign key (workspace_id, person_id) references person (workspace_id, id)`,
  `alter table task drop constraint task_person_id_fkey, add constraint task_person foreign key (workspace_id, person_id) references person (workspace_id, id)`,
  `alter table trial drop constraint trial_sequence_id_fkey, drop constraint trial_person_id_fkey,
     add constraint trial_sequence foreign key (workspace_id, sequence_id) references sequence (workspace_id, id),
     add constraint trial_person foreign key (workspace_id, person_id) references person (workspace_id, id)`,
];

const BACK = [
  `alter table trial drop constraint trial_sequence, drop constraint trial_person,
     add constraint trial_sequence_id_fkey foreign key (sequence_id) references sequence, add constraint trial_person_id_fkey foreign key (person_id) references person`,
  `alter table task drop constraint task_person, add constraint task_person_id_fkey foreign key (person_id) references person`,
  `alter table enrolment drop constraint enrolment_sequence, drop constraint enrolment_person,
     add constraint enrolment_workspace_id_fkey foreign key (workspace_id) references workspace, add constraint enrolment_sequence_id_fkey foreign key (sequence_id) references sequence,
     add constraint enrolment_person_id_fkey foreign key (person_id) references person`,
  `drop table first_door`,
  `drop table invitation`,
  `alter table workspace drop column stamp`,
  `drop table program_promise`,
  `alter table program drop column merged_into, drop column stamp`,
];
