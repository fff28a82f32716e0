'use server';
import { redirect } from 'next/navigation';
import {
  changeEndpoint,
  createEndpoint,
  removeEndpoint,
  rotateSecret,
  sendDeliveryAgain,
  switchEndpoint,
  testEndpoint,
} from '@/services/webhooks/endpoints';
import { WebhookInput } from '@/services/webhooks/inputs';
import { ok } from '@/core/shared/result';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../press-of';
import { actorOf, change } from '../../../session';
import { field, stateOf, typed } from '../../form-result';

const read = (data: FormData) =>
  readInput(WebhookInput, {
    url: field(data, 'url').trim(),
    note: field(data, 'note').trim(),
    kinds: data.getAll('kinds'),
  });

export async function createWebhookAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await read(data);
  if (!input.ok) return stateOf(input, typed(data), '');
  const result = await change(
    'manage-keys',
    (scope, session, ctx) => createEndpoint(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, typed(data), '');
  redirect(`/developers/webhooks/${result.value.id}`);
}

export async function changeWebhookAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await read(data);
  if (!input.ok) return stateOf(input, typed(data), '');
  const result = await change('manage-keys', (scope, session, ctx) =>
    changeEndpoint(ctx, scope, field(data, 'id'), input.value, actorOf(session)),
  );
  return stateOf(result, typed(data), 'Kept.');
}

/** The verbs that one button each stands for. */
export async function webhookVerbAction(_: FormState, data: FormData): Promise<FormState> {
  const [id, verb, delivery] = [field(data, 'id'), field(data, 'verb'), field(data, 'delivery')];
  const result = await change<unknown>(
    'manage-keys',
    (scope, session, ctx) => {
      const actor = actorOf(session);
      switch (verb) {
        case 'test':
          return testEndpoint(ctx, scope, id, actor);
        case 'secret':
          return rotateSecret(ctx, scope, id, actor).then((done) => (done.ok ? ok(null) : done));
        case 'on':
        case 'off':
          return switchEndpoint(ctx, scope, id, verb, actor);
        case 'remove':
          return removeEndpoint(ctx, scope, id, actor);
        default:
          return sendDeliveryAgain(ctx, scope, id, delivery, actor);
      }
    },
    pressOf(data),
  );
  if (result.ok && verb === 'remove') redirect('/developers');
  return stateOf(result, {}, DONE[verb] ?? 'It is sent again.');
}

const DONE: Record<string, string> = {
  test: 'A test is on its way: see Deliveries.',
  secret: 'The secret is a new one. The old one signs for a day more.',
  on: 'It is on.',
  off: 'It is off. What happens waits.',
};
