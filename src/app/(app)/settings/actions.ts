'use server';
import { FINDING_CODES, FINDINGS } from '@/core/wording/finding';
import { parseJson } from '@/core/shared/json';
import { changeRule, changeWorkspace, dropRule } from '@/services/access/change-workspace';
import { changeLimits } from '@/services/access/change-limits';
import { changeWording } from '@/services/access/change-wording';
import { RuleInput, LimitsInput, WordingInput, WorkspaceInput } from '@/services/access/inputs';
import { MailFromInput } from '@/services/email/inputs';
import { setMailFrom } from '@/services/email/settings';
import { readInput } from '@/services/kit/validation';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { numberOf, stateOf, typed } from '../form-result';

export async function mailFromAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(MailFromInput, values);
  if (!input.ok) return stateOf(input, values, '');
  const result = await change(
    'edit-programs',
    (scope, session, ctx) => setMailFrom(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, values, 'Kept.');
}

export async function workspaceAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { stamp, weekly_cap: cap = '', country = '' } = values;
  const { business, contact, zone, asks_near_misses: asks } = values;
  const linkOf = (url = '') => (url.trim() === '' ? null : url.trim());
  const input = await readInput(WorkspaceInput, {
    ...{ business, contact, zone, asks_near_misses: asks === 'on' },
    ...{
      terms_url: linkOf(values.terms_url),
      privacy_url: linkOf(values.privacy_url),
      link_base: linkOf(values.link_base),
    },
    ...{ stamp: Number(stamp), country: country.trim().toUpperCase() },
    weekly_cap: cap.trim() === '' ? null : numberOf(cap),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeWorkspace(ctx, scope, input.value, session.accountId),
    ),
    values,
    'Saved.',
  );
}

/** A weight that is as it ships is none of theirs: it follows what ships later. */
export async function wordingAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const weights = FINDING_CODES.map((code) => [code, values[`weight.${code}`]] as const).filter(
    ([code, weight]) => weight !== undefined && weight !== FINDINGS[code].weight,
  );
  const input = await readInput(WordingInput, {
    ...{ stamp: Number(values.stamp), business_kind: values.business_kind },
    hosts: (values.hosts ?? '').split(/[\s,;]+/).filter(Boolean),
    weights: Object.fromEntries(weights),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeWording(ctx, scope, input.value, session.accountId),
    ),
    values,
    'Kept.',
  );
}

/** Shares of a hundred people; an empty field is no limit. */
export async function limitsAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const share = (name: string) => ((values[name] ?? '').trim() === '' ? null : numberOf(values[name]!));
  const input = await readInput(LimitsInput, {
    stamp: Number(values.stamp),
    ...{ opt_outs: share('opt_outs'), spam: share('spam'), failures: share('failures') },
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeLimits(ctx, scope, input.value, session.accountId),
    ),
    values,
    'Kept.',
  );
}

export async function ruleAction(_: FormState, data: FormData): Promise<FormState> {
  const { where = '', source = '', windows = '', limit = '' } = typed(data);
  const [spans, most] = [parseJson(windows), parseJson(limit || 'null')];
  const input = await readInput(RuleInput, {
    ...{ where, source, windows: spans.ok ? spans.value : [] },
    ...(most.ok && most.value !== null ? { limit: most.value } : {}),
  });
  if (!input.ok) return stateOf(input, { source }, '');
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      changeRule(ctx, scope, input.value, session.accountId),
    ),
    { source },
    'Kept.',
  );
}

export async function dropRuleAction(_: FormState, data: FormData): Promise<FormState> {
  return stateOf(
    await change('edit-programs', (scope, session, ctx) =>
      dropRule(ctx, scope, typed(data).where ?? '', session.accountId),
    ),
    {},
    'As it ships.',
  );
}
