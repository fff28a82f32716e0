import { confirmationText, doubleOptInText } from '@/core/text/wording';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { KeywordRow, Program } from '@/db/programs/entities';
import { Offer } from '@/db/offers/entities';
import { Person } from '@/db/people/entities';
import { OwnNumber } from '@/db/sequences/entities';
import { personOfNumber } from '@/db/sequences/trials';
import { loadPersonFacts, loadProgramFacts, senderFor } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';
import { voucherLink } from '@/services/offers/give-voucher';
import { wordingOf } from '@/services/programs/wording';
import { firstWordsFor } from '@/services/offers/first-words';
import { newText } from '@/services/delivery/new-text';

/** A code that is none: it stands where a voucher's would. */
const NO_CODE = '000000000';

/**
 * Sends the answer of a keyword to the number that a teammate proved as theirs. Nobody joins by it, nothing is given,
 * and it is in no counts.
 */
export async function tryKeyword(
  ctx: Context,
  scope: Scope,
  keywordId: string,
  accountId: string,
): Promise<Result<{ body: string }, Refusal>> {
  const keyword = await scope.em.findOne(KeywordRow, { id: keywordId });
  if (!keyword) return notFound('keyword');
  const own = await scope.em.findOne(OwnNumber, { accountId });
  const personId = own?.number ? await personOfNumber(scope, own.number) : null;
  if (!own?.number || !personId)
    return conflict('number', 'number: prove your own mobile number first; it takes one text.');
  const person = await scope.em.findOneOrFail(Person, { id: personId });
  if (person.stoppedAt !== null)
    return conflict(
      'number',
      'number: this number said STOP, so nothing is sent to it. Text START from it first.',
    );
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const program = await scope.em.findOneOrFail(Program, { id: keyword.programId });
  const wording = wordingOf(workspace, program);
  const offer = keyword.offerId && (await scope.em.findOne(Offer, { id: keyword.offerId }));
  const voucher = offer
    ? ok({ id: '', code: NO_CODE, link: voucherLink(NO_CODE), words: offer.words })
    : null;
  const words = await firstWordsFor(ctx, scope, {
    ...{ personId: person.id, program, welcome: keyword.welcome, voucher },
  });
  const body = program.doubleOptIn ? doubleOptInText(wording) : confirmationText(wording, words);
  const facts = (await loadProgramFacts(scope, program.id, ctx.now()))!;
  const [them] = (await loadPersonFacts(scope, facts, [personId])).values();
  const to = { personId, address: own.number, programId: program.id, senderId: senderFor(facts, them!) };
  await insertTexts(scope, [
    newText(ctx, { ...to, inboundId: null, workspace, kind: 'trial', body, createdBy: accountId }),
  ]);
  return ok({ body });
}
