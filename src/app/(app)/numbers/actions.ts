'use server';
import { redirect } from 'next/navigation';
import { checkAgain, connectAccount, removeAccount } from '@/services/chat/accounts';
import { ConnectChatInput } from '@/services/chat/inputs';
import type { CarrierCheck } from '@/services/numbers/carriers';
import { changeCarrier, connectionOf, enterCarrier, removeCarrier } from '@/services/numbers/carriers';
import {
  CarrierInput,
  ChangeCarrierInput,
  ChangeSenderInput,
  ConnectProviderInput,
  OrderNumberInput,
  PortInInput,
  RestInput,
  SenderNumberInput,
} from '@/services/numbers/inputs';
import { callPortBack, giveNumberBack, orderNumber, orderPortIn } from '@/services/numbers/market';
import { bringNumberBack, restNumber, setRestRule } from '@/services/numbers/rest';
import { checkProviderAgain, connectProvider, removeProvider } from '@/services/numbers/providers';
import { changeNumber, enterNumber } from '@/services/numbers/sender-numbers';
import { parseJson } from '@/core/shared/json';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { field, filled, numberOf, sentence, stateOf, typed } from '../form-result';

export async function enterNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { parts_per_second: pace, daily_cap: cap, mms, ...rest } = filled(values);
  const programs = data.getAll('programs').filter((one) => typeof one === 'string');
  const input = await readInput(SenderNumberInput, {
    ...{ number: '', ...rest, programs },
    ...(pace ? { parts_per_second: Number(pace) } : {}),
    ...(cap ? { daily_cap: Number(cap) } : {}),
    mms: mms === 'on',
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => enterNumber(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    values,
    'Entered.',
  );
}

export async function changeNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const {
    sender = '',
    registration,
    parts_per_second: pace,
    daily_cap: cap = '',
    mms,
    carrier,
  } = typed(data);
  const input = await readInput(ChangeSenderInput, {
    ...{ registration, parts_per_second: Number(pace) },
    daily_cap: cap.trim() === '' ? null : Number(cap),
    mms: mms === 'on',
    ...(carrier ? { carrier } : {}),
  });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeNumber(ctx, scope, sender, input.value, session.accountId),
    ),
    {},
    'Kept.',
  );
}

export async function restNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const { sender = '', days = '', why } = typed(data);
  const input = await readInput(RestInput, { days: numberOf(days), ...(why?.trim() ? { why } : {}) });
  if (!input.ok) return stateOf(input, { days }, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      restNumber(ctx, scope, sender, input.value, actorOf(session)),
    ),
    {},
    'It rests.',
  );
}

export async function bringNumberBackAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      bringNumberBack(ctx, scope, field(data, 'sender'), actorOf(session)),
    ),
    {},
    'It is back, and carries more by the day.',
  );
}

export async function portInAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { pin, ...rest } = filled(values);
  const programs = data.getAll('programs').filter((one) => typeof one === 'string' && one !== '');
  const input = await readInput(PortInInput, {
    ...{ number: '', holder: '', account: '', postal_code: '', ...rest, programs },
    ...(pin ? { pin } : {}),
  });
  // A PIN is typed again rather than shown again.
  const { pin: _pin, ...shown } = values;
  if (!input.ok) return stateOf(input, shown, '');
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => orderPortIn(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    shown,
    'Asked for. How it stands is shown below.',
  );
}

export async function callPortBackAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('manage-keys', (scope, session, ctx) =>
      callPortBack(ctx, scope, field(data, 'order'), actorOf(session)),
    ),
    {},
    'Called back.',
  );
}

export async function restRuleAction(_: FormState, data: FormData): Promise<FormState> {
  const wanted = field(data, 'rests') === 'yes';
  return stateOf(
    await change('edit-programs', (scope, session, ctx) => setRestRule(ctx, scope, wanted, actorOf(session))),
    {},
    'Kept.',
  );
}

