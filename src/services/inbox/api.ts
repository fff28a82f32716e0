import { ok } from '@/core/shared/result';
import { get, post, type Endpoint } from '@/services/kit/api';
import { TextBodyInput } from '@/services/kit/inputs';
import { toIso } from '@/core/shared/instant';
import type { Misspelling } from '@/core/keyword/near-misses';
import { SpellingInput, TryKeywordInput } from '@/services/programs/inputs';
import { interpretText } from './interpret-text';
import { countSpelling, readNearMisses } from './near-misses';
import { tryKeyword } from './try-keyword';

const misspellingView = ({ spelling, keyword, texts, people, last, open }: Misspelling) => ({
  ...{ spelling, keyword, texts, people, last_at: toIso(last), waiting: open.length },
});

export const INBOX_API: readonly Endpoint[] = [
  get('/near-misses', 'Texts that were nearly a keyword, by spelling', async ({ ctx, scope }) =>
    ok({ items: (await readNearMisses(scope, ctx.now())).map(misspellingView) }),
  ),
  post(
    '/keywords/{id}/spellings',
    'Let a spelling count as the keyword, and take those who wrote it in the last days for it',
    SpellingInput,
    200,
    ({ ctx, scope, id, input, actor }) => countSpelling(ctx, scope, id, input, actor.name),
  ),
  post(
    '/keywords/{id}/trial',
    'Send the answer of a keyword to the proved number of a teammate',
    TryKeywordInput,
    200,
    ({ ctx, scope, id, input }) => tryKeyword(ctx, scope, id, input.teammate),
  ),
  post('/texts/interpret', 'What a reply means', TextBodyInput, 200, async ({ scope, input }) => {
    const { nearKeyword, ...rest } = await interpretText(scope, input.body);
    return ok({ ...rest, near_keyword: nearKeyword });
  }),
];
