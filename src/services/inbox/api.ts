import { ok } from '@/core/shared/result';
import { act, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { TextBodyInput } from '@/services/kit/inputs';
import { toIso } from '@/core/shared/instant';
import type { Misspelling } from '@/core/keyword/near-misses';
import { SpellingInput, TryKeywordInput } from '@/services/programs/inputs';
import { endPause } from '@/services/consent/pause';
import { LeaveInput, PauseInput } from './inputs';
import { pauseAsWished } from './pause-as-wished';
import { interpretText } from './interpret-text';
import { beginLeaving, undoLeaving } from './leave-by-hand';
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
  post(
    '/people/{id}/leave',
    'Opt somebody out who told you so: of one program, or of everything; it counts after ten seconds',
    LeaveInput,
    200,
    async ({ ctx, scope, id, input: { program = null, confirm = true, why }, actor }) =>
      viewed(
        await beginLeaving(ctx, scope, id, { program, confirms: confirm, why }, actor.name),
        ({ dueAt, programId }) => ({ counts_at: toIso(dueAt.getTime()), program_id: programId }),
      ),
  ),
  act('/people/{id}/leave/undo', 'Take that back within the ten seconds', ({ ctx, scope, id, actor }) =>
    undoLeaving(ctx, scope, id, actor.name),
  ),
  post(
    '/people/{id}/pause',
    'Send nothing of ours to somebody until a day, as they wished',
    PauseInput,
    200,
    async ({ ctx, scope, id, input: { until, why = '' }, actor }) =>
      viewed(await pauseAsWished(ctx, scope, id, { until, why }, actor.name), (pause) => ({
        until: toIso(pause.until.getTime()),
      })),
  ),
  act('/people/{id}/pause/end', 'End a pause before its day', ({ ctx, scope, id, actor }) =>
    endPause(ctx, scope, id, actor.name),
  ),
  post('/texts/interpret', 'What a reply means', TextBodyInput, 200, async ({ scope, input }) => {
    const { nearKeyword, ...rest } = await interpretText(scope, input.body);
    return ok({ ...rest, near_keyword: nearKeyword });
  }),
];
