import { parseTemplate } from '@/core/text/template';
import { ok, type Result } from '@/core/shared/result';
import { HOUR } from '@/core/shared/instant';
import { insertTexts } from '@/db/delivery/texts';
import { Message } from '@/db/delivery/entities';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber } from '@/db/sequences/entities';
import {
  copyOf,
  loadPersonFacts,
  loadProgramFacts,
  senderFor,
  templateValues,
} from '@/services/clearance/clearance-facts';
import { fillItems } from '@/services/items/fill-items';
import { mediaPlan, readMedia } from '@/services/media/files';
import { newText } from '@/services/delivery/new-text';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { personFor, STOPPED } from '@/services/sequences/own-number';

export interface TryQuestion {
  program: string;
  body: string;
  /** As whose copy it is rendered; null: as one's own. */
  personId: string | null;
  senderName: string | null;
  /** Files that go along. */
  media?: readonly string[];
}

/** Nobody tries more in an hour; whoever holds a session may not send a flood to a phone. */
const MOST_AN_HOUR = 30;

/**
 * Sends a text as it is written to a teammate's own proved number, as a chosen person would read it. It is a trial: of no
 * send, in no counts, and its addresses stay as they are, so that nobody seems to have come by them.
 */
export async function tryDraft(
  ctx: Context,
  scope: Scope,
  { program: wanted, body, personId, senderName, media = [] }: TryQuestion,
  { accountId, name }: Actor,
): Promise<Result<{ number: string }, Refusal>> {
  const own = accountId === null ? null : await scope.em.findOne(OwnNumber, { accountId });
  if (accountId === null || !own?.number)
    return conflict('number', 'number: prove your own number first; it takes one text and six digits.');
  const program = await findProgram(scope, wanted);
  if (!program) return invalid('program', NO_PROGRAM);
  const template = parseTemplate(await fillItems(scope, body));
  if (!template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
  if (body.trim() === '') return invalid('body', 'body: write the text first.');
  const me = await personFor(ctx, scope, own.number, accountId, name);
  if (!me.ok) return me;
  if (me.value.stoppedAt !== null) return conflict('number', STOPPED);
  const since = {
    createdBy: accountId,
    kind: 'trial' as const,
    createdAt: { $gte: new Date(ctx.now() - HOUR) },
  };
  if ((await scope.em.count(Message, since)) >= MOST_AN_HOUR)
    return conflict('number', `number: ${MOST_AN_HOUR} trials went out within the hour. Wait a little.`);
  const facts = (await loadProgramFacts(scope, program.id, ctx.now()))!;
  const people = await loadPersonFacts(scope, facts, [me.value.id, ...(personId ? [personId] : [])]);
  const read = people.get(personId ?? me.value.id);
  if (!read) return notFound('person');
  const kept = await readMedia(scope, media);
  if (!kept.ok) return kept;
  const files = await mediaPlan(scope, facts.workspace, kept.value);
  const mine = people.get(me.value.id)!;
  const copy = copyOf(
    facts,
    { body: template.value, subject: null, ...(files ? { media: files } : {}) },
    templateValues(read.row, facts, senderName),
    mine,
  );
  if (copy.emptyFields.length > 0)
    return invalid(
      'body',
      'body: a field is empty for them and has no words instead, so they would not get it.',
    );
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId: me.value.id, address: own.number, programId: program.id },
      senderId: senderFor(facts, mine),
      ...{ inboundId: null, workspace: facts.workspace, kind: 'trial', createdBy: accountId },
      body: copy.text,
      media: copy.media,
    }),
  ]);
  await writeAudit(ctx, scope, name, 'broadcast.tried', program.id);
  return ok({ number: own.number });
}
