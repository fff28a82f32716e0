import { SECOND, toIso, type Millis } from '@/core/shared/instant';
import { toJson } from '@/db/kit/json';
import { ok, type Result } from '@/core/shared/result';
import {
  act,
  found,
  get,
  getPage,
  post,
  viewed,
  type Call,
  type Endpoint,
  type Page,
  listed,
} from '@/services/kit/api';
import { reportClearance } from '@/services/clearance/report-clearance';
import { notFound, type Refusal } from '@/services/kit/validation';
import { actOnBroadcast, callBackBroadcast, createBroadcast, sendBroadcast } from './broadcasts';
import { chooseWording, compareWordings } from './choose-wording';
import { leaveOutOf } from './leave-out';
import { letterOf } from '@/core/broadcast/wordings';
import { copyBroadcast } from './copy-broadcast';
import { endRepeat } from './repeat-broadcast';
import { outcomeObject } from './export-result';
import { outcomeRows } from '@/db/sends/outcomes';
import { BY_WORDS, readOutcomes, type OutcomeLine } from './outcomes';
import { reschedule } from './reschedule';
import { endShares, shareResult } from './share-result';
import { changePace } from './change-pace';
import {
  ChangePaceInput,
  ChooseWordingInput,
  CopyBroadcastInput,
  CreateBroadcastInput,
  LeaveOutInput,
  RescheduleInput,
  SendBroadcastInput,
  ShareResultInput,
} from './inputs';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from './move-broadcast';
import type { Scope } from '@/db/kit/scope';
import { Broadcast } from '@/db/sends/entities';
import type { Comparison } from '@/core/broadcast/wordings';
import { broadcastView, rateView, resultView, resultOf } from './views';
import { broadcastCounts } from '@/db/results/results';

export async function listBroadcasts(scope: Scope, { after, limit }: Page) {
  const where = after === '' ? {} : { id: { $lt: after } };
  const rows = await scope.em.find(Broadcast, where, { orderBy: { id: 'desc' }, limit: limit + 1 });
  return listed(rows, limit, broadcastView);
}

export async function readBroadcast(scope: Scope, id: string) {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  return broadcast && broadcastView(broadcast);
}

export async function readResult(scope: Scope, id: string) {
  const [row] = await broadcastCounts(scope, [id]);
  if (!row) return null;
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id });
  return {
    ...{ ...broadcastView(broadcast), ...resultView(resultOf(row)) },
    ...(broadcast.comparison ? await wordingsView(scope, id, broadcast.comparison) : {}),
  };
}

async function listOutcomes(scope: Scope, id: string, { after, limit }: Page) {
  if (!(await readBroadcast(scope, id))) return notFound('broadcast');
  const rows = await outcomeRows(scope, { id, after, most: limit + 1 });
  return ok(listed(rows, limit, (row) => ({ id: row.id, ...outcomeObject(row) })));
}

const outcomeView = (line: OutcomeLine) => ({
  label: line.label,
  ...{ people: line.people, delivered: line.delivered, failed: line.failed },
  ...{ replies: line.replies, clicks: line.clicks, opt_outs: line.opt_outs },
  ...{ reply_rate: rateView(line.reply), opt_out_rate: rateView(line.optOut) },
});

async function wordingsView(scope: Scope, id: string, comparison: Comparison) {
  const { tallies, verdict } = await compareWordings(scope, id, comparison);
  return {
    wordings: tallies.map(({ failed: _failed, ...tally }, i) => ({
      letter: letterOf(i),
      ...tally,
      rate: rateView(verdict.rates[i]!),
    })),
    better: verdict.better,
  };
}

const move = (verb: string, summary: string, how: Parameters<typeof actOnBroadcast>[3]): Endpoint =>
  act(`/broadcasts/{id}/${verb}`, summary, async ({ ctx, scope, id, actor }) =>
    viewed(await actOnBroadcast(ctx, scope, id, how, actor), broadcastView),
  );

