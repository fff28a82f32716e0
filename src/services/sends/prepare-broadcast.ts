import { group } from 'd3-array';
import { HOUR, toIso, type Millis } from '@/core/shared/instant';
import { toJson } from '@/db/kit/json';
import { isFirst, wordingOf } from '@/core/broadcast/wordings';
import { parseTemplate, type TemplateProblem } from '@/core/text/template';
import { Account } from '@/db/access/entities';
import { Broadcast } from '@/db/sends/entities';
import { freezeAudience, frozenPage } from '@/db/audience/audience';
import { ON_THE_WAY } from '@/db/delivery/text-moves';
import { giveRoom } from '@/db/audience/cut';
import type { Channel } from '@/core/message/channel';
import { setTiming } from '@/db/delivery/sends';
import { insertTexts, type NewText } from '@/db/delivery/texts';
import { insertChats } from '@/db/chat/chats';
import { insertVoicemails } from '@/db/voicemail/voicemails';
import { insertMails } from '@/db/email/mails';
import { mailToken } from '@/services/kit/mail-token';
import { byKey, inWorkspace, type Reading, type Scope } from '@/db/kit/scope';
import { audienceContext, cutOf, planCondition } from '@/services/audience/audience';
import { clearAudience, type Cleared, type GoingBeside } from '@/services/clearance/clear-audience';
import { leftOutOf } from '@/db/sends/broadcasts';
import { templateWordings, wordingFor } from '@/services/clearance/chat-wordings';
import { chatBeside } from '@/services/delivery/new-chat';
import {
  forSend,
  loadProgramFacts,
  type PersonFacts,
  type Wording,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { quietly } from '@/services/kit/quietly';
import { codeLinks, keepCodes } from '@/services/links/make-links';
import { fillItems, noteItems } from '@/services/items/fill-items';
import { mediaPlan } from '@/services/media/files';
import { linkPlan } from '@/services/links/plan';
import { mustsOf } from './broadcasts';
import { beginCompanion } from './companion';
import { scheduleNext } from './repeat-broadcast';
import { moveBroadcast, stopBroadcast } from './move-broadcast';
import { ok, type Result } from '@/core/shared/result';
import type { BroadcastState } from '@/core/broadcast/lifecycle';
import type { StuckRows } from '@/db/kit/trouble';
import { asDue, Unworkable, workThrough, type Due, type Queue } from '@/services/kit/trouble';

const RECHECK_MS = 15 * 60_000;

/** A broadcast that nobody was there to send for so long is not sent late on a guess. */
const STALE: Millis = 36 * HOUR;

/** What was not there to be ended any more has ended. */
const GIVEN_UP = () => ok(null);

const brokenRows = (state: BroadcastState): StuckRows => ({
  named: `(select name from broadcast b where b.workspace_id = :workspace and b.id = x.row_id)`,
  waits: `exists (select 1 from broadcast b where b.id = x.row_id and b.state = '${state}')`,
});

/** Broadcasts whose time has come. */
export const BEGIN_QUEUE: Queue = {
  name: 'broadcast-begin',
  rows: brokenRows('scheduled'),
  everyMs: 200,
  giveUp: (ctx, scope, id) => moveBroadcast(scope, id, 'call-back', new Date(ctx.now())).then(GIVEN_UP),
  due: (reading, untroubled, at) =>
    dueBroadcasts(reading, `state = 'scheduled' and send_at <= :at and ${untroubled('b.id')}`, at),
  work: (ctx, { id, workspaceId }) => inWorkspace(ctx.orm, workspaceId!, (scope) => begin(ctx, scope, id)),
};

/** Broadcasts whose texts are being made. */
export const PREPARE_QUEUE: Queue = {
  name: 'broadcast-prepare',
  rows: brokenRows('preparing'),
  everyMs: 200,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(GIVEN_UP),
  due: (reading, untroubled, at) =>
    dueBroadcasts(reading, `state = 'preparing' and ${untroubled('b.id')}`, at),
  work: (ctx, { id, workspaceId }) => prepareBroadcast(ctx, workspaceId!, id, COMMITS_IN_A_TURN),
};

/** Broadcasts of which nothing waits or is being sent any more. */
export const FINISH_QUEUE: Queue = {
  name: 'broadcast-finish',
  rows: brokenRows('sending'),
  everyMs: 500,
  giveUp: (ctx, scope, id) => stopBroadcast(ctx, scope, id).then(GIVEN_UP),
  due: (reading, untroubled, at) =>
    dueBroadcasts(
      reading,
      `state = 'sending' and ${untroubled('b.id')}
         and (chosen is not null or comparison is null or comparison -> 'first' = 'null')
         and not exists (select 1 from message t where t.send_id = b.id and t.not_before is not null)
         and not exists (select 1 from ${ON_THE_WAY} where d.workspace_id = b.workspace_id and t.send_id = b.id)`,
      at,
    ),
  work: async (ctx, { id, workspaceId }) =>
    (
      await inWorkspace(ctx.orm, workspaceId!, (scope) =>
        moveBroadcast(scope, id, 'settle', new Date(ctx.now())),
      )
    ).ok,
};

/** At most so many at once, those of each workspace in turn. */
const AT_ONCE = 20;

const dueBroadcasts = async (reading: Reading, where: string, at: Date): Promise<Due[]> =>
  asDue(
    await reading.rows(
      `select id, workspace_id from broadcast b where ${where} and :at::timestamptz is not null
        order by row_number() over (partition by workspace_id order by send_at, id), workspace_id limit ${AT_ONCE}`,
      { at },
    ),
  );

export const beginDueBroadcasts = (ctx: Context): Promise<number> => workThrough(ctx, BEGIN_QUEUE);
export const prepareDueBroadcasts = (ctx: Context): Promise<number> => workThrough(ctx, PREPARE_QUEUE);
export const finishBroadcasts = (ctx: Context): Promise<number> => workThrough(ctx, FINISH_QUEUE);

/** Begins one: the state and who is meant commit together. */
async function begin(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const at = ctx.now();
  const [row] = await scope.rows<{ send_at: Date }>(
    `select send_at from broadcast where workspace_id = :workspace and id = :id and state = 'scheduled' for update skip locked`,
    { id },
  );
  if (!row || row.send_at.getTime() > at) return false;
  if (at - row.send_at.getTime() > STALE)
    throw new Unworkable(
      'Nothing was running when it was due, and now it is too late to send it on a guess. Make it a draft and choose a new time.',
    );
  await moveBroadcast(scope, id, 'begin', new Date(at));
  await scope.run(`update broadcast set begun_at = :at where workspace_id = :workspace and id = :id`, {
    id,
    at: new Date(at),
  });
  await freezeWho(scope, id, at);
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id }, { refresh: true });
  await setTiming(scope, id, broadcast.timing);
  await beginCompanion(ctx, scope, broadcast);
  await noteItems(scope, { sendId: id }, [
    broadcast.body,
    ...(broadcast.comparison?.others ?? []).map((other) => other.body),
    broadcast.instead?.body ?? '',
  ]);
  await checkAgain(scope, broadcast, at);
  await scheduleNext(ctx, scope, broadcast);
  return true;
}