export async function releaseNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const released = await change(
    'edit-programs',
    (scope, session, ctx) => giveNumberBack(ctx, scope, field(data, 'sender'), actorOf(session)),
    pressOf(data),
  );
  // Its page is no more.
  if (released.ok) redirect('/numbers');
  return stateOf(released, {}, '');
}

/** What was typed of a carrier, as the input takes it; a sentence where the JSON is none. */
function carrierFields(values: Record<string, string>): Record<string, unknown> | FormState {
  const { port = '', profile = '', carrier: _, ...rest } = values;
  const read = parseJson(profile.trim() === '' ? '{}' : profile);
  if (read.ok) return { ...rest, port: Number(port), profile: read.value };
  const message = 'profile: this is not JSON. Write {} where the carrier does nothing differently.';
  return { problems: [{ field: 'profile', message }], values, done: null };
}

const isState = (given: Record<string, unknown> | FormState): given is FormState => 'problems' in given;

export async function enterCarrierAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const fields = carrierFields(values);
  if (isState(fields)) return fields;
  const { password: __, ...shown } = values;
  const input = await readInput(CarrierInput, fields);
  if (!input.ok) return stateOf(input, shown, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => enterCarrier(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    shown,
    'Entered. It is connected to within a second; give it numbers above.',
  );
}

export async function changeCarrierAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const fields = carrierFields(values);
  if (isState(fields)) return fields;
  const input = await readInput(ChangeCarrierInput, fields);
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeCarrier(ctx, scope, field(data, 'carrier'), input.value, session.accountId),
    ),
    {},
    'Kept. Its link is made anew.',
  );
}

export async function removeCarrierAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => removeCarrier(ctx, scope, field(data, 'carrier'), session.accountId),
      pressOf(data),
    ),
    {},
    'Taken away.',
  );
}

/** Connects once, outside of any transaction: a carrier may take its time. */
export async function checkCarrierAction(id: string): Promise<CarrierCheck | string> {
  const connection = await change('edit-programs', (scope) => connectionOf(scope, id));
  return connection.ok ? connection.value() : sentence(connection.reason);
}

export async function connectChatAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { token: __, ...shown } = values;
  const input = await readInput(ConnectChatInput, values);
  if (!input.ok) return stateOf(input, shown, '');
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => connectAccount(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    shown,
    'Connected. What the network says of it stands here in a moment.',
  );
}

export async function checkChatAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('edit-programs', (scope, _session, ctx) => checkAgain(ctx, scope, field(data, 'account'))),
    {},
    'Asked.',
  );
}

export async function removeChatAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'edit-programs',
      (scope, session, ctx) => removeAccount(ctx, scope, field(data, 'account'), actorOf(session)),
      pressOf(data),
    ),
    {},
    'Taken away.',
  );
}

export async function connectProviderAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { token: __, ...shown } = values;
  const input = await readInput(ConnectProviderInput, values);
  if (!input.ok) return stateOf(input, shown, '');
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => connectProvider(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    shown,
    'Connected. What the provider says of it stands here in a moment.',
  );
}

export async function checkProviderAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('manage-keys', (scope, _session, ctx) =>
      checkProviderAgain(ctx, scope, field(data, 'account')),
    ),
    {},
    'Asked.',
  );
}

export async function removeProviderAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => removeProvider(ctx, scope, field(data, 'account'), actorOf(session)),
      pressOf(data),
    ),
    {},
    'Taken away.',
  );
}

export async function orderNumberAction(_: FormState, data: FormData): Promise<FormState> {
  const program = field(data, 'program');
  const input = await readInput(OrderNumberInput, {
    ...{ number: field(data, 'number'), provider: field(data, 'provider') },
    ...(program ? { programs: [program] } : {}),
  });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => orderNumber(ctx, scope, input.value, actorOf(session)),
      pressOf(data),
    ),
    {},
    'Asked for.',
  );
}
