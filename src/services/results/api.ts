import { ok } from '@/core/shared/result';
import type { Report } from '@/db/results/entities';
import { messageRows } from '@/db/results/messages';
import { act, get, listed, post, remove, viewed, type Endpoint } from '@/services/kit/api';
import { publicUrl } from '@/services/kit/settings';
import { notFound } from '@/services/kit/validation';
import { readAsked } from './asked';
import {
  CheckProofInput,
  OverviewInput,
  ProofInput,
  ReportInput,
  ShareReportInput,
  SpanInput,
  WorksInput,
} from './inputs';
import { checkProof, makeProof, shownProof, signed } from './proofs';
import {
  dropReport,
  endSharing,
  findReport,
  findReports,
  keepReport,
  readReport,
  shareReport,
} from './reports';
import { readKeeping, readOverview, readSpeed } from './screen';
import { readWorks } from './works';

const reportView = ({
  id,
  name,
  place,
  query,
  every,
  atHour,
  recipients,
  dueAt,
  sentAt,
  keyEndsAt,
}: Report) => ({
  ...{ id, name, place, query, every, at_hour: atHour, recipients, due_at: dueAt, sent_at: sentAt },
  shared_until: keyEndsAt,
});

export const RESULTS_API: readonly Endpoint[] = [
  post(
    '/results/overview',
    'What happened in a span of days, against as long a time before',
    OverviewInput,
    200,
    async ({ ctx, scope, input }) => {
      const asked = await readAsked(scope, input, ctx.now());
      return asked.ok ? ok(await readOverview(scope, asked.value, input.by)) : asked;
    },
  ),
  post(
    '/results/works',
    'What works: things compared by an outcome, each against all the others together',
    WorksInput,
    200,
    async ({ ctx, scope, input }) => {
      const asked = await readAsked(scope, input, ctx.now());
      return asked.ok ? readWorks(scope, asked.value, input.compare, input.outcome) : asked;
    },
  ),
  post(
    '/results/keeping',
    'How long people stay, by month of coming, and how often is too often',
    SpanInput,
    200,
    async ({ ctx, scope, input }) => {
      const asked = await readAsked(scope, input, ctx.now());
      return asked.ok ? ok(await readKeeping(scope, asked.value)) : asked;
    },
  ),
  post(
    '/results/speed',
    'How soon people are answered, and how soon they answer',
    SpanInput,
    200,
    async ({ ctx, scope, input }) => {
      const asked = await readAsked(scope, input, ctx.now());
      return asked.ok ? ok(await readSpeed(scope, asked.value)) : asked;
    },
  ),
  {
    ...get(
      '/messages',
      'Every message, in the order they were made, with what became of it',
      async ({ scope, page }) =>
        ok(
          listed(
            await messageRows(scope, { after: page.after, most: page.limit + 1, from: null, until: null }),
            page.limit,
            (row) => row,
          ),
        ),
    ),
    paged: true,
  },
  get('/reports', 'Reports that are kept', async ({ scope }) =>
    ok({ items: (await findReports(scope)).map(reportView) }),
  ),
  post(
    '/reports',
    'Keep a page of results as a report',
    ReportInput,
    201,
    async ({ ctx, scope, input, actor }) => viewed(await keepReport(ctx, scope, input, actor), reportView),
  ),
  get('/reports/{id}', 'A report as it is now, in tables', async ({ ctx, scope, id }) => {
    const report = await findReport(scope, id);
    return report ? readReport(ctx, scope, report) : notFound('report');
  }),
  remove('/reports/{id}', 'Remove a report', ({ ctx, scope, id, actor }) =>
    dropReport(ctx, scope, id, actor),
  ),
  post(
    '/reports/{id}/share',
    'A link that shows it to whoever holds it; the one before ends',
    ShareReportInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await shareReport(ctx, scope, id, input.days ?? 30, actor), ({ key, ends }) => ({
        ...{ url: `${publicUrl()}/report/${key}`, ends },
      })),
  ),
  act('/reports/{id}/unshare', 'End the link of a report', ({ ctx, scope, id, actor }) =>
    endSharing(ctx, scope, id, actor),
  ),
  post(
    '/proofs',
    'Prove everything that went to an address, and why',
    ProofInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await makeProof(ctx, scope, input.address, actor), (proof) => ({
        id: proof.id,
        ...signed(proof),
      })),
  ),
  get('/proofs/{id}', 'A proof that was made', async ({ scope, id }) => shownProof(scope, id)),
  post(
    '/proofs/check',
    'Whether a document is a proof made here, unchanged',
    CheckProofInput,
    200,
    async ({ scope, input }) => checkProof(scope, input.document),
  ),
];