/** One that was scheduled by itself is checked as new: what was sent meanwhile may make it the same text twice. */
async function checkAgain(scope: Scope, broadcast: Broadcast, at: Millis): Promise<void> {
  if (broadcast.seriesId === null) return;
  const musts = await mustsOf(scope, broadcast, at);
  if (musts.length > 0)
    throw new Unworkable(`Its wording must be mended: ${musts.map(({ message }) => message).join(' ')}`);
}

/** A segment stays live until the moment of sending; then who it means is written down. */
async function freezeWho(scope: Scope, broadcastId: string, now: number): Promise<void> {
  const broadcast = await scope.em.findOneOrFail(Broadcast, { id: broadcastId });
  if (!broadcast.audience) return;
  const plan = planCondition(broadcast.audience, await audienceContext(scope, now));
  // Something it asks for is gone since: nobody is texted on a guess.
  if (!plan.ok) throw new Unworkable(plan.reason.problems.map(({ message }) => message).join(' '));
  await giveRoom(scope, 'worker');
  await freezeAudience(scope, broadcastId, cutOf(plan.value, ''));
}

/** Slices that commit together: one is kept while the next is worked out. */
const SLICES_AT_ONCE = 5;

/** Commits of one broadcast before it is the next one's turn. */
const COMMITS_IN_A_TURN = 2;

/**
 * Makes the texts of a broadcast, a few slices at a time; they commit with the cursor, so that after a crash it
 * goes on where it was. A person never gets two rows: the table refuses a second one. False: there was none to make.
 */
export async function prepareBroadcast(
  ctx: Context,
  workspaceId: string,
  broadcastId: string,
  commits = Infinity,
): Promise<boolean> {
  let made = 0;
  while (
    made < commits &&
    (await inWorkspace(ctx.orm, workspaceId, (scope) => prepareSlices(ctx, scope, broadcastId)))
  )
    made++;
  return made > 0;
}

