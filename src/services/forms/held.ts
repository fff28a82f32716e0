import { submissionFrom } from '@/core/form/lifecycle';
import { ok, type Result } from '@/core/shared/result';
import { Submission } from '@/db/forms/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { forgetTrouble } from '@/services/kit/trouble';
import { conflict, notFound, type Refusal } from '@/services/kit/validation';

const locked = async (scope: Scope, id: string): Promise<Submission | null> => {
  await scope.run(`select 1 from submission where workspace_id = :workspace and id = :id for update`, { id });
  return scope.em.findOne(Submission, { id }, { refresh: true });
};

/** A human believes it: the number is asked, whatever the limits say. */
export async function releaseSubmission(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<Submission, Refusal>> {
  const submission = await locked(scope, id);
  if (!submission) return notFound('submission');
  if (submission.state !== 'held') return conflict('state', 'state: it is not held any more.');
  Object.assign(submission, { released: true, dueAt: new Date(ctx.now()), settledAt: null });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'submission.released', id);
  return ok(submission);
}

/** Nothing follows from it. */
export async function dropSubmission(
  ctx: Context,
  scope: Scope,
  id: string,
  actor: string,
): Promise<Result<Submission, Refusal>> {
  const submission = await locked(scope, id);
  if (!submission) return notFound('submission');
  if (!submissionFrom('drop').includes(submission.state))
    return conflict('state', 'state: it is settled already.');
  const now = new Date(ctx.now());
  Object.assign(submission, { state: 'dropped', because: 'by hand', dueAt: null, settledAt: now });
  await scope.em.flush();
  await forgetTrouble(scope, 'submission', id);
  await writeAudit(ctx, scope, actor, 'submission.dropped', id);
  return ok(submission);
}
