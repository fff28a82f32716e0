import { EMAIL_WORDS, parseEmail } from '@/core/people/address';
import { clean } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, type Refusal } from '@/services/kit/validation';
import type { MailFromInput } from './inputs';

/** Whom e-mail is from, and the postal address under it. Without an address no e-mail leaves; what waits goes on once there is one. */
export async function setMailFrom(
  ctx: Context,
  scope: Scope,
  input: MailFromInput,
  actor: Actor,
): Promise<Result<Workspace, Refusal>> {
  const from = clean(input.from ?? '');
  const address = from === '' ? null : parseEmail(from);
  if (address && !address.ok) return invalid('from', `from: “${cutText(from, 40)}” ${EMAIL_WORDS}`);
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  Object.assign(workspace, {
    mailFrom: address?.value ?? null,
    // A line break would begin a header of its own.
    mailName: clean(input.name ?? '').replace(/[\r\n]+/g, ' ') || null,
    postalAddress: clean(input.postal_address ?? '') || null,
  });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor.name, 'mail.changed', workspace.id, {
    from: workspace.mailFrom,
    postal_address: workspace.postalAddress,
  });
  return ok(workspace);
}

export const mailFromView = ({ mailFrom, mailName, postalAddress }: Workspace) => ({
  ...{ from: mailFrom, name: mailName, postal_address: postalAddress },
});
