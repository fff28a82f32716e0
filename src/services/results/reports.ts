import { parseEmail } from '@/core/people/address';
import { nextReport, REPORT_PLACES, type ReportPlace } from '@/core/results/report';
import { DIMENSIONS, OUTCOMES } from '@/core/results/works';
import { clean } from '@/core/people/values';
import { DAY, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { acrossWorkspaces, inWorkspace, type Scope } from '@/db/kit/scope';
import { Report } from '@/db/results/entities';
import { dueReports, reportByKey } from '@/db/results/reports';
import { writeToTeammates } from '@/services/email/teammate-mail';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { hashLinkKey, newLinkKey } from '@/services/kit/link-key';
import { publicUrl } from '@/services/kit/settings';
import { asDue, type Queue } from '@/services/kit/trouble';
import { invalid, notFound, readInput, type Refusal } from '@/services/kit/validation';
import { readAsked, type Asked } from './asked';
import { SpanInput, type ReportInput } from './inputs';
import type { ResultTable } from '@/core/results/table';
import { readTables, type More } from './tables';

export const findReports = (scope: Scope): Promise<Report[]> =>
  scope.em.find(Report, {}, { orderBy: { madeAt: 'desc' } });

export const findReport = (scope: Scope, id: string): Promise<Report | null> =>
  scope.em.findOne(Report, { id });

const MOST_REPORTS = 200;

/** Keeps a page of results under a name. */
export async function keepReport(
  ctx: Context,
  scope: Scope,
  input: ReportInput,
  actor: Actor,
): Promise<Result<Report, Refusal>> {
  if ((await scope.em.count(Report, {})) >= MOST_REPORTS)
    return invalid('name', `name: there are ${MOST_REPORTS} reports already. Remove one first.`);
  const asked = await readQuery(scope, input.query ?? '', ctx.now());
  if (!asked.ok) return asked;
  const recipients = readRecipients(input.recipients ?? []);
  if (!recipients.ok) return recipients;
  const every = input.every ?? null;
  if (every !== null && recipients.value.length === 0)
    return invalid('recipients', 'recipients: say to whom it is sent.');
  const report = scope.em.create(Report, {
    ...{ id: ctx.id('rpt'), workspaceId: scope.workspaceId, name: clean(input.name), place: input.place },
    ...{ query: input.query ?? '', every, atHour: every === null ? null : (input.at_hour ?? 7) },
    ...{ recipients: recipients.value, dueAt: null, sentAt: null, keyHash: null, keyEndsAt: null },
    ...{ madeBy: actor.accountId, madeAt: new Date(ctx.now()) },
  });
  if (every !== null)
    report.dueAt = new Date(nextReport(every, report.atHour!, ctx.now(), (await workspaceOf(scope)).zone));
  await scope.em.persistAndFlush(report);
  await writeAudit(ctx, scope, actor.name, 'report.kept', report.id, { name: report.name, every });
  return ok(report);
}

const workspaceOf = (scope: Scope): Promise<Workspace> =>
  scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });

function readRecipients(given: readonly string[]): Result<string[], Refusal> {
  const kept = new Set<string>();
  for (const one of given) {
    const email = parseEmail(one);
    if (!email.ok)
      return invalid('recipients', `recipients: “${one}” is no e-mail address, such as ana@example.org.`);
    kept.add(email.value);
  }
  return ok([...kept]);
}

/** What the address of a page of results asks for, read as whoever opens the page would be. */
export async function readQuery(
  scope: Scope,
  query: string,
  now: Millis,
): Promise<Result<{ asked: Asked; more: More }, Refusal>> {
  const params = Object.fromEntries(new URLSearchParams(query));
  const { days, from, to, program, channel, compare, outcome } = params;
  const given = Object.entries({ from, to, program, channel }).filter(([, value]) => value !== undefined);
  const input = await readInput(SpanInput, {
    ...Object.fromEntries(given),
    ...(days === undefined ? {} : { days: Number(days) }),
  });
  if (!input.ok) return input;
  const asked = await readAsked(scope, input.value, now);
  if (!asked.ok) return asked;
  const [dimension, by] = [
    DIMENSIONS.find((one) => one === compare),
    OUTCOMES.find((one) => one === outcome),
  ];
  return ok({
    asked: asked.value,
    more: { ...(dimension && { compare: dimension }), ...(by && { outcome: by }) },
  });
}

export async function dropReport(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  if ((await scope.em.nativeDelete(Report, { id })) === 0) return notFound('report');
  await writeAudit(ctx, scope, actor.name, 'report.removed', id, {});
  return ok(null);
}

