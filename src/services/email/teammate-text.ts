import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber } from '@/db/sequences/entities';
import { personOfNumber } from '@/db/sequences/trials';
import { loadPersonFacts, loadProgramFacts, senderFor } from '@/services/clearance/clearance-facts';
import { newText } from '@/services/delivery/new-text';
import type { Context } from '@/services/kit/context';

/** A text to a teammate's own number, if it is proved: nothing goes to one that nobody showed to be theirs. */
export async function textToTeammate(
  ctx: Context,
  scope: Scope,
  { accountId, programId, body }: { accountId: string; programId: string; body: string },
): Promise<void> {
  const own = await scope.em.findOne(OwnNumber, { accountId, provedAt: { $ne: null } });
  const theirs = own?.number ? await personOfNumber(scope, own.number) : null;
  const facts = theirs && (await loadProgramFacts(scope, programId, ctx.now()));
  if (!theirs || !facts) return;
  const [them] = (await loadPersonFacts(scope, facts, [theirs])).values();
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId: theirs, address: own!.number!, programId, body },
      senderId: senderFor(facts, them!),
      ...{ inboundId: null, workspace: facts.workspace, kind: 'told', createdBy: null },
    }),
  ]);
}