/** True while there may be more. */
async function prepareSlices(ctx: Context, scope: Scope, broadcastId: string): Promise<boolean> {
  const at = ctx.now();
  await byKey(scope);
  // Another worker that prepares it has the row: it is left to it.
  const held = await scope.rows(
    `select id from broadcast where workspace_id = :workspace and id = :broadcastId for update skip locked`,
    { broadcastId },
  );
  if (held.length === 0) return false;
  const broadcast = await scope.em.findOne(Broadcast, { id: broadcastId });
  if (!broadcast || broadcast.state !== 'preparing') return false;
  const program = await loadProgramFacts(scope, broadcast.programId, at, broadcast.channel);
  const facts = program && forSend(program, broadcast.timing);
  const byLanguage =
    broadcast.channel === 'chat' ? await templateWordings(scope, broadcast.chatTemplateId ?? '') : null;
  if (broadcast.channel === 'chat' && !byLanguage)
    throw new Unworkable('Its chat template is not there any more.');
  const wordings = byLanguage ? ok([byLanguage[0]!.wording]) : await templatesOf(scope, broadcast);
  if (!facts || !wordings.ok) throw new Unworkable('Its text or its program cannot be read any more.');
  const senderName = await firstNameOf(scope, broadcast.createdBy);
  const links =
    broadcast.channel === 'sms' ? linkPlan(facts.workspace, broadcast.links, broadcast.name) : null;
  const media = await mediaPlan(scope, facts.workspace, broadcast.media);
  const instead = await goingInstead(scope, broadcast, at);
  const lot = lotsOf(broadcast);
  const made = wordings.value.map((wording) => ({
    ...wording,
    ...(links ? { links } : {}),
    ...(media ? { media } : {}),
    ...(broadcast.recordingId ? { recording: broadcast.recordingId } : {}),
  }));
  const sending = {
    ...{ facts, instead, senderName, at, local: broadcast.timing.local },
    wording: made[0]!,
    wordingOf: byLanguage ? wordingFor(byLanguage) : ({ id }: PersonFacts) => made[lot.wordingOf(id)]!,
    only: async (ids: readonly string[]) => {
      const out = await leftOutOf(scope, broadcastId, ids);
      return ids.filter((id) => lot.isMeant(id) && !out.has(id));
    },
  };
  const meant = broadcast.audience
    ? { page: (within: Scope, after: string, most: number) => frozenPage(within, broadcastId, after, most) }
    : {};
  const slices = clearAudience(scope, { ...sending, ...meant }, broadcast.cursor);
  const nextSlice = async () => (await slices.next()).value as Cleared[] | undefined;
  let keeping: Promise<void> = Promise.resolve();
  try {
    for (let kept = 0; kept < SLICES_AT_ONCE; kept++) {
      const slice = await nextSlice();
      // The messages of a slice are made while those of the one before are written down.
      const made = slice && messagesOf(ctx, broadcast, lot, slice);
      await keeping;
      if (!made) {
        await moveBroadcast(scope, broadcastId, 'prepared', new Date(at));
        return false;
      }
      keeping = quietly(keepSlice(ctx, scope, broadcast, made));
    }
    await keeping;
    return true;
  } finally {
    await Promise.allSettled([keeping, slices.return(undefined)]);
  }
}

interface Made {
  cleared: Cleared;
  row: NewText;
  codes: ReturnType<typeof codeLinks>['codes'];
}

const messagesOf = (
  ctx: Context,
  broadcast: Broadcast,
  lot: ReturnType<typeof lotsOf>,
  slice: readonly Cleared[],
): Made[] => {
  // One instant for all of them: then most are cleared in the same words, which are written once.
  const at = ctx.now();
  return slice.map((cleared) => {
    const coded = codeLinks(ctx, cleared.copy);
    const wording =
      broadcast.comparison && cleared.channel === broadcast.channel ? lot.wordingOf(cleared.person.id) : null;
    return {
      cleared,
      codes: coded.codes,
      row: { ...rowOf(ctx, broadcast, cleared, coded.body, at), wording },
    };
  });
};

/** Writes the messages of a slice down, with what belongs to them and the cursor. */
async function keepSlice(
  ctx: Context,
  scope: Scope,
  broadcast: Broadcast,
  rows: readonly Made[],
): Promise<void> {
  await insertTexts(
    scope,
    rows.map(({ row }) => row),
  );
  await keepCodes(
    ctx,
    scope,
    broadcast.id,
    rows.map(({ row, codes }) => ({ messageId: row.id, codes })),
  );
  for (const [channel, those] of group(rows, ({ cleared }) => cleared.channel))
    await BESIDE[channel](ctx, scope, those);
  const cursor = rows[rows.length - 1]!.cleared.person.id;
  const broadcastId = broadcast.id;
  await scope.run(
    `update broadcast set cursor = :cursor, updated_at = :at where workspace_id = :workspace and id = :broadcastId`,
    { cursor, broadcastId, at: new Date(ctx.now()) },
  );
}

