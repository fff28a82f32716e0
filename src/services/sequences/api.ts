import { parseInstant } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import schema from '@/core/sequence/schema.json';
import { LockMode } from '@mikro-orm/core';
import { Sequence, Trial } from '@/db/sequences/entities';
import { act, get, getPage, listed, post, viewed, type Endpoint } from '@/services/kit/api';
import { notFound } from '@/services/kit/validation';
import { readAhead } from './ahead';
import { callBackGrace, enrol, moveEverybody, placeEnrolment, tellEnrolment } from './by-hand';
import { tallyMove } from './difference';
import {
  DraftInput,
  EnrolInput,
  HoldInput,
  NewSequenceInput,
  PlaceInput,
  PublishInput,
  RehearsalInput,
  TrialInput,
} from './inputs';
import { rehearseSequence } from './rehearsal';
import { readSequenceResult } from './results';
import {
  createSequence,
  exportedDocument,
  moveSequence,
  publishSequence,
  saveDraft,
  takeBackVersion,
  warningsOf,
} from './sequences';
import { endTrial, startTrial, trialView } from './trials';
import { enrolmentView, sequenceView } from './views';
import { Person } from '@/db/people/entities';
import { readForecast } from './forecast';

const move = (verb: 'pause' | 'resume' | 'stop', summary: string): Endpoint =>
  act(`/sequences/{id}/${verb}`, summary, async ({ ctx, scope, id, actor }) =>
    viewed(await moveSequence(ctx, scope, id, verb, actor), sequenceView),
  );

