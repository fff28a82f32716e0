import type { Millis } from '@/core/shared/instant';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import type { Person } from '@/db/people/entities';
import { KeywordLabel, type KeywordRow, type Program } from '@/db/programs/entities';
import type { Context } from '@/services/kit/context';
import { firstWordsFor, type Given } from '@/services/offers/first-words';
import { giveVoucher } from '@/services/offers/give-voucher';
import { setLabel } from '@/services/people/labels';

interface Giving {
  person: Pick<Person, 'id'>;
  keyword: KeywordRow;
  program: Pick<Program, 'id' | 'welcome'>;
  at: Millis;
}

/**
 * What follows for whoever is in a program by a keyword: its tags and lists, a voucher of its offer, and the happening
 * from which its sequences begin. Given twice, nothing is there twice.
 */
export async function giveOfKeyword(
  ctx: Context,
  scope: Scope,
  { person, keyword, program, at }: Giving,
): Promise<Given> {
  for (const { labelId } of await scope.em.find(KeywordLabel, { keywordId: keyword.id }))
    await setLabel(ctx, scope, labelId, [person.id], true);
  const voucher = keyword.offerId
    ? await giveVoucher(ctx, scope, { offerId: keyword.offerId, personId: person.id, keyword: keyword.word })
    : null;
  await writeHappenings(scope, [
    {
      ...{ kind: 'keyword.heard', personId: person.id, subject: keyword.id, at: new Date(at) },
      detail: { keyword: keyword.word, program: keyword.programId },
    },
  ]);
  const { welcome } = keyword;
  const firstWords = await firstWordsFor(ctx, scope, { personId: person.id, program, welcome, voucher });
  return { programId: program.id, firstWords, voucherId: voucher?.ok ? voucher.value.id : null };
}
