import { ok } from '@/core/shared/result';
import { Broadcast } from '@/db/sends/entities';
import { notFound } from '@/services/kit/validation';
import { targetsOf } from '@/db/links/links';
import { get, post, viewed, type Endpoint } from '@/services/kit/api';
import { changeTarget } from './change-target';
import { ChangeTargetInput } from './inputs';

export const LINKS_API: readonly Endpoint[] = [
  get('/broadcasts/{id}/links', 'Where its links lead, and who came by them', async ({ scope, id }) =>
    (await scope.em.count(Broadcast, { id })) === 0
      ? notFound('broadcast')
      : ok({ items: await targetsOf(scope, id) }),
  ),
  post(
    '/link-targets/{id}',
    'Let a link lead elsewhere, for everybody who has it',
    ChangeTargetInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeTarget(ctx, scope, id, input.url, actor.name), ({ id, written, url }) => ({
        ...{ id, written, url },
      })),
  ),
];
