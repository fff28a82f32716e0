import { parseTemplate, type TemplateValues } from '@/core/text/template';
import type { Millis } from '@/core/shared/instant';
import { showCode, voucherWords } from '@/core/offer/code';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import type { Person } from '@/db/people/entities';
import { KeywordLabel, type KeywordRow, type Program } from '@/db/programs/entities';
import { loadPersonFacts, loadProgramFacts, templateValues } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { giveVoucher } from '@/services/offers/give-voucher';
import { setLabel } from '@/services/people/labels';

/** What a keyword gave somebody, and its first words for them. */
export interface Given {
  keyword: KeywordRow;
  firstWords: string;
  voucherId: string | null;
}

interface Giving {
  person: Pick<Person, 'id'>;
  keyword: KeywordRow;
  program: Pick<Program, 'welcome'>;
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
  const firstWords = await firstWordsFor(ctx, scope, { person, keyword, program, voucher });
  return { keyword, firstWords, voucherId: voucher?.ok ? voucher.value.id : null };
}

interface Wording {
  person: Pick<Person, 'id'>;
  keyword: KeywordRow;
  program: Pick<Program, 'welcome'>;
  voucher: Awaited<ReturnType<typeof giveVoucher>> | null;
}

/** What stands before the required wording for somebody: the words of the keyword or its program, and a voucher. */
export async function firstWordsFor(
  ctx: Context,
  scope: Scope,
  { person, keyword, program, voucher }: Wording,
): Promise<string> {
  const own = keyword.welcome === null ? null : parseTemplate(keyword.welcome);
  const template = own?.ok ? own.value : null;
  const values = template && template.fields.length > 0 ? await valuesOf(ctx, scope, person.id, keyword) : {};
  const rendered = template?.render({ ...values, ...voucherValues(voucher) });
  // Words that would have a gap in them are not sent; the required ones are.
  const words = rendered && rendered.empty.length === 0 ? rendered.text.trim() : program.welcome;
  if (!voucher) return words;
  if (!voucher.ok) return voucher.reason;
  const tells = template?.fields.some(({ name }) => name.startsWith('voucher.')) ?? false;
  return tells ? words : [words, voucherWords(voucher.value)].filter(Boolean).join(' ');
}

const voucherValues = (voucher: Wording['voucher']): TemplateValues =>
  voucher?.ok ? { 'voucher.code': showCode(voucher.value.code), 'voucher.link': voucher.value.link } : {};

async function valuesOf(
  ctx: Context,
  scope: Scope,
  personId: string,
  { programId }: KeywordRow,
): Promise<TemplateValues> {
  const facts = await loadProgramFacts(scope, programId, ctx.now());
  const person = facts && (await loadPersonFacts(scope, facts, [personId])).get(personId);
  return facts && person ? templateValues(person.row, facts, null) : {};
}
