import { ok } from '@/core/shared/result';
import { Switchboard } from '@/db/calls/entities';
import { callsWith } from '@/db/calls/calls';
import { Person } from '@/db/people/entities';
import { act, found, get, post, viewed, type Endpoint } from '@/services/kit/api';
import { changeCall, recordCall } from './by-hand';
import {
  BringNumbersInput,
  CallMappingInput,
  CallOutcomeInput,
  ChangeCallInput,
  ConnectSwitchboardInput,
  NewCallInput,
} from './inputs';
import { bringNumbers, numbersOf } from './numbers';
import { archiveOutcome, changeOutcome, createOutcome, outcomesOf } from './outcomes';
import {
  connectSwitchboard,
  mapSwitchboard,
  proposedMapping,
  removeSwitchboard,
  samplesOf,
  standingBoard,
} from './switchboards';
import { callRowView, callView, eventView, outcomeView, switchboardView } from './views';

export const CALLS_API: readonly Endpoint[] = [
  get('/switchboards', 'Telephone systems that tell of calls', async ({ scope }) =>
    ok({ items: (await scope.em.find(Switchboard, { removedAt: null })).map(switchboardView) }),
  ),
  post(
    '/switchboards',
    'Make a door for a telephone system',
    ConnectSwitchboardInput,
    201,
    async ({ ctx, scope, input, actor }) => {
      const made = await connectSwitchboard(ctx, scope, input, actor);
      // Said once, to whoever makes it.
      return made.ok ? ok({ ...switchboardView(made.value), secret: made.value.secret }) : made;
    },
  ),
  get('/switchboards/{id}', 'A telephone system, with what it told lately', async ({ scope, id }) => {
    const board = await standingBoard(scope, id);
    if (!board) return found(null, 'telephone system');
    const samples = await samplesOf(scope, id);
    return ok({
      ...switchboardView(board),
      ...{ samples: samples.map(eventView), proposed: proposedMapping(samples) },
    });
  }),
  post(
    '/switchboards/{id}/mapping',
    'Say where what it tells stands',
    CallMappingInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await mapSwitchboard(ctx, scope, id, input, actor), switchboardView),
  ),
  act('/switchboards/{id}/removal', 'Take a telephone system out', async ({ ctx, scope, id, actor }) =>
    viewed(await removeSwitchboard(ctx, scope, id, actor), switchboardView),
  ),
  get('/switchboards/{id}/numbers', 'The numbers it has', async ({ scope, id }) => {
    const listed = await numbersOf(scope, id);
    return listed.ok ? ok({ items: listed.value }) : listed;
  }),
  post(
    '/switchboards/{id}/numbers',
    'Bring some of them in as sender numbers',
    BringNumbersInput,
    200,
    async ({ ctx, scope, id, input, actor }) => bringNumbers(ctx, scope, id, input.numbers, actor),
  ),
  get('/call-outcomes', 'What a call can come to, and what follows', async ({ scope }) =>
    ok({ items: (await outcomesOf(scope)).map(outcomeView) }),
  ),
  post('/call-outcomes', 'Make an outcome', CallOutcomeInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await createOutcome(ctx, scope, input, actor), outcomeView),
  ),
  post(
    '/call-outcomes/{id}',
    'Change an outcome',
    CallOutcomeInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeOutcome(ctx, scope, id, input, actor), outcomeView),
  ),
  act('/call-outcomes/{id}/archive', 'Take an outcome out of use', async ({ ctx, scope, id, actor }) =>
    viewed(await archiveOutcome(ctx, scope, id, actor), outcomeView),
  ),
  post('/calls', 'Write a call down', NewCallInput, 201, async ({ ctx, scope, input, actor }) =>
    viewed(await recordCall(ctx, scope, input, actor), callView),
  ),
  post(
    '/calls/{id}',
    'Say what a call came to',
    ChangeCallInput,
    200,
    async ({ ctx, scope, id, input, actor }) =>
      viewed(await changeCall(ctx, scope, id, input, actor), callView),
  ),
  get('/people/{id}/calls', 'Calls with somebody, the latest first', async ({ scope, id }) => {
    const person = await scope.em.findOne(Person, { id });
    return found(person && { items: (await callsWith(scope, id, 200)).map(callRowView) }, 'person');
  }),
];
