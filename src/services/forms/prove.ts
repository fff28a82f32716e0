import { submissionFrom } from '@/core/form/lifecycle';
import { DAY, type Millis } from '@/core/shared/instant';
import { showOwnValue } from '@/core/people/values';
import { Form, FormLabel, Submission } from '@/db/forms/entities';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import type { Program } from '@/db/programs/entities';
import type { Context } from '@/services/kit/context';
import { firstWordsFor, type Given } from '@/services/offers/first-words';
import { giveVoucher } from '@/services/offers/give-voucher';
import { setLabel } from '@/services/people/labels';
import { keepValues } from '@/services/questions/keep';

/** What nobody answered stays good for so long: who comes in by other ways is the one who filled it in. */
const GOOD_FOR: Millis = 30 * DAY;

interface Proving {
  personId: string;
  /** Programs they are in by an act of their own just now. */
  programs: readonly Program[];
  at: Millis;
}

/**
 * The number is proved: what they filled in is kept on the person, and what the form gives is theirs. Gives the first
 * words of each program, with the voucher that goes along.
 */
export async function proveSubmissions(
  ctx: Context,
  scope: Scope,
  { personId, programs, at }: Proving,
): Promise<Given[]> {
  const waiting = await scope.em.find(
    Submission,
    { personId, state: submissionFrom('prove'), at: { $gt: new Date(at - GOOD_FOR) } },
    { orderBy: { at: 'asc', id: 'asc' }, refresh: true },
  );
  const given: Given[] = [];
  for (const submission of waiting) {
    const form = await scope.em.findOneOrFail(Form, { id: submission.formId });
    const program = programs.find(({ id }) => id === form.programId);
    if (!program) continue;
    const values = submission.filled.map(([field, value]) => [field, showOwnValue(value)] as const);
    // One by one: a field that is gone meanwhile keeps none of the others away.
    for (const value of values) await keepValues(ctx, scope, personId, [value], `form “${form.name}”`);
    Object.assign(submission, { state: 'proved', dueAt: null, settledAt: new Date(at) });
    await scope.em.flush();
    given.push(await giveOfForm(ctx, scope, { form, program, personId, at }));
  }
  return given;
}

/** Its tags and lists, a voucher of its offer, and the happening from which its sequences begin. */
async function giveOfForm(
  ctx: Context,
  scope: Scope,
  { form, program, personId, at }: { form: Form; program: Program; personId: string; at: Millis },
): Promise<Given> {
  for (const { labelId } of await scope.em.find(FormLabel, { formId: form.id }))
    await setLabel(ctx, scope, labelId, [personId], true);
  const voucher = form.offerId
    ? await giveVoucher(ctx, scope, { offerId: form.offerId, personId, keyword: null })
    : null;
  await writeHappenings(scope, [
    {
      ...{ kind: 'form.filled', personId, subject: form.id, at: new Date(at) },
      detail: { form: form.name, program: program.id },
    },
  ]);
  const firstWords = await firstWordsFor(ctx, scope, { personId, program, welcome: form.welcome, voucher });
  return { programId: program.id, firstWords, voucherId: voucher?.ok ? voucher.value.id : null };
}
