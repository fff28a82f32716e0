import type { MikroORM } from '@mikro-orm/postgresql';
import { csvLine } from '@/core/export/csv';
import { cutText } from '@/core/shared/clean-text';
import { DAY } from '@/core/shared/instant';
import { instantAt } from '@/core/shared/zone';
import { isDay } from '@/core/audience/days';
import { auditKinds, auditPage, namesOf, type AuditCut, type AuditRow } from '@/db/access/audit';
import { toJson } from '@/db/kit/json';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { textStream } from '@/services/kit/text-stream';

/** As it stands in an address; what cannot be read counts as not asked. Days are of the workspace's calendar. */
export function readAuditCut(asked: Record<string, string | undefined>, zone: string): AuditCut {
  const day = (text: string | undefined, after: number) =>
    text && isDay(text) ? new Date(instantAt(text, '00:00', zone) + after) : null;
  const word = (text: string | undefined) => cutText(text ?? '', 200);
  return {
    ...{ actor: word(asked.actor), action: word(asked.action), subject: word(asked.subject) },
    // The last day counts whole.
    ...{ from: day(asked.from, 0), to: day(asked.to, DAY) },
  };
}

const MOST = 100;

export async function readAudit(scope: Scope, cut: AuditCut, before: string | null) {
  const found = await auditPage(scope, cut, before, MOST + 1);
  const rows = found.slice(0, MOST);
  return {
    ...(await auditKinds(scope)),
    rows,
    names: await namesOf(scope, idsIn(rows)),
    next: found.length > MOST ? rows[MOST - 1]!.id : null,
  };
}

/** Ids of what entries speak of, wherever they stand in them. */
const idsIn = (rows: readonly AuditRow[]): string[] => [
  ...new Set(toJson(rows.map(({ subject, detail }) => [subject, detail])).match(/\b[a-z]{3}_[0-9a-z]+\b/g)),
];

const AT_ONCE = 2_000;

/** The same as CSV, all of it, streamed. */
export function auditFile(orm: MikroORM, workspaceId: string, cut: AuditCut): ReadableStream<Uint8Array> {
  return textStream(pagesOf(orm, workspaceId, cut), lineOf, {
    head: `\uFEFF${csvLine(['when', 'who', 'did', 'to', 'detail'])}`,
  });
}

async function* pagesOf(orm: MikroORM, workspaceId: string, cut: AuditCut): AsyncGenerator<AuditRow[]> {
  let before: string | null = null;
  for (;;) {
    const from: string | null = before;
    const rows: AuditRow[] = await inWorkspace(orm, workspaceId, (scope) =>
      auditPage(scope, cut, from, AT_ONCE),
    );
    if (rows.length === 0) return;
    yield rows;
    before = rows.at(-1)!.id;
  }
}

const lineOf = ({ at, actor, name, action, subject, detail }: AuditRow): string =>
  csvLine([at.toISOString(), name ?? actor, action, subject, toJson(detail)]);
