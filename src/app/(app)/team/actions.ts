'use server';
import { InvitationInput, LeaveInput, RoleInput } from '@/services/team/inputs';
import { invite, revokeInvitation } from '@/services/team/invitations';
import { changeRole, endMembership } from '@/services/team/members';
import { readDutyWords } from '@/core/inquiry/duty-words';
import { changeDuty } from '@/services/inquiries/duty';
import { DutyInput } from '@/services/inquiries/inputs';
import { invalid, readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { actorOf, change, requireSession } from '../../session';
import { field, filled, stateOf, typed } from '../form-result';

export async function inviteAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(InvitationInput, values);
  if (!input.ok) return stateOf(input, values, '');
  const invited = await change('manage-team', (scope, session, ctx) =>
    invite(ctx, scope, input.value, actorOf(session)),
  );
  return stateOf(
    invited,
    values,
    invited.ok
      ? `Invited. It went by e-mail; or give them the link yourself, it works once: ${invited.value.link}`
      : '',
  );
}

/** Hours of one's own, or of a teammate by whoever manages the team. */
export async function dutyAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const hours: object[] = [];
  for (const day of [1, 2, 3, 4, 5, 6, 7]) {
    const read = readDutyWords(values[`day${day}`] ?? '', day);
    if (!read.ok) return stateOf(invalid(`day${day}`, `day${day}: ${read.reason}`), values, '');
    hours.push(...read.value);
  }
  const input = await readInput(DutyInput, {
    hours,
    away_until: values.away,
    mail: values.mail === 'yes',
    text: values.text === 'yes',
    mail_threads: values.mailthreads === 'yes',
    text_threads: values.textthreads === 'yes',
    calls: values.calls === 'yes',
  });
  if (!input.ok) return stateOf(input, values, '');
  const account = values.account ?? '';
  const session = await requireSession();
  const changed = await change(
    account === session.accountId ? 'answer' : 'manage-team',
    (scope, signedIn, ctx) => changeDuty(ctx, scope, account, input.value, actorOf(signedIn)),
    pressOf(data),
  );
  return stateOf(changed, values, 'Saved.');
}

export async function revokeAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change(
      'manage-team',
      (scope, session, ctx) => revokeInvitation(ctx, scope, field(data, 'invitation'), actorOf(session)),
      pressOf(data),
    ),
    {},
    'Taken back.',
  );
}

export async function roleAction(_: FormState, data: FormData): Promise<FormState> {
  const { account = '', role } = typed(data);
  const input = await readInput(RoleInput, { role });
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('manage-team', (scope, session, ctx) =>
      changeRole(ctx, scope, account, input.value.role, actorOf(session)),
    ),
    {},
    'Changed.',
  );
}

export async function leaveAction(_: FormState, data: FormData): Promise<FormState> {
  const { account = '', to = '' } = typed(data);
  const input = await readInput(LeaveInput, filled({ to }));
  if (!input.ok) return stateOf(input, {}, '');
  return stateOf(
    await change('manage-team', (scope, session, ctx) =>
      endMembership(ctx, scope, account, input.value.to ?? null, actorOf(session)),
    ),
    {},
    'Ended.',
  );
}
