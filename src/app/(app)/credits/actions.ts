'use server';
import { isRecord, parseJson } from '@/core/shared/json';
import { addCredits } from '@/services/access/change-workspace';
import { CreditsInput } from '@/services/access/inputs';
import { buyCredits } from '@/services/credits/buy';
import { BuyInput, DayLimitInput, PricesInput } from '@/services/credits/inputs';
import { changePrices, limitDay } from '@/services/credits/limits';
import { checkLedger } from '@/services/credits/screen';
import { readInput } from '@/services/kit/validation';
import { ok } from '@/core/shared/result';
import type { FormState } from '@/ui/kit/form-state';
import { count } from '@/ui/kit/numbers';
import { pressOf } from '../../press-of';
import { actorOf, change } from '../../session';
import { filled, numberOf, stateOf, typed } from '../form-result';

export async function buyAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  // As the choice has it: who sells it, and what they call it.
  const [, provider, pack] = /^(\S+) (.+)$/.exec(values.pack ?? '') ?? [];
  const input = await readInput(BuyInput, { pack: pack ?? '', ...(provider ? { provider } : {}) });
  if (!input.ok) return stateOf(input, values, '');
  const bought = await change(
    'manage-keys',
    (scope, session, ctx) => buyCredits(ctx, scope, input.value, actorOf(session)),
    pressOf(data),
  );
  return stateOf(bought, values, 'Ordered. They are here once the payment is through.');
}

export async function creditsAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(CreditsInput, {
    credits: numberOf(values.credits ?? ''),
    reason: values.reason ?? '',
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change(
      'manage-keys',
      (scope, session, ctx) => addCredits(ctx, scope, input.value, session.accountId),
      pressOf(data),
    ),
    values,
    'Written down.',
  );
}

/** Prices as the desk writes them: everything as text, what is empty means any. */
function rulesOf(text: string): unknown {
  const read = parseJson(text);
  if (!read.ok || !Array.isArray(read.value)) return read.ok ? read.value : null;
  return (read.value as unknown[]).map((rule) =>
    isRecord(rule)
      ? Object.fromEntries(
          Object.entries(rule)
            .filter(([name, value]) => name === 'credits' || value !== '')
            .map(([name, value]) => [name, name === 'credits' ? numberOf(String(value)) : value]),
        )
      : rule,
  );
}

export async function pricesAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const input = await readInput(PricesInput, {
    ...{ part: numberOf(values.part ?? ''), picture: numberOf(values.picture ?? '') },
    rules: rulesOf(values.rules ?? '[]'),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('manage-keys', (scope, session, ctx) =>
      changePrices(ctx, scope, input.value, actorOf(session)),
    ),
    values,
    'Kept. What leaves from now on costs that.',
  );
}

export async function limitAction(_: FormState, data: FormData): Promise<FormState> {
  const values = typed(data);
  const { program, credits } = filled(values);
  const input = await readInput(DayLimitInput, {
    ...(program ? { program } : {}),
    credits: credits === undefined ? null : numberOf(credits),
  });
  if (!input.ok) return stateOf(input, values, '');
  return stateOf(
    await change('manage-keys', (scope, session, ctx) => limitDay(ctx, scope, input.value, actorOf(session))),
    values,
    input.value.credits === null ? 'Kept: no limit.' : 'Kept.',
  );
}

export async function checkLedgerAction(_: FormState, data: FormData): Promise<FormState> {
  const checked = await change('send', async (scope) => ok(await checkLedger(scope)));
  if (!checked.ok) return stateOf(checked, typed(data), '');
  const { sums, gaps } = checked.value;
  if (gaps.length > 0)
    return {
      problems: gaps.map((message) => ({ field: 'ledger', message })),
      values: {},
      done: null,
    };
  return {
    ...{ problems: [], values: {} },
    done: `It adds up: ${count(sums.balance)} left, ${count(sums.messages)} for messages.`,
  };
}
