import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { MailFromInput } from './inputs';
import { mailFromView, setMailFrom } from './settings';

export const EMAIL_API: readonly Endpoint[] = [
  get('/mail', 'Whom e-mail is from, and the postal address under it', async ({ scope }) =>
    ok(mailFromView(await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId }))),
  ),
  post('/mail', 'Say whom e-mail is from', MailFromInput, 200, async ({ ctx, scope, input, actor }) =>
    viewed(await setMailFrom(ctx, scope, input, actor), mailFromView),
  ),
];
