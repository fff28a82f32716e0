import type { Result } from '@/core/shared/result';
import { ok } from '@/core/shared/result';
import {
  actOnBroadcast,
  callBackBroadcast,
  createBroadcast,
  sendBroadcast,
  type Actor,
} from '@/services/sends/broadcasts';
import { checkClearance, clearanceView } from '@/services/clearance/check-clearance';
import type { Context } from '@/services/kit/context';
import { createPeople, createPerson } from '@/services/people/create-person';
import { readAudience, readCondition, readSteps } from '@/services/audience/audience';
import { batchById, createBatch, stopBatch, undoBatch } from '@/services/batches/batches';
import { BatchInput, BulkPeopleInput, CutInput, SegmentInput } from '@/services/people/people-inputs';
import { createSegment, visibleSegments } from '@/services/audience/segments';
import { createKeyword, createProgram, removeKeyword } from '@/services/programs/create-program';
import {
  ClearanceCheckInput,
  CreateBroadcastInput,
  CreateKeywordInput,
  CreatePersonInput,
  CreateProgramInput,
  SendBroadcastInput,
  TextBodyInput,
} from '@/services/inputs';
import { pauseBroadcast, resumeBroadcast, stopBroadcast } from '@/services/sends/move-broadcast';
import {
  listBroadcasts,
  listKeywords,
  listPeople,
  listPrograms,
  listSenders,
  readBroadcast,
  readPerson,
  readProgram,
  readResult,
  textsOfPerson,
  type Page,
} from '@/services/api/read';
import { reportClearance } from '@/services/clearance/report-clearance';
import { interpretText, measureText } from '@/services/api/texts';
import { notFound, type Refusal } from '@/services/kit/validation';
import {
  batchView,
  broadcastView,
  keywordView,
  personView,
  programView,
  segmentView,
} from '@/services/api/views';
import type { Scope } from '@/services/kit/scope';

export interface Call<Input = unknown> {
  ctx: Context;
  scope: Scope;
  id: string;
  input: Input;
  page: Page;
  actor: Actor;
}

export interface ApiRoute {
  method: 'GET' | 'POST' | 'DELETE';
  /** `{id}` stands for one segment. */
  path: string;
  summary: string;
  /** The class the body is read as; left out: no body. */
  input?: new () => object;
  /** Status of success. */
  status: 200 | 201 | 204;
  handle(call: Call): Promise<Result<unknown, Refusal>>;
}

const get = (path: string, summary: string, handle: ApiRoute['handle']): ApiRoute => ({
  method: 'GET',
  path,
  summary,
  status: 200,
  handle,
});

function post<Input extends object>(
  path: string,
  summary: string,
  input: new () => Input,
  status: 200 | 201,
  handle: (call: Call<Input>) => Promise<Result<unknown, Refusal>>,
): ApiRoute {
  return { method: 'POST', path, summary, input, status, handle: (call) => handle(call as Call<Input>) };
}

const view = <T, V>(result: Result<T, Refusal>, make: (value: T) => V): Result<V, Refusal> =>
  result.ok ? ok(make(result.value)) : result;
const found = <T>(value: T | null, what: string): Result<T, Refusal> =>
  value === null ? notFound(what) : ok(value);

const act = (verb: string, summary: string, move: Parameters<typeof actOnBroadcast>[3]): ApiRoute => ({
  method: 'POST',
  path: `/broadcasts/{id}/${verb}`,
  summary,
  status: 200,
  handle: async ({ ctx, scope, id, actor }) =>
    view(await actOnBroadcast(ctx, scope, id, move, actor), broadcastView),
});