/** A link that shows it to whoever holds it, for some days; the one before ends. */
export async function shareReport(
  ctx: Context,
  scope: Scope,
  id: string,
  days: number,
  actor: Actor,
): Promise<Result<{ key: string; ends: Date }, Refusal>> {
  const report = await findReport(scope, id);
  if (!report) return notFound('report');
  const key = newLinkKey();
  const ends = new Date(ctx.now() + days * DAY);
  Object.assign(report, { keyHash: hashLinkKey(key), keyEndsAt: ends });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'report.shared', id, { ends: ends.toISOString() });
  return ok({ key, ends });
}

export async function endSharing(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: Actor,
): Promise<Result<null, Refusal>> {
  const changed = await scope.em.nativeUpdate(Report, { id }, { keyHash: null, keyEndsAt: null });
  if (changed === 0) return notFound('report');
  await writeAudit(ctx, scope, actor.name, 'report.unshared', id, {});
  return ok(null);
}

export interface ShownReport {
  name: string;
  business: string;
  span: Asked['span'];
  tables: ResultTable[];
}

/** A report as it is now. */
export async function readReport(
  ctx: Context,
  scope: Scope,
  report: Report,
): Promise<Result<ShownReport, Refusal>> {
  const query = await readQuery(scope, report.query, ctx.now());
  if (!query.ok) return query;
  const tables = await readTables(scope, report.place, query.value.asked, query.value.more);
  if (!tables.ok) return tables;
  const { business } = await workspaceOf(scope);
  return ok({ name: report.name, business, span: query.value.asked.span, tables: tables.value });
}

/** What a link shows; null: it is none, or has ended. */
export async function readSharedReport(ctx: Context, key: string): Promise<ShownReport | null> {
  const found = await acrossWorkspaces(ctx.orm, (crossing) =>
    reportByKey(crossing, hashLinkKey(key), new Date(ctx.now())),
  );
  if (!found) return null;
  return inWorkspace(ctx.orm, found.workspace_id, async (scope) => {
    const report = await findReport(scope, found.id);
    const shown = report && (await readReport(ctx, scope, report));
    return shown?.ok ? shown.value : null;
  });
}

/** Reports that are sent by themselves. */
export const REPORT_QUEUE: Queue = {
  name: 'report',
  rows: {
    named: `(select name from report r where r.workspace_id = :workspace and r.id = x.row_id)`,
    waits: `exists (select 1 from report r where r.id = x.row_id and r.due_at is not null)`,
  },
  everyMs: 10_000,
  giveUp: async (_, scope, id) =>
    ok(await scope.em.nativeUpdate(Report, { id }, { dueAt: null, every: null })),
  due: async (reading, untroubled, at) => asDue(await dueReports(reading, untroubled('r.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => sendReport(ctx, scope, id)),
};

async function sendReport(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const at = ctx.now();
  const report = await scope.em.findOne(Report, { id, dueAt: { $lte: new Date(at) } });
  if (!report?.every) return false;
  const shown = await readReport(ctx, scope, report);
  if (!shown.ok) throw new Error(shown.reason.problems[0]!.message);
  const body = letterOf(report, shown.value);
  await writeToTeammates(
    ctx,
    scope,
    report.recipients.map((address) => ({
      to: { address },
      subject: `${report.name}: ${shown.value.business}`,
      body,
    })),
  );
  // What fell due while nothing ran is sent once, not for each time.
  report.dueAt = new Date(nextReport(report.every, report.atHour!, at, (await workspaceOf(scope)).zone));
  report.sentAt = new Date(at);
  await scope.em.flush();
  return true;
}

const ROWS_IN_LETTER = 40;

/** A report in plain words: each table line by line, as many rows as one reads. */
function letterOf({ id, name }: Report, { span, tables }: ShownReport): string {
  const cell = (value: string | number | null): string =>
    typeof value === 'number' && !Number.isInteger(value)
      ? `${(value * 100).toFixed(1)} %`
      : String(value ?? '–');
  return [
    `${name}, days from ${span.from} until ${span.until}, which is not in it.`,
    ...tables.flatMap(({ name: title, columns, rows }) => [
      '',
      title,
      columns.join(' | '),
      ...rows.slice(0, ROWS_IN_LETTER).map((row) => row.map(cell).join(' | ')),
      ...(rows.length > ROWS_IN_LETTER ? [`and ${rows.length - ROWS_IN_LETTER} more rows`] : []),
    ]),
    '',
    `${publicUrl()}/results/reports/${id}`,
  ].join('\n');
}

export const isReportPlace = (word: string): word is ReportPlace => REPORT_PLACES.some((one) => one === word);
