'use server';
import type { Permission } from '@/core/access/roles';
import { QUEUE_WORDS, type QueueName } from '@/core/work/queues';
import { releaseAfterGap } from '@/services/delivery/installation';
import { giveUp, tryAgain } from '@/services/stuck';
import { settleUnread } from '@/services/inbox/unread-texts';
import { invalid } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../press-of';
import { change } from '../session';
import { stateOf, typed } from './form-result';

/** Who may say what becomes of it: who could have begun it. */
const PERMISSIONS: Record<QueueName, Permission> = {
  'broadcast-begin': 'send',
  'broadcast-prepare': 'send',
  'broadcast-turns': 'send',
  'broadcast-companion': 'send',
  'broadcast-compare': 'send',
  'broadcast-limits': 'send',
  'broadcast-finish': 'send',
  batch: 'edit-people',
  import: 'edit-people',
  'duplicate-search': 'edit-people',
  'segment-count': 'edit-people',
  'program-count': 'edit-programs',
  'unread-text': 'answer',
  text: 'answer',
  receipt: 'send',
  happening: 'send',
  webhook: 'manage-keys',
  enrolment: 'send',
  'sequence-dates': 'send',
  trial: 'send',
  'teammate-mail': 'manage-team',
  asking: 'send',
  leaving: 'answer',
  submission: 'send',
  arrival: 'edit-people',
  'chat-account': 'edit-programs',
  'chat-review': 'send',
  'chat-told': 'answer',
  'voicemail-account': 'manage-keys',
  'call-event': 'answer',
  'call-text': 'answer',
  sums: 'send',
  report: 'send',
  'registrar-account': 'manage-keys',
  registration: 'edit-programs',
  'number-provider': 'manage-keys',
  'number-order': 'edit-programs',
  'number-month': 'manage-keys',
  numbers: 'edit-programs',
  credits: 'manage-keys',
  'credit-order': 'manage-keys',
  'put-away': 'manage-keys',
  'gone-file': 'manage-keys',
};

/** A row that could not be worked on: tried again, or given up. */
export async function stuckAction(_: FormState, data: FormData): Promise<FormState> {
  const { queue = '', id = '', verb = '' } = typed(data);
  if (!Object.hasOwn(QUEUE_WORDS, queue))
    return stateOf(invalid('queue', 'queue: there is no such thing.'), {}, '');
  const result = await change(
    PERMISSIONS[queue as QueueName],
    (scope, session, ctx) =>
      (verb === 'again' ? tryAgain : giveUp)(ctx, scope, queue as QueueName, id, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, verb === 'again' ? 'Trying.' : 'Given up.');
}

/** A text that could not be worked on: a human's word on it, or another try. */
export async function unreadAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', verb = '' } = typed(data);
  const result = await change(
    'answer',
    (scope, session, ctx) =>
      verb === 'leaves' || verb === 'stays'
        ? settleUnread(ctx, scope, id, verb, session.accountId)
        : tryAgain(ctx, scope, 'unread-text', id, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, verb === 'leaves' ? 'Opted out.' : 'Done.');
}

/** After a gap: what waited goes out. */
export async function releaseAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'manage-team',
    (scope, session, ctx) => releaseAfterGap(ctx, scope, session.accountId),
    pressOf(data),
  );
  return stateOf(result, {}, 'It sends again.');
}
