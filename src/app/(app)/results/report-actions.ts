'use server';
import { redirect } from 'next/navigation';
import { ReportInput, ShareReportInput } from '@/services/results/inputs';
import { dropReport, endSharing, keepReport, shareReport } from '@/services/results/reports';
import { publicUrl } from '@/services/kit/settings';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { filled, stateOf, typed } from '../form-result';

/** Keeps what is looked at under a name. */
export async function keepReportAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { at_hour: hour, recipients, ...rest } = filled(values);
  const input = await readInput(ReportInput, {
    ...{ name: '', ...rest },
    ...(hour ? { at_hour: Number(hour) } : {}),
    ...(recipients ? { recipients: recipients.split(/[\s,;]+/).filter(Boolean) } : {}),
  });
  if (!input.ok) return stateOf(input, values, '');
  const kept = await change(
    'send',
    (scope, session, ctx) => keepReport(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  if (kept.ok) redirect('/results/reports');
  return stateOf(kept, values, '');
}

/** Gives the link once: only its hash is kept. */
export async function shareReportAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '', days = '' } = typed(data);
  const input = await readInput(ShareReportInput, { days: Number(days || 30) });
  if (!input.ok) return stateOf(input, { days }, '');
  const shared = await change('send', (scope, session, ctx) =>
    shareReport(ctx, scope, id, input.value.days ?? 30, actorOf(session)),
  );
  return stateOf(
    shared,
    {},
    shared.ok ? `Shown once, copy it now: ${publicUrl()}/report/${shared.value.key}` : '',
  );
}

export async function endSharingAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '' } = typed(data);
  return stateOf(
    await change('send', (scope, session, ctx) => endSharing(ctx, scope, id, actorOf(session))),
    {},
    'The link shows nothing any more.',
  );
}

export async function dropReportAction(_: FormState, data: FormData): Promise<FormState> {
  const { id = '' } = typed(data);
  const dropped = await change('send', (scope, session, ctx) => dropReport(ctx, scope, id, actorOf(session)));
  if (dropped.ok) redirect('/results/reports');
  return stateOf(dropped, {}, '');
}
