import { ok } from '@/core/shared/result';
import { KeywordRow } from '@/db/programs/entities';
import { found, get, post, type Endpoint } from '@/services/kit/api';
import { PersonalLinkInput } from './inputs';
import { linkByHand } from './personal-link';
import { readFunnel } from './screen';

export const QUESTIONS_API: readonly Endpoint[] = [
  get(
    '/keywords/{id}/questions',
    'What became of the questions of a keyword, and of the personal links that followed',
    async ({ scope, id }) => {
      const keyword = await scope.em.findOne(KeywordRow, { id });
      return found(keyword && (await readFunnel(scope, keyword)), 'keyword');
    },
  ),
  post(
    '/people/{id}/personal-links',
    'Make a form that knows who it is for; its address is given once',
    PersonalLinkInput,
    201,
    async ({ ctx, scope, id, input, actor }) => {
      const made = await linkByHand(ctx, scope, id, input, actor);
      return made.ok
        ? ok({ link: made.value.link, expires: made.value.expires.toISOString(), fields: made.value.fields })
        : made;
    },
  ),
];