export const SEQUENCES_API: readonly Endpoint[] = [
  getPage('/sequences', 'Sequences, newest first', async ({ scope, page: { after, limit } }) => {
    const where = after === '' ? {} : { id: { $lt: after } };
    return ok(
      listed(
        await scope.em.find(Sequence, where, { orderBy: { id: 'desc' }, limit: limit + 1 }),
        limit,
        sequenceView,
      ),
    );
  }),
  post(
    '/sequences',
    'A new sequence as a draft, empty or from a document',
    NewSequenceInput,
    201,
    async ({ ctx, scope, input, actor }) =>
      viewed(await createSequence(ctx, scope, input, actor), sequenceView),
  ),
  get('/sequences/schema', 'The JSON Schema of a sequence', () => Promise.resolve(ok(schema))),
  post(
    '/sequences/rehearsals',
    'Play a sequence for one person: the dated itinerary the engine gives',
    RehearsalInput,
    200,
    ({ ctx, scope, input }) => rehearseSequence(ctx, scope, input),
  ),
  get('/sequences/{id}', 'A sequence', async ({ scope, id }) => {
    const sequence = await scope.em.findOne(Sequence, { id });
    return sequence ? ok(sequenceView(sequence)) : notFound('sequence');
  }),
  post(
    '/sequences/{id}/draft',
    'Save what is being written',
    DraftInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await saveDraft(ctx, scope, id, input, actor), sequenceView),
  ),
  get(
    '/sequences/{id}/document',
    'Its draft with the names of what it refers to, to be taken elsewhere',
    async ({ scope, id }) => {
      const sequence = await scope.em.findOne(Sequence, { id });
      return sequence ? ok(await exportedDocument(scope, sequence.draft)) : notFound('sequence');
    },
  ),
  get('/sequences/{id}/warnings', 'What may go wrong with its draft', async ({ scope, id }) => {
    const sequence = await scope.em.findOne(Sequence, { id });
    return sequence ? ok({ items: await warningsOf(scope, sequence.draft, id) }) : notFound('sequence');
  }),
  get(
    '/sequences/{id}/difference',
    'What its draft would do to those who are on the way, if they moved to it. Where `counted` is less than `people`, so many were drawn by lot, and the counts are what all come to if the others are alike',
    async ({ ctx, scope, id }) => {
      const sequence = await scope.em.findOne(Sequence, { id });
      return sequence ? ok(await tallyMove(ctx, scope, id, sequence.draft)) : notFound('sequence');
    },
  ),
  post(
    '/sequences/{id}/publish',
    'Make its draft the version that people enter',
    PublishInput,
    200,
    async ({ ctx, scope, id, input, actor }) => {
      const published = await publishSequence(ctx, scope, id, input, actor);
      if (!published.ok) return published;
      if (input.others === 'move') await moveEverybody(ctx, scope, id);
      return ok(sequenceView(published.value));
    },
  ),
  act(
    '/sequences/{id}/take-back',
    'The version before becomes the one that people enter',
    async ({ ctx, scope, id, actor }) => viewed(await takeBackVersion(ctx, scope, id, actor), sequenceView),
  ),
  move('pause', 'Let it wait for everybody'),
  move('resume', 'Let it go on'),
  move('stop', 'End it for all who are in it'),
  act(
    '/sequences/{id}/call-back',
    'Call back everybody whose grace is not over',
    async ({ ctx, scope, id, actor }) =>
      (await scope.em.findOne(Sequence, { id }))
        ? ok({ called: await callBackGrace(ctx, scope, id, actor) })
        : notFound('sequence'),
  ),
  post(
    '/sequences/{id}/trials',
    'Try its draft on a teammate’s own proved number, with time pressed together: in no counts, and nothing but messages is really done',
    TrialInput,
    201,
    async ({ ctx, scope, id, input, actor }) => {
      const { teammate, seconds_a_day: secondsADay } = input;
      const trial = await startTrial(ctx, scope, id, { teammate, secondsADay }, actor);
      return trial.ok ? ok(await trialView(scope, trial.value)) : trial;
    },
  ),
  get('/trials/{id}', 'A trial: what it did so far', async ({ scope, id }) => {
    const trial = await scope.em.findOne(Trial, { id });
    return trial ? ok(await trialView(scope, trial)) : notFound('trial');
  }),
  act('/trials/{id}/end', 'End a trial', async ({ ctx, scope, id }) => {
    const trial = await scope.em.findOne(Trial, { id }, { lockMode: LockMode.PESSIMISTIC_WRITE });
    if (!trial) return notFound('trial');
    if (!trial.endedAt) await endTrial(ctx, scope, trial, 'ended by hand');
    return ok(await trialView(scope, trial));
  }),
  get(
    '/sequences/{id}/forecast',
    'What it will send on each of the next thirty days',
    async ({ ctx, scope, id }) => {
      const forecast = await readForecast(ctx, scope, id);
      return forecast ? ok(forecast) : notFound('running sequence');
    },
  ),
  get('/sequences/{id}/result', 'What became of it, line by line', async ({ ctx, scope, id }) =>
    (await scope.em.findOne(Sequence, { id }))
      ? ok(await readSequenceResult(ctx, scope, id))
      : notFound('sequence'),
  ),
  post(
    '/sequences/{id}/people',
    'Let people in, at the first line or another',
    EnrolInput,
    200,
    ({ ctx, scope, id, input, actor }) => enrol(ctx, scope, id, input, actor),
  ),
  act('/enrolments/{id}/skip', 'Pass over their next line', async ({ ctx, scope, id, actor }) =>
    viewed(await tellEnrolment(ctx, scope, id, { on: 'skip' }, actor), enrolmentView),
  ),
  act('/enrolments/{id}/take-out', 'Take them out', async ({ ctx, scope, id, actor }) =>
    viewed(await tellEnrolment(ctx, scope, id, { on: 'end', why: 'taken-out' }, actor), enrolmentView),
  ),
  post(
    '/enrolments/{id}/hold',
    'Hold them until an instant, or let them go on',
    HoldInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(
        await tellEnrolment(
          ctx,
          scope,
          id,
          { on: 'hold', until: input.until ? parseInstant(input.until)! : null },
          actor,
        ),
        enrolmentView,
      ),
  ),
  post(
    '/enrolments/{id}/place',
    'Put them in at a line',
    PlaceInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await placeEnrolment(ctx, scope, id, input.line, actor), enrolmentView),
  ),
  get(
    '/people/{id}/ahead',
    'Everything that is ahead of somebody, from whatever sends it',
    async ({ ctx, scope, id }) =>
      (await scope.em.findOne(Person, { id }))
        ? ok({ items: await readAhead(ctx, scope, id) })
        : notFound('person'),
  ),
];