/** What goes to who cannot be reached; null: nothing. */
async function goingInstead(
  scope: Scope,
  { programId, instead, timing, links: plan, name }: Broadcast,
  at: Millis,
): Promise<GoingBeside | null> {
  const { channel = 'email' } = instead ?? {};
  const facts = instead && (await loadProgramFacts(scope, programId, at, channel));
  if (!facts) return null;
  const written = channel === 'email' ? instead : { ...instead, subject: null };
  const read = await templatesOf(scope, { ...written, comparison: null });
  if (!read.ok) throw new Unworkable('What goes to who cannot be reached cannot be read any more.');
  const links = channel === 'sms' ? { links: linkPlan(facts.workspace, plan, name) } : {};
  return { facts: forSend(facts, timing), wording: { ...read.value[0]!, ...links } };
}

/** Every wording as templates, the first first. */
async function templatesOf(
  scope: Scope,
  { subject, body, comparison }: Pick<Broadcast, 'subject' | 'body' | 'comparison'>,
): Promise<Result<Wording[], TemplateProblem[]>> {
  const read: Wording[] = [];
  for (const one of [{ subject, body }, ...(comparison?.others ?? [])]) {
    const template = parseTemplate(await fillItems(scope, one.body));
    if (!template.ok) return template;
    const line = one.subject === null ? ok(null) : parseTemplate(await fillItems(scope, one.subject));
    if (!line.ok) return line;
    read.push({ body: template.value, subject: line.value });
  }
  return ok(read);
}

/** Who gets it now, and which wording: some the wordings first where the rest waits for the better, then the rest. */
function lotsOf({ id, comparison, chosen }: Broadcast) {
  const wordings = (comparison?.others.length ?? 0) + 1;
  const first = comparison?.first ?? null;
  return {
    wordingOf: (personId: string) => chosen ?? wordingOf(id, personId, wordings),
    isMeant: (personId: string) => first === null || isFirst(id, personId, first) === (chosen === null),
  };
}

function rowOf(
  ctx: Context,
  broadcast: Broadcast,
  { person, copy, clearance, channel, at: theirs }: Cleared,
  body: string,
  at: Millis,
): NewText {
  const { verdict, until } = clearance;
  return {
    id: ctx.id('txt'),
    personId: person.id,
    programId: broadcast.programId,
    sendId: broadcast.id,
    inReplyTo: null,
    channel,
    kind: 'broadcast',
    address: person.address ?? '',
    senderId: clearance.senderId,
    body,
    bodyHash: copy.bodyHash,
    alphabet: copy.alphabet,
    parts: copy.parts,
    credits: copy.credits,
    media: copy.media,
    notBefore:
      verdict === 'blocked' ? null : new Date(verdict === 'held' ? (until ?? at + RECHECK_MS) : theirs),
    // One that is told of has its turn with what tells of it.
    inTurn: broadcast.timing.pace !== null || broadcast.companion?.when === 'before',
    forCompanion: broadcast.companionOf !== null,
    clearance: toJson({ at: toIso(at), ...clearance }),
    createdBy: broadcast.createdBy,
    createdAt: new Date(at),
  };
}

/** What a channel keeps beside the messages. */
const BESIDE: Record<
  Channel,
  (ctx: Context, scope: Scope, rows: readonly { cleared: Cleared; row: NewText }[]) => Promise<unknown>
> = {
  sms: () => Promise.resolve(),
  email: (ctx, scope, rows) =>
    insertMails(
      scope,
      rows.map(({ cleared, row }) => ({
        ...{ messageId: row.id, token: mailToken(ctx), subject: cleared.copy.subject ?? '', answers: null },
      })),
    ),
  voicemail: (_, scope, rows) =>
    insertVoicemails(
      scope,
      rows.flatMap(({ cleared: { copy }, row }) =>
        copy.recording === null ? [] : [{ messageId: row.id, recordingId: copy.recording }],
      ),
    ),
  chat: (_, scope, rows) =>
    insertChats(
      scope,
      rows.flatMap(({ cleared, row }) => chatBeside(row.id, cleared.copy)),
    ),
};

/** The first name a text is signed with; null for nobody. */
export async function firstNameOf(scope: Scope, accountId: string | null): Promise<string | null> {
  if (!accountId) return null;
  const account = await scope.em.findOne(Account, { id: accountId });
  return account?.name.split(' ')[0] ?? null;
}
