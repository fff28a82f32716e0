import { textStream } from '@/services/kit/text-stream';
import { todayIn } from '@/services/kit/today';
import { textWorkbook } from '@/services/kit/workbook';
import type { MikroORM } from '@mikro-orm/postgresql';
import { csvLine } from '@/core/export/csv';
import { writeCard } from '@/core/export/vcard';
import type { Condition } from '@/core/audience/condition';
import { showOwnValue } from '@/core/people/values';
import type { Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { peopleByIds, type PersonRow } from '@/db/audience/cut';
import { withWords } from '@/db/delivery/bundles';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { readCondition } from '@/services/audience/audience';
import { ownFields } from '@/services/audience/own-fields';
import { namesById } from './people-screen';
import { readPeopleTable } from './people-table';
import { invalid, type Refusal } from '@/services/kit/validation';

export type ExportFormat = 'csv' | 'xlsx' | 'vcard';

/** Whom an export means: ticked ids, or all that match. */
export type ExportMeant = { kind: 'ids'; ids: string[] } | { kind: 'all'; condition: string; search: string };

export interface ExportFile {
  type: string;
  name: string;
  body: ReadableStream<Uint8Array> | Uint8Array;
}

const PAGE = 2_000;
const MOST_XLSX = 100_000;

/** A file of people, streamed page by page; a workbook is made whole, so it holds fewer. */
export async function exportPeople(
  orm: MikroORM,
  workspaceId: string,
  format: ExportFormat,
  meant: ExportMeant,
  now: Millis,
): Promise<Result<ExportFile, Refusal>> {
  const condition = meant.kind === 'all' ? readCondition(meant.condition) : ok({ all: [] } as Condition);
  if (!condition.ok) return condition;
  const pages = pagesOf(orm, workspaceId, meant, condition.value, now);
  const { day: stamp } = await inWorkspace(orm, workspaceId, (scope) => todayIn(scope, now));
  if (format === 'vcard') {
    const names = await inWorkspace(orm, workspaceId, namesById);
    return ok({
      type: 'text/vcard; charset=utf-8',
      name: `people-${stamp}.vcf`,
      body: textStream(pages, (row) => cardOf(row, names)),
    });
  }
  const table = await inWorkspace(orm, workspaceId, tableOf);
  if (format === 'csv')
    return ok({
      type: 'text/csv; charset=utf-8',
      name: `people-${stamp}.csv`,
      body: textStream(pages, (row) => csvLine(table.cells(row), [0]), {
        head: `\uFEFF${csvLine(table.header)}`,
      }),
    });
  const rows: PersonRow[] = [];
  for await (const page of pages) {
    rows.push(...page);
    if (rows.length > MOST_XLSX)
      return invalid(
        'format',
        `format: a workbook holds at most ${MOST_XLSX.toLocaleString('en-US')} people. Take CSV.`,
      );
  }
  return textWorkbook(`people-${stamp}.xlsx`, [table.header, ...rows.map(table.cells)]);
}

async function* pagesOf(
  orm: MikroORM,
  workspaceId: string,
  meant: ExportMeant,
  condition: Condition,
  now: Millis,
): AsyncGenerator<PersonRow[]> {
  if (meant.kind === 'ids') {
    for (let i = 0; i < meant.ids.length; i += PAGE)
      yield await inWorkspace(orm, workspaceId, (scope) => peopleByIds(scope, meant.ids.slice(i, i + PAGE)));
    return;
  }
  const { search } = meant;
  for (let after: string | null = ''; after !== null;) {
    const from: string = after;
    const page = await inWorkspace(orm, workspaceId, (scope) =>
      readPeopleTable(scope, { condition, search, sort: 'added', after: from }, now, PAGE),
    );
    if (!page.ok) return;
    yield page.value.rows;
    after = page.value.next;
  }
}

async function tableOf(scope: Scope): Promise<{ header: string[]; cells(row: PersonRow): string[] }> {
  const names = await namesById(scope);
  const own = await ownFields(scope);
  const iso = (at: Date | null) => at?.toISOString() ?? '';
  return {
    header: [
      'Number',
      'First name',
      'Last name',
      'E-mail',
      'Further addresses',
      'State',
      'Line type',
      'Programs',
      'Tags and lists',
      'Stage',
      'Owner',
      'Source',
      'Added',
      'Last text',
      'Last reply',
      ...own.map(({ label }) => label),
    ],
    cells: (row) => [
      row.number ?? '',
      row.first_name ?? '',
      row.last_name ?? '',
      row.email ?? '',
      (row.further ?? []).join('; '),
      row.place_region ?? '',
      row.line_type,
      row.programs.map(({ id, state }) => `${names[id] ?? id}: ${state}`).join('; '),
      row.label_ids.map((id) => names[id] ?? '').join('; '),
      names[row.stage_id ?? ''] ?? '',
      names[row.owner_id ?? ''] ?? '',
      row.source,
      iso(row.created_at),
      iso(row.last_text_at),
      iso(row.last_wrote_at),
      ...own.map(({ key }) => showOwnValue(row.fields[key])),
    ],
  };
}

const cardOf = (row: PersonRow, names: Record<string, string>): string =>
  writeCard({
    numbers: [row.number, ...(row.further ?? []).filter((one) => !one.includes('@'))].filter(
      (one) => one !== null,
    ),
    firstName: row.first_name,
    lastName: row.last_name,
    emails: [row.email, ...(row.further ?? []).filter((one) => one.includes('@'))].filter(
      (one) => one !== null,
    ),
    region: row.place_region,
    postalCode: null,
    tags: row.label_ids.flatMap((id) => names[id] ?? []),
  });

const sentRows = (scope: Scope, id: string) =>
  scope.rows<{ id: string; body: string; clearance: unknown; bundle_id: string | null }>(
    `select id, channel, address, kind, body, state, failure, clearance, created_at, submitted_at, settled_at, bundle_id from message
      where workspace_id = :workspace and person_id = :id order by created_at, id`,
    { id },
  );

/** Everything about one person, as JSON: fields, consent with its evidence, texts both ways, labels, audit. */
export async function exportPerson(scope: Scope, id: string): Promise<object | null> {
  const list = (sql: string) => scope.rows(sql, { id });
  const [person] = await list(`select * from person where workspace_id = :workspace and id = :id`);
  if (!person) return null;
  return {
    person,
    addresses: await list(
      `select kind, value, rank = 0 as preferred, state, line_type, since from address where workspace_id = :workspace and person_id = :id order by kind, rank`,
    ),
    labels: await list(
      `select l.kind, l.name, x.at from person_label x join label l on l.id = x.label_id where x.workspace_id = :workspace and x.person_id = :id`,
    ),
    consent: await list(
      `select e.kind, e.method, e.channel, e.address, e.at, e.evidence, g.name as program from consent_event e join program g on g.id = e.program_id where e.workspace_id = :workspace and e.person_id = :id order by e.seq`,
    ),
    texts: await withWords(scope, await sentRows(scope, id)),
    received: await list(
      `select id, body, meaning, rule, at from inbound_text where workspace_id = :workspace and person_id = :id order by at`,
    ),
    imports: await list(
      `select import_id, line, verdict, data from import_row where workspace_id = :workspace and person_id = :id`,
    ),
    audit: await list(
      `select actor, action, detail, at from audit_entry where workspace_id = :workspace and subject = :id order by id`,
    ),
  };
}
