'use server';
import { commaList } from '@/core/shared/comma-list';
import { CreatePersonInput } from '@/services/people/inputs';
import { keepCard } from '@/services/people/keep-card';
import { readInput } from '@/services/kit/validation';
import { change } from '../../../session';
import { filled, sentence } from '../../form-result';

export async function keepCardAction(
  person: { number: string; first_name: string; last_name: string; email: string },
  tags: string,
): Promise<{ problem: string | null; id?: string; words?: string }> {
  const names = commaList(tags);
  const result = await change('edit-people', async (scope, session, ctx) => {
    const input = await readInput(CreatePersonInput, filled({ ...person }));
    return input.ok ? keepCard(ctx, scope, input.value, names, session.accountId) : input;
  });
  return result.ok
    ? {
        problem: null,
        id: result.value.id,
        words: result.value.added ? 'Added.' : 'Was here already, and is up to date.',
      }
    : { problem: sentence(result.reason) };
}
