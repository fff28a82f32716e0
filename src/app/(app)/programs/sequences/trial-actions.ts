'use server';
import { ok, type Result } from '@/core/shared/result';
import { cleanText } from '@/core/shared/clean-text';
import type { Refusal } from '@/services/kit/validation';
import { askForProof, giveProof, WRONG_CODE } from '@/services/sequences/own-number';
import { endTrialOf, startTrial } from '@/services/sequences/trials';
import { actorOf, change } from '../../../session';

interface Outcome {
  problems: { message: string }[];
}

const outcomeOf = (result: Result<unknown, Refusal>): Outcome => ({
  problems: result.ok ? [] : result.reason.problems,
});

export async function askNumberAction(programId: string, number: string, press: string): Promise<Outcome> {
  return outcomeOf(
    await change(
      'edit-programs',
      (scope, session, ctx) =>
        askForProof(
          ctx,
          scope,
          { number: cleanText(String(number)), programId: String(programId) },
          actorOf(session),
        ),
      press,
    ),
  );
}

export async function giveCodeAction(code: string): Promise<Outcome> {
  const given = await change('edit-programs', (scope, session, ctx) =>
    giveProof(ctx, scope, cleanText(String(code)), actorOf(session)),
  );
  return given.ok && !given.value.proved ? { problems: [{ message: WRONG_CODE }] } : outcomeOf(given);
}

export async function startTrialAction(
  sequence: string,
  secondsADay: number,
  press: string,
): Promise<Outcome> {
  return outcomeOf(
    await change(
      'edit-programs',
      (scope, session, ctx) =>
        startTrial(
          ctx,
          scope,
          sequence,
          { teammate: session.accountId, secondsADay: Number(secondsADay) },
          actorOf(session),
        ),
      press,
    ),
  );
}

export async function endTrialAction(sequence: string): Promise<Outcome> {
  return outcomeOf(
    await change('edit-programs', async (scope, session, ctx) =>
      ok(await endTrialOf(ctx, scope, sequence, session.accountId, 'ended by hand')),
    ),
  );
}
