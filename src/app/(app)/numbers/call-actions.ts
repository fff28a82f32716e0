'use server';
import { commaList } from '@/core/shared/comma-list';
import { CALL_TARGETS } from '@/core/calls/mapping';
import { BringNumbersInput, CallMappingInput, ConnectSwitchboardInput } from '@/services/calls/inputs';
import { bringNumbers, numbersOf } from '@/services/calls/numbers';
import { connectSwitchboard, mapSwitchboard, removeSwitchboard } from '@/services/calls/switchboards';
import { readInput, type Refusal } from '@/services/kit/validation';
import { ok, type Result } from '@/core/shared/result';
import { checkVoicemailAgain, connectVoicemail, removeVoicemail } from '@/services/voicemail/accounts';
import { ConnectVoicemailInput, PhonesInput } from '@/services/voicemail/inputs';
import { changePhones } from '@/services/voicemail/phones';
import type { FormState } from '@/ui/kit/form-state';
import { displayNumber } from '@/core/phone/number';
import { plural } from '@/ui/kit/numbers';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

export async function connectVoicemailAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { token: __, ...shown } = values;
  const input = await readInput(ConnectVoicemailInput, values);
  if (!input.ok) return stateOf(input, shown, '');
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => connectVoicemail(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, shown, 'Connected. What is said of it stands here in a moment.');
}

export async function checkVoicemailAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change('manage-keys', (scope, _session, ctx) =>
    checkVoicemailAgain(ctx, scope, field(data, 'account')),
  );
  return stateOf(result, {}, 'Asked.');
}

export async function removeVoicemailAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => removeVoicemail(ctx, scope, field(data, 'account'), actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Taken away.');
}

export async function phonesAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(PhonesInput, {
    call_seconds: Math.round(Number((values.minutes ?? '').replace(',', '.')) * 60),
    may_be_busy: Number(values.busy) / 100,
  });
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => changePhones(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Saved.');
}

export async function connectBoardAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { token: __, ...shown } = values;
  const input = await readInput(ConnectSwitchboardInput, filled(values));
  if (!input.ok) return stateOf(input, shown, '');
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => connectSwitchboard(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Made. Give its address to the telephone system, and call once.');
}

export async function mapBoardAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const mapping = Object.fromEntries(CALL_TARGETS.map((target) => [target, (values[target] ?? '').trim()]));
  const input = await readInput(CallMappingInput, { mapping });
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => mapSwitchboard(ctx, scope, field(data, 'board'), input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Kept. What came until now is read.');
}

export async function removeBoardAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => removeSwitchboard(ctx, scope, field(data, 'board'), actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, {}, 'Taken out. Its calls stay in the threads.');
}

/** Without numbers it says which there are, and what each can do. */
export async function bringNumbersAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const numbers = commaList(values.numbers ?? '');
  const input = await readInput(BringNumbersInput, { numbers });
  if (!input.ok) return stateOf(input, values, '');
  const board = field(data, 'board');
  const result = await change(
    'manage-keys',
    async (scope, session, ctx): Promise<Result<{ id: string; name: string }, Refusal>> => {
      if (numbers.length === 0) {
        const listed = await numbersOf(scope, board);
        return listed.ok ? ok({ id: board, name: listed.value.map(said).join('; ') }) : listed;
      }
      const brought = await bringNumbers(ctx, scope, board, input.value.numbers, actorOf(session));
      return brought.ok
        ? ok({ id: board, name: `${plural(brought.value.brought, 'number')} brought in.` })
        : brought;
    },
    pressOf(data),
  );
  return stateOf(result, values, result.ok ? result.value.name : '');
}

const said = ({
  number,
  name,
  sms,
  voice,
  registered,
  known,
}: {
  number: string;
  name: string;
  sms: boolean;
  voice: boolean;
  registered: boolean;
  known: boolean;
}): string =>
  `${displayNumber(number)}${name ? `, ${name}` : ''}: ${[
    sms ? 'texts' : 'no texts',
    voice ? 'calls' : 'no calls',
    registered ? 'registered' : 'not registered',
    ...(known ? ['here already'] : []),
  ].join(', ')}`;
