import { ok } from '@/core/shared/result';
import { act, get, getPage, post, viewed, type Endpoint } from '@/services/kit/api';
import { TextBodyInput } from '@/services/kit/inputs';
import { DAY, toIso } from '@/core/shared/instant';
import { answerSpeed, type InboxRow } from '@/db/inbox/waiting';
import { notFound } from '@/services/kit/validation';
import { iso } from '@/services/kit/views';
import { actOnThread, answerBy, changeReplies } from './act-on-thread';
import { BOXES } from '@/core/inbox/waiting';
import { readBox } from './screen';
import { noteOnThread, takeAnswerBack } from './whose';
import type { Misspelling } from '@/core/keyword/near-misses';
import { SpellingInput, TryKeywordInput } from '@/services/programs/inputs';
import { endPause } from '@/services/consent/pause';
import { AnswerInput, LeaveInput, NoteInput, PauseInput, RepliesInput, ThreadInput } from './inputs';
import { pauseAsWished } from './pause-as-wished';
import { interpretText } from './interpret-text';
import { beginLeaving, undoLeaving } from './leave-by-hand';
import { countSpelling, readNearMisses } from './near-misses';
import { tryKeyword } from './try-keyword';

const misspellingView = ({ spelling, keyword, texts, people, last, open }: Misspelling) => ({
  ...{ spelling, keyword, texts, people, last_at: toIso(last), waiting: open.length },
});

const waitingView = (row: InboxRow) => ({
  ...{ person_id: row.id, name: nameOf(row), address: row.address, channel: row.channel },
  ...{ why: row.why, since: iso(row.since), answer_by: iso(row.by_at), account_id: row.account_id },
  ...{ words: row.words, missed_calls: row.calls, back_at: iso(row.later_until) },
});

const nameOf = ({ first_name, last_name }: Pick<InboxRow, 'first_name' | 'last_name'>): string | null =>
  [first_name, last_name].filter(Boolean).join(' ') || null;

export const INBOX_API: readonly Endpoint[] = [
  getPage(
    '/inbox/{id}',
    'Who waits for an answer, who should be answered first first: mine, nobody, team, later, or done of the last week',
    async ({ ctx, scope, id, actor, page }) => {
      const box = BOXES.find((one) => one === id);
      if (!box) return notFound('box');
      // Who waits changes its order as time goes by: a page is told by how many stand before it.
      const skip = /^\d{1,6}$/.test(page.after) ? Number(page.after) : 0;
      const { rows, more } = await readBox(scope, {
        ...{ box, filters: {}, accountId: actor.accountId ?? '', now: ctx.now() },
        ...{ skip, most: page.limit },
      });
      return ok({ items: rows.map(waitingView), next: more ? String(skip + page.limit) : null });
    },
  ),
  post(
    '/people/{id}/answers',
    'Answer somebody by hand',
    AnswerInput,
    201,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await answerBy(ctx, scope, id, input, actor), ({ messageId }) => ({ id: messageId })),
  ),
  act('/answers/{id}/undo', 'Take an answer back that has not left yet', ({ ctx, scope, id, actor }) =>
    takeAnswerBack(ctx, scope, id, actor),
  ),
  post(
    '/people/{id}/thread',
    'Give a thread to a teammate, put it off, take it up again, or be through with it',
    ThreadInput,
    200,
    ({ ctx, scope, id, input, actor }) => actOnThread(ctx, scope, id, input, actor),
  ),
  post(
    '/people/{id}/notes',
    'Write a note for teammates',
    NoteInput,
    201,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await noteOnThread(ctx, scope, id, input.note, actor), ({ id: note, body, at }) => ({
        ...{ id: note, note: body, at: iso(at) },
      })),
  ),
  get(
    '/replies',
    'How soon people were answered in the last seven days, by teammate',
    async ({ ctx, scope }) => ok({ items: await answerSpeed(scope, new Date(ctx.now() - 7 * DAY)) }),
  ),
  post(
    '/replies',
    'Within how many minutes people should be answered, and who gets what is nobody’s',
    RepliesInput,
    200,
    ({ ctx, scope, input, actor }) => changeReplies(ctx, scope, input, actor),
  ),
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
