import { HOUR, SECOND, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { parseTemplate } from '@/core/text/template';
import { Account } from '@/db/access/entities';
import { CALLED, callTextsDue, followedSince } from '@/db/calls/calls';
import { Call, CallOutcome, CallText } from '@/db/calls/entities';
import { announce, insertTexts } from '@/db/delivery/texts';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { lockPerson } from '@/db/people/locks';
import {
  copyOf,
  loadPersonFacts,
  loadProgramFacts,
  templateValues,
} from '@/services/clearance/clearance-facts';
import { newText } from '@/services/delivery/new-text';
import { fillItems } from '@/services/items/fill-items';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { enrol } from '@/services/sequences/by-hand';
import { TOLD_TOO_LATE, TOO_LATE } from './take-event';

/** The same outcome within so long texts once. */
const ONCE_WITHIN: Millis = HOUR;

/** Outcomes of calls that are to be followed by something. */
export const CALL_TEXT_QUEUE: Queue = {
  name: 'call-text',
  rows: {
    named: `(select o.name from call_text t join call_outcome o on o.id = t.outcome_id where t.id = x.row_id)`,
    waits: `exists (select 1 from call_text t where t.id = x.row_id and t.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  untilDone: true,
  atOnce: 4,
  ...{ wakes: true, channel: CALLED },
  due: async (reading, untroubled, at) => asDue(await callTextsDue(reading, untroubled('t.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    inWorkspace(ctx.orm, workspaceId!, (scope) => followOutcome(ctx, scope, id)),
  giveUp: async (_, scope, id) =>
    ok(await scope.em.nativeUpdate(CallText, { id }, { dueAt: null, because: 'Given up by a teammate.' })),
};

/** What follows from an outcome, or why nothing does. Whether a text may go is clearance's when it leaves. */
export async function followOutcome(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  await scope.run(`select 1 from call_text where workspace_id = :workspace and id = :id for update`, { id });
  const row = await scope.em.findOne(CallText, { id }, { refresh: true });
  if (!row?.dueAt) return false;
  const call = await scope.em.findOneOrFail(Call, { id: row.callId });
  const outcome = await scope.em.findOneOrFail(CallOutcome, { id: row.outcomeId });
  const because = await follow(ctx, scope, row, call, outcome);
  Object.assign(row, { dueAt: null, because });
  await scope.em.flush();
  await announce(scope, because === null);
  return true;
}

/** Null: something follows. */
async function follow(
  ctx: Context,
  scope: Scope,
  row: CallText,
  call: Call,
  outcome: CallOutcome,
): Promise<string | null> {
  if (ctx.now() - row.at.getTime() > TOO_LATE) return TOLD_TOO_LATE;
  if (outcome.missed && call.direction === 'in') {
    if (call.answeredAt !== null) return 'Somebody picked up.';
    // It waited a moment; a teammate may have been quicker.
    if (call.settledAt !== null) return 'They were called back, or spoken to, before it left.';
  }
  // Two calls of one person, told at once, wait for each other here.
  const person = call.personId === null ? null : await lockPerson(scope, call.personId);
  if (!person) return 'Nobody is known by the number any more.';
  const asked = { personId: person.id, outcomeId: outcome.id, except: row.id };
  if (await followedSince(scope, { ...asked, since: new Date(ctx.now() - ONCE_WITHIN) }))
    return 'The same outcome was followed by something within the hour.';
  if (outcome.sequenceId !== null) {
    const by = { accountId: call.accountId, name: call.teammate || 'a call' };
    const began = await enrol(ctx, scope, outcome.sequenceId, { people: [person.id] }, by);
    if (!began.ok) return `The sequence did not begin: ${began.reason.problems[0]?.message ?? ''}`;
    if (began.value.came === 0 && outcome.body === null)
      return 'They are in the sequence already, or its rule keeps them out.';
  }
  return outcome.body === null ? null : queueText(ctx, scope, row, call, outcome);
}

async function queueText(
  ctx: Context,
  scope: Scope,
  row: CallText,
  call: Call,
  outcome: CallOutcome,
): Promise<string | null> {
  const sender =
    call.senderId === null
      ? null
      : await scope.em.findOne(SenderNumberRow, { id: call.senderId, releasedAt: null });
  if (!sender) return 'The number of the call is none of your numbers: bring it in under Numbers.';
  if (!sender.sms) return `${sender.number} sends no texts.`;
  const facts = await loadProgramFacts(scope, outcome.programId ?? '', ctx.now());
  const template = parseTemplate(await fillItems(scope, outcome.body!));
  if (!facts || !template.ok) return 'Its text or its program cannot be read any more.';
  const people = await loadPersonFacts(scope, facts, [call.personId!], [call.address]);
  const person = people.get(call.personId!)!;
  const account = call.accountId === null ? null : await scope.em.findOne(Account, { id: call.accountId });
  const teammate = (account?.name ?? call.teammate).split(' ')[0] || null;
  const copy = copyOf(
    facts,
    { body: template.value, subject: null },
    templateValues(person.row, facts, teammate),
    person,
  );
  if (copy.emptyFields.length > 0) return `A field is empty for them: ${copy.emptyFields.join(', ')}.`;
  const text = newText(ctx, {
    ...{ personId: person.id, address: call.address, programId: facts.program.id, senderId: sender.id },
    ...{ inboundId: null, workspace: facts.workspace, createdBy: call.accountId, body: copy.text },
    kind: call.direction === 'in' ? 'call-answer' : 'call-text',
  });
  await insertTexts(scope, [text]);
  row.messageId = text.id;
  return null;
}
