import { LockMode } from '@mikro-orm/core';
import type { ReasonCode } from '@/core/clearance/reasons';
import { advance, type Advance, type Command, type Trigger } from '@/core/sequence/advance';
import { END_WORDS } from '@/core/sequence/enrolment';
import { pretendedAt, realAt, type Pace } from '@/core/sequence/pressed';
import { SECOND, toIso, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { announce, insertTexts } from '@/db/delivery/texts';
import { insertVoicemails } from '@/db/voicemail/voicemails';
import { insertMails } from '@/db/email/mails';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { Trial, type TrialStop } from '@/db/sequences/entities';
import { dueTrials, trialMessage } from '@/db/sequences/trials';
import {
  copyOf,
  loadPersonFacts,
  loadProgramFacts,
  senderFor,
  templateValues,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { mailToken } from '@/services/kit/mail-token';
import { asDue, type Queue } from '@/services/kit/trouble';
import { fillAll } from '@/services/items/fill-items';
import { blockOf, channelOf, wordingWithFiles } from './carry-out';
import { loadPeople } from './facts';
import { firstNamesOf } from './names';
import { meaningOf } from './rehearsal';
import { ready } from './versions';
import { wordsOf } from './ahead';

/** While its message is on the way, it is looked at this often. */
const ON_ITS_WAY = SECOND / 2;
/** Nobody tries more than this in one go. */
const MOST_MESSAGES = 100;

/** Trials are worked on one by one; one that cannot go on shows its problem like any other row. */
export const TRIAL_QUEUE: Queue = {
  name: 'trial',
  rows: {
    named: `(select 'a trial of ' || s.name from trial t join sequence s on s.id = t.sequence_id where t.workspace_id = :workspace and t.id = x.row_id)`,
    waits: `exists (select 1 from trial t where t.id = x.row_id and t.look_at is not null)`,
  },
  everyMs: 250,
  wakes: true,
  due: async (reading, untroubled, at) => asDue(await dueTrials(reading, untroubled('t.id'), at)),
  work: (ctx, { id, workspaceId }) => inWorkspace(ctx.orm, workspaceId!, (scope) => lookAt(ctx, scope, id)),
  giveUp: async (ctx, scope, id) => {
    await scope.em.nativeUpdate(
      Trial,
      { id },
      { endedAt: new Date(ctx.now()), endedWhy: 'given up', lookAt: null },
    );
    return ok(null);
  },
};

async function lookAt(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  const trial = await scope.em.findOne(
    Trial,
    { id, endedAt: null },
    { lockMode: LockMode.PESSIMISTIC_WRITE },
  );
  if (!trial) return false;
  const now = ctx.now();
  if (trial.messageId) return settle(ctx, scope, trial, trial.messageId, now);
  // It has come to what was due, not to when somebody looked: what follows counts from there, as it would live.
  const at = trial.enrolment.due ?? pretendedAt(paceOf(trial), now);
  await tell(ctx, scope, trial, { on: 'clock' }, Math.max(at, trial.reached.getTime()));
  return true;
}

const paceOf = ({ beganAt, dayMs }: Trial): Pace => ({ began: beganAt.getTime(), dayMs });

/** What became of the message it waits for. It counts as having left at the instant of the sequence at which it was due. */
async function settle(
  ctx: Context,
  scope: Scope,
  trial: Trial,
  messageId: string,
  now: Millis,
): Promise<boolean> {
  const message = await trialMessage(scope, messageId);
  if (message?.waits) {
    await sayWhyItWaits(scope, trial, message.because);
    trial.lookAt = new Date(now + ON_ITS_WAY);
    await scope.em.flush();
    return true;
  }
  trial.messageId = null;
  const line = trial.enrolment.line!;
  const left = message?.submitted_at != null;
  const because = (message?.because as ReasonCode | null | undefined) ?? 'called-back';
  if (!left) trial.log = trial.log.filter((stop, i) => i < trial.log.length - 1 || stop.line !== line);
  await tell(
    ctx,
    scope,
    trial,
    left ? { on: 'settled', line, left } : { on: 'settled', line, left, because },
    trial.reached.getTime(),
  );
  return true;
}

async function sayWhyItWaits(scope: Scope, trial: Trial, because: string | null): Promise<void> {
  const last = trial.log.at(-1);
  if (!last || (last.verdict === 'waits') === (because !== null)) return;
  const reasons = because === null ? [] : [{ code: because, means: meaningOf(because) }];
  trial.log = [...trial.log.slice(0, -1), { ...last, verdict: because === null ? 'sent' : 'waits', reasons }];
  await announce(scope, false);
}

/** Tells a trial something, at an instant of the sequence. */
export async function tell(
  ctx: Context,
  scope: Scope,
  trial: Trial,
  trigger: Trigger,
  at: Millis,
): Promise<void> {
  const people = await loadPeople(scope, [trial.personId], true, ctx.now());
  const gone = people.where(trial.personId) === null;
  const next = advance(
    ready(trial.document),
    trial.enrolment,
    gone ? { on: 'end', why: 'taken-out' } : trigger,
    at,
    people.facts(trial.personId),
  );
  await carryOn(ctx, scope, trial, next, at);
  await scope.em.flush();
  await announce(scope, true);
}

/** Something they did, told at the instant of the sequence that lies at this one of the clock. */
export const tellNow = (ctx: Context, scope: Scope, trial: Trial, trigger: Trigger): Promise<void> =>
  tell(ctx, scope, trial, trigger, Math.max(trial.reached.getTime(), pretendedAt(paceOf(trial), ctx.now())));

/** Sends what is to be sent, notes the rest, and works out when it is looked at again. */
export async function carryOn(
  ctx: Context,
  scope: Scope,
  trial: Trial,
  { enrolment, commands }: Advance,
  at: Millis,
): Promise<void> {
  const now = ctx.now();
  Object.assign(trial, { enrolment, reached: new Date(at) });
  const cannot: Trigger[] = [];
  for (const command of commands) {
    const stop = command.do === 'message' ? await send(ctx, scope, trial, command) : noteOf(command);
    if (stop && 'because' in stop) cannot.push({ on: 'settled', left: false, ...stop });
    else if (stop) trial.log = [...trial.log, { at: toIso(at), ...stop }];
  }
  for (const trigger of cannot) await tell(ctx, scope, trial, trigger, at);
  if (cannot.length > 0) return;
  const sent = trial.log.filter(({ verdict }) => verdict === 'sent').length;
  const over = enrolment.ended
    ? END_WORDS[enrolment.ended.why]
    : sent > MOST_MESSAGES
      ? 'a hundred messages went'
      : null;
  if (over !== null) Object.assign(trial, { endedAt: new Date(now), endedWhy: over, lookAt: null });
  else
    trial.lookAt =
      trial.messageId !== null || enrolment.due === null
        ? new Date(now + ON_ITS_WAY)
        : new Date(Math.max(now, realAt(paceOf(trial), enrolment.due)));
}

type Note = Omit<TrialStop, 'at'>;

/** What a line did is told, not done: a trial changes nobody's record, makes no task and begins nothing. */
function noteOf(command: Exclude<Command, { do: 'message' }>): Note | null {
  if (command.do === 'deed')
    return {
      ...{ line: command.line, what: command.deed.do, verdict: 'done', reasons: [] },
      body: wordsOf(command.deed),
    };
  if (command.do !== 'passed' || command.because === null) return null;
  return {
    ...{ line: command.line, what: 'line', verdict: 'passed-over' },
    reasons: [{ code: command.because, means: meaningOf(command.because) }],
  };
}

/** Queues the message of a line for their own number. It belongs to no send, so it is in nobody's counts. */
async function send(
  ctx: Context,
  scope: Scope,
  trial: Trial,
  { line, message }: Extract<Command, { do: 'message' }>,
): Promise<Note | { line: string; because: ReasonCode }> {
  const channel = channelOf(message);
  const facts = await loadProgramFacts(scope, trial.document.program, ctx.now(), channel);
  if (!facts) throw new Error(`Program ${trial.document.program} of a trial is missing`);
  const person = (await loadPersonFacts(scope, facts, [trial.personId])).get(trial.personId)!;
  const names = await firstNamesOf(scope, [trial.accountId]);
  const wording = await wordingWithFiles(scope, facts, await fillAll(scope, message), false);
  const copy = copyOf(
    facts,
    wording,
    templateValues(person.row, facts, names.get(trial.accountId) ?? null),
    person,
  );
  const blocked = blockOf(person.address ?? '', copy, channel);
  if (blocked) return { line, because: blocked.code };
  const at = new Date(ctx.now());
  const id = ctx.id('txt');
  await insertTexts(scope, [
    {
      ...{ id, personId: trial.personId, programId: trial.document.program, sendId: null, inReplyTo: null },
      ...{ kind: 'trial', channel, address: person.address!, senderId: senderFor(facts, person) },
      ...{ body: copy.text, bodyHash: copy.bodyHash, alphabet: copy.alphabet, parts: copy.parts },
      ...{ credits: copy.credits, media: copy.media, notBefore: at, clearance: null },
      ...{ createdBy: trial.accountId, createdAt: at },
    },
  ]);
  if (channel === 'email')
    await insertMails(scope, [
      { messageId: id, token: mailToken(ctx), subject: copy.subject ?? '', answers: null },
    ]);
  if (copy.recording !== null)
    await insertVoicemails(scope, [{ messageId: id, recordingId: copy.recording }]);
  trial.messageId = id;
  return {
    ...{ line, what: message.do, body: copy.text, verdict: 'sent', reasons: [] },
    ...(copy.subject === null ? {} : { subject: copy.subject }),
  };
}
