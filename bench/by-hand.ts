import type pg from 'pg';

/** Where the rows go: a workspace of their own, so that the same numbers may come once more. */
export interface HandHouse {
  workspaceId: string;
  program: string;
  tags: readonly string[];
}

/**
 * The least a load of these rows can cost: what an import has read goes into the same tables, under the same keys and
 * indexes, by one statement a table and without a question about any row. Nobody is known yet, nothing is decided, no
 * row is told apart from another, it is one transaction; what triggers write is written here, once for all.
 */
export async function loadByHand(client: pg.Client, imported: string, house: HandHouse): Promise<void> {
  const { workspaceId, program, tags } = house;
  const run = (sql: string, values: unknown[]) => client.query(sql, values);
  await run('begin', []);
  // Keys to other tables are checked all the same.
  for (const table of TABLES) await run(`alter table ${table} disable trigger user`, []);
  await run(
    `insert into import select (jsonb_populate_record(i, jsonb_build_object('id', 'imp_by_hand', 'workspace_id', $2::text))).* from import i where i.id = $1`,
    [imported, workspaceId],
  );
  await run(
    `insert into import_row (workspace_id, import_id, line, verdict, number, email, chat, person_id, line_type, reason, told, data, changes)
     select $2, 'imp_by_hand', line, verdict, number, email, chat, 'h' || person_id, line_type, reason, told, data, changes from import_row where import_id = $1`,
    [imported, workspaceId],
  );
  await run(
    `insert into person (id, workspace_id, number, first_name, last_name, email, postal_code, line_type, fields, source, place_region, place_zones, created_at)
     select 'h' || r.person_id, $2, r.number, d.first_name, d.last_name, d.email, d.postal_code, r.line_type, '{}', 'by hand', p.place_region, p.place_zones, now()
       from import_row r join person p on p.id = r.person_id cross join jsonb_to_record(r.data) as d (first_name text, last_name text, email text, postal_code text)
      where r.import_id = $1 and r.verdict = 'add'`,
    [imported, workspaceId],
  );
  await run(
    `insert into address (workspace_id, person_id, kind, rank, value, state, line_type, since)
     select workspace_id, id, 'number', 0, number, 'in-service', line_type, created_at from person where workspace_id = $1
      union all select workspace_id, id, 'email', 0, email, 'in-service', 'unknown', created_at from person where workspace_id = $1 and email is not null`,
    [workspaceId],
  );
  await run(
    `insert into person_label (workspace_id, label_id, person_id, batch_id, at)
     select workspace_id, l, id, 'imp_by_hand', created_at from person, unnest($2::text[]) l where workspace_id = $1`,
    [workspaceId, tags],
  );
  const agreed = `from person p where p.workspace_id = $1 and p.line_type <> 'landline'`;
  await run(
    `insert into consent_event (id, workspace_id, person_id, program_id, channel, address, kind, method, evidence, at, comes)
     select 'c' || p.id, p.workspace_id, p.id, $2, 'sms', p.number, 'opted-in', 'import', '{"wording": "I agree.", "obtainedAt": "2026-01-01", "source": "by hand"}', p.created_at, true ${agreed}`,
    [workspaceId, program],
  );
  await run(
    `insert into consent_state (workspace_id, person_id, program_id, channel, address, state, method, since, event_id, was_in, current)
     select p.workspace_id, p.id, $2, 'sms', p.number, 'in', 'import', p.created_at, 'c' || p.id, true, true ${agreed}`,
    [workspaceId, program],
  );
  const told = (kind: string, detail: string) =>
    `select p.workspace_id, p.id, '${kind}', 'imp_by_hand', ${detail}, p.created_at from person p where p.workspace_id = $1`;
  await run(
    `insert into happening (workspace_id, person_id, kind, subject, detail, at)
     ${told('person.added', `jsonb_build_object('source', p.source)`)} union all ${told('person.imported', `'{"verdict": "add"}'`)}
      union all ${told('program.joined', `'{"channel": "sms", "method": "import", "source": "by hand"}'`)} and p.line_type <> 'landline'
      ${tags.map(() => `union all ${told('tag.put', `'{"by": "imp_by_hand"}'`)}`).join(' ')}`,
    [workspaceId],
  );
  for (const table of TABLES) await run(`alter table ${table} enable trigger user`, []);
  await run('commit', []);
}

const TABLES = ['person', 'address', 'person_label', 'consent_event', 'consent_state'];
