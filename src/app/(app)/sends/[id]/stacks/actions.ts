'use server';
import { readInput } from '@/services/kit/validation';
import { SplitInput, StackInput } from '@/services/stacks/inputs';
import { actOnStack, splitSend } from '@/services/stacks/split';
import { sayToTeam } from '@/services/stacks/words';
import type { FormState } from '@/ui/kit/form-state';
import { pressOf } from '../../../../press-of';
import { actorOf, change } from '../../../../session';
import { field, filled, stateOf, typed } from '../../../form-result';

/** Splits what is nobody's. Links of guests are shown once, in the word of success. */
export async function splitAction(_: FormState, data: FormData): Promise<FormState> {
  const countOf = (name: string) => {
    const typedCount = field(data, name);
    return typedCount === '' ? {} : { count: Number(typedCount) };
  };
  const guest = field(data, 'guest').trim();
  const input = await readInput(SplitInput, {
    how: field(data, 'how'),
    holders: [
      ...data
        .getAll('account')
        .map((account) => ({ account: String(account), ...countOf(`count ${String(account)}`) })),
      ...(guest === ''
        ? []
        : [
            {
              ...{ guest, sees_numbers: field(data, 'sees') === 'on', ...countOf('count guest') },
              ...(field(data, 'hours') === '' ? {} : { hours: Number(field(data, 'hours')) }),
            },
          ]),
    ],
  });
  if (!input.ok) return stateOf(input, typed(data), '');
  const result = await change(
    'send',
    (scope, session, ctx) => splitSend(ctx, scope, field(data, 'send'), input.value, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, typed(data), '');
  // A second press of the same button is answered with what is kept of the first, which holds no link.
  const links = Array.isArray(result.value) ? result.value.filter(({ url }) => url !== null) : [];
  return stateOf(
    result,
    {},
    ['Split.', ...links.map(({ stack, url }) => `The link of ${stack.name}, shown this once: ${url}`)].join(
      ' ',
    ),
  );
}

export async function wordsAction(_: FormState, data: FormData): Promise<FormState> {
  const result = await change(
    'send',
    (scope, session, ctx) =>
      sayToTeam(ctx, scope, field(data, 'send'), field(data, 'words'), actorOf(session)),
    pressOf(data),
  );
  return stateOf(result, result.ok ? {} : typed(data), 'Said. It stands on every desk.');
}

export async function stackAction(_: FormState, data: FormData): Promise<FormState> {
  const input = await readInput(StackInput, {
    verb: field(data, 'verb'),
    ...filled({ to: field(data, 'to') }),
    ...(field(data, 'people') === '' ? {} : { people: Number(field(data, 'people')) }),
  });
  if (!input.ok) return stateOf(input, typed(data), '');
  const result = await change(
    'send',
    (scope, session, ctx) => actOnStack(ctx, scope, field(data, 'stack'), input.value, actorOf(session)),
    pressOf(data),
  );
  if (!result.ok) return stateOf(result, typed(data), '');
  const { url } = result.value;
  return stateOf(result, {}, url ? `The new link, shown this once: ${url}` : 'Done.');
}