/** Every route of the public API. The OpenAPI document is made from this table. */
export const API_ROUTES: readonly ApiRoute[] = [
  get('/people', 'People, oldest first, a page at a time', ({ scope, page }) =>
    listPeople(scope, page).then(ok),
  ),
  post(
    '/people',
    'Add a person; consent needs its wording',
    CreatePersonInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      view(await createPerson(ctx, scope, input, actor.name), personView),
  ),
  post(
    '/people/bulk',
    'Add up to 500 people, all or none',
    BulkPeopleInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      view(await createPeople(ctx, scope, input.people, actor.name), (people) => ({
        items: people.map(personView),
      })),
  ),
  post(
    '/people/count',
    'How many people meet a condition, in words, with the count after each branch',
    CutInput,
    200,
    async ({ ctx, scope, input }) => {
      const condition = readCondition(input.condition);
      if (!condition.ok) return condition;
      const audience = await readAudience(scope, condition.value, input.search ?? '', ctx.now());
      if (!audience.ok) return audience;
      const steps = await readSteps(scope, condition.value, input.search ?? '', ctx.now());
      return steps.ok ? ok({ ...audience.value, ...steps.value }) : steps;
    },
  ),
  get('/segments', 'Segments shared with all', async ({ scope }) =>
    ok({ items: (await visibleSegments(scope, null)).map(segmentView) }),
  ),
  post(
    '/segments',
    'Keep a condition as a segment',
    SegmentInput,
    201,
    async ({ ctx, scope, input, actor }) => view(await createSegment(ctx, scope, input, actor), segmentView),
  ),
  post(
    '/batches',
    'Do something with people: by ids, or everybody who meets a condition now',
    BatchInput,
    201,
    async ({ ctx, scope, input, actor }) => view(await createBatch(ctx, scope, input, actor), batchView),
  ),
  get('/batches/{id}', 'How far a batch is', async ({ scope, id }) =>
    view(found(await batchById(scope, id), 'batch'), batchView),
  ),
  ...(['stop', 'undo'] as const).map((verb): ApiRoute => ({
    method: 'POST',
    path: `/batches/{id}/${verb}`,
    summary: verb === 'stop' ? 'Stop a batch' : 'Change back what it changed, unless changed since',
    status: 200,
    handle: async ({ ctx, scope, id, actor }) =>
      view(await (verb === 'stop' ? stopBatch : undoBatch)(ctx, scope, id, actor), batchView),
  })),
  get('/people/{id}', 'A person with their consents', async ({ scope, id }) =>
    found(await readPerson(scope, id), 'person'),
  ),
  get(
    '/people/{id}/texts',
    'Everything sent to and received from a person, newest first',
    async ({ scope, id }) => found(await textsOfPerson(scope, id), 'person'),
  ),
  get('/programs', 'Programs', ({ scope }) => listPrograms(scope).then(ok)),
  post('/programs', 'Make a program', CreateProgramInput, 201, async ({ ctx, scope, input, actor }) =>
    view(await createProgram(ctx, scope, input, actor.name), programView),
  ),
  get('/programs/{id}', 'A program', async ({ scope, id }) => found(await readProgram(scope, id), 'program')),
  get('/keywords', 'Keywords', ({ scope }) => listKeywords(scope).then(ok)),
  post(
    '/keywords',
    'Add a keyword to a program',
    CreateKeywordInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      view(await createKeyword(ctx, scope, input, actor.name), keywordView),
  ),
  {
    method: 'DELETE',
    path: '/keywords/{id}',
    summary: 'Give a keyword back',
    status: 204,
    handle: async ({ ctx, scope, id, actor }) =>
      (await removeKeyword(ctx, scope, id, actor.name)) ? ok(null) : notFound('keyword'),
  },
  get('/sender-numbers', 'Sender numbers', ({ scope }) => listSenders(scope).then(ok)),
  get('/broadcasts', 'Broadcasts, newest first', ({ scope, page }) => listBroadcasts(scope, page).then(ok)),
  post(
    '/broadcasts',
    'Write a broadcast as a draft',
    CreateBroadcastInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      view(await createBroadcast(ctx, scope, input, actor), broadcastView),
  ),
  get('/broadcasts/{id}', 'A broadcast', async ({ scope, id }) =>
    found(await readBroadcast(scope, id), 'broadcast'),
  ),
  get(
    '/broadcasts/{id}/clearance',
    'Its clearance report: who would get it now or at its time, and who not and why',
    clearanceReport,
  ),
  post(
    '/broadcasts/{id}/send',
    'Send it now or at a time',
    SendBroadcastInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      view(await sendBroadcast(ctx, scope, id, input, actor), broadcastView),
  ),
  act('stop', 'Call back everything that has not left', stopBroadcast),
  act('pause', 'Let it wait', pauseBroadcast),
  act('resume', 'Let it go on', resumeBroadcast),
  act('call-back', 'Make a scheduled broadcast a draft again', callBackBroadcast),
  get('/broadcasts/{id}/result', 'What became of it', async ({ scope, id }) =>
    found(await readResult(scope, id), 'broadcast'),
  ),
  post('/texts/measure', 'Alphabet, units and parts of a text', TextBodyInput, 200, async ({ input }) => {
    const { unitsPerPart, unitsLeft, ...rest } = measureText(input.body);
    return ok({ ...rest, units_per_part: unitsPerPart, units_left: unitsLeft });
  }),
  post('/texts/interpret', 'What a reply means', TextBodyInput, 200, async ({ scope, input }) => {
    const { nearKeyword, ...rest } = await interpretText(scope, input.body);
    return ok({ ...rest, near_keyword: nearKeyword });
  }),
  post(
    '/clearance/check',
    'May a text go to somebody at an instant? Every reason, not the first',
    ClearanceCheckInput,
    200,
    async ({ scope, input }) => view(await checkClearance(scope, input), clearanceView),
  ),
];

async function clearanceReport({ ctx, scope, id }: Call): Promise<Result<unknown, Refusal>> {
  const broadcast = await readBroadcast(scope, id);
  if (!broadcast) return notFound('broadcast');
  const at = Math.max(ctx.now(), broadcast.send_at ? Date.parse(broadcast.send_at) : 0);
  const answer = await reportClearance(scope, {
    program: broadcast.program_id,
    body: broadcast.body,
    at,
    senderName: null,
    personId: null,
    audience: broadcast.audience ? JSON.stringify(broadcast.audience) : null,
  });
  return view(answer, ({ report, cost, creditsLeft }) => ({
    at: new Date(at).toISOString(),
    people: report.people,
    cleared: report.cleared,
    held: report.held,
    blocked: report.blocked,
    reasons: report.lines.map(({ earliest, latest, ...line }) => ({
      ...line,
      ...(earliest === null
        ? {}
        : { earliest: new Date(earliest).toISOString(), latest: new Date(latest!).toISOString() }),
    })),
    cost: { parts: cost.parts, credits: cost.credits, groups: cost.groups },
    credits_left: creditsLeft,
  }));
}