export const SENDS_API: readonly Endpoint[] = [
  getPage('/broadcasts', 'Broadcasts, newest first', ({ scope, page }) =>
    listBroadcasts(scope, page).then(ok),
  ),
  post(
    '/broadcasts',
    'Write a broadcast as a draft',
    CreateBroadcastInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createBroadcast(ctx, scope, input, actor), broadcastView),
  ),
  get('/broadcasts/{id}', 'A broadcast', async ({ scope, id }) =>
    found(await readBroadcast(scope, id), 'broadcast'),
  ),
  get(
    '/broadcasts/{id}/clearance',
    'Its clearance report: who would get it now or at its time, and who not and why',
    clearanceReport,
  ),
  post(
    '/broadcasts/{id}/send',
    'Send it now or at a time',
    SendBroadcastInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await sendBroadcast(ctx, scope, id, input, actor), broadcastView),
  ),
  post(
    '/broadcasts/{id}/pace',
    'Let it go slower or faster while it goes out',
    ChangePaceInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changePace(ctx, scope, id, input, actor), broadcastView),
  ),
  post(
    '/broadcasts/{id}/wording',
    'Choose which wording the rest gets, of those who wait while some get several',
    ChooseWordingInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await chooseWording(ctx, scope, id, input.wording, actor), broadcastView),
  ),
  post(
    '/broadcasts/{id}/leave-out',
    'Not these people any more: call back what waits for them',
    LeaveOutInput,
    200,
    ({ ctx, scope, id, input, actor }) => leaveOutOf(ctx, scope, id, input.condition, actor),
  ),
  post(
    '/broadcasts/{id}/copy',
    'A new draft like it, for the same people, those who did not get it, or those who did not answer',
    CopyBroadcastInput,
    201,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await copyBroadcast(ctx, scope, id, input.whom ?? 'same', actor), broadcastView),
  ),
  post(
    '/broadcasts/{id}/move',
    'Move a scheduled broadcast to another time',
    RescheduleInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await reschedule(ctx, scope, id, input, actor), broadcastView),
  ),
  act(
    '/broadcasts/{id}/end-repeat',
    'Let it be the last of those that repeat',
    async ({ ctx, scope, id, actor }) => viewed(await endRepeat(ctx, scope, id, actor), broadcastView),
  ),
  post(
    '/broadcasts/{id}/share',
    'An address that shows its result without an account, until it ends; given once',
    ShareResultInput,
    201,
    ({ ctx, scope, id, input, actor }) => shareResult(ctx, scope, id, input, actor),
  ),
  act('/broadcasts/{id}/end-shares', 'End every address that shows its result', ({ ctx, scope, id, actor }) =>
    endShares(ctx, scope, id, actor),
  ),
  getPage(
    '/broadcasts/{id}/people',
    'Everybody of it and what became of it, in the order of their messages',
    ({ scope, id, page }) => listOutcomes(scope, id, page),
  ),
  ...(['number', 'hour', 'minute', 'place', 'wording'] as const).map((by) =>
    get(
      `/broadcasts/{id}/by-${by}`,
      `What became of it by ${BY_WORDS[by]}`,
      async ({ ctx, scope, id, actor }) => {
        if (!(await readBroadcast(scope, id))) return notFound('broadcast');
        const asked = { id, by, zone: 'UTC', accountId: actor.accountId ?? '', now: ctx.now() };
        return ok((await readOutcomes(scope, asked)).map(outcomeView));
      },
    ),
  ),
  move('stop', 'Call back everything that has not left', stopBroadcast),
  move('pause', 'Let it wait', pauseBroadcast),
  move('resume', 'Let it go on', resumeBroadcast),
  move('call-back', 'Make a scheduled broadcast a draft again', callBackBroadcast),
  get('/broadcasts/{id}/result', 'What became of it', async ({ scope, id }) =>
    found(await readResult(scope, id), 'broadcast'),
  ),
];

async function clearanceReport({ ctx, scope, id }: Call): Promise<Result<unknown, Refusal>> {
  const broadcast = await scope.em.findOne(Broadcast, { id });
  if (!broadcast) return notFound('broadcast');
  const at = Math.max(ctx.now(), broadcast.sendAt?.getTime() ?? 0);
  const answer = await reportClearance(scope, {
    ...{ program: broadcast.programId, channel: broadcast.channel, body: broadcast.body },
    ...(broadcast.subject === null ? {} : { subject: broadcast.subject }),
    ...(broadcast.comparison
      ? { wordings: [{ subject: broadcast.subject, body: broadcast.body }, ...broadcast.comparison.others] }
      : {}),
    ...{ links: broadcast.links, timing: broadcast.timing, broadcastId: id },
    ...{ media: broadcast.media ?? [], instead: broadcast.instead, companion: broadcast.companion },
    ...{ at, now: ctx.now() },
    senderName: null,
    personId: null,
    audience: broadcast.audience ? toJson(broadcast.audience) : null,
  });
  return viewed(answer, ({ report, cost, creditsLeft, leaving, senders, companion }) => ({
    at: new Date(at).toISOString(),
    people: report.people,
    cleared: report.cleared,
    held: report.held,
    blocked: report.blocked,
    reasons: report.lines.map(({ earliest, latest, ...line }) => ({
      ...line,
      ...(earliest === null
        ? {}
        : { earliest: new Date(earliest).toISOString(), latest: new Date(latest!).toISOString() }),
    })),
    cost: { parts: cost.parts, credits: cost.credits, groups: cost.groups },
    credits_left: creditsLeft,
    companion,
    leaving: {
      ...{ first: isoOrNull(leaving.first), last: isoOrNull(leaving.last), never: leaving.never },
      step_seconds: leaving.step / SECOND,
      steps: leaving.steps.map((step) => ({ at: toIso(step.at), people: step.people })),
    },
    sender_numbers: senders.map((sender) => ({
      ...{ id: sender.id, number: sender.number, chosen: sender.chosen, registered: sender.registered },
      ...{ people: sender.people, parts: sender.parts, sent_today: sender.sentToday },
      ...{ daily_cap: sender.dailyCap, last: isoOrNull(sender.last) },
    })),
  }));
}

const isoOrNull = (at: Millis | null): string | null => (at === null ? null : toIso(at));
