import { parseTemplate, type TemplateValues } from '@/core/text/template';
import { showCode, voucherWords } from '@/core/offer/code';
import type { Scope } from '@/db/kit/scope';
import type { Program } from '@/db/programs/entities';
import { loadPersonFacts, loadProgramFacts, templateValues } from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import type { giveVoucher } from './give-voucher';

/** What joining gave somebody, by a keyword or a form: its first words for them, and the voucher they bring. */
export interface Given {
  programId: string;
  firstWords: string;
  voucherId: string | null;
}

interface Wording {
  personId: string;
  program: Pick<Program, 'id' | 'welcome'>;
  /** First words of its own, a template; null: those of the program. */
  welcome: string | null;
  voucher: Awaited<ReturnType<typeof giveVoucher>> | null;
}

/** What stands before the required wording for somebody: own words or those of the program, and a voucher. */
export async function firstWordsFor(
  ctx: Context,
  scope: Scope,
  { personId, program, welcome, voucher }: Wording,
): Promise<string> {
  const own = welcome === null ? null : parseTemplate(welcome);
  const template = own?.ok ? own.value : null;
  const values =
    template && template.fields.length > 0 ? await valuesOf(ctx, scope, personId, program.id) : {};
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
  programId: string,
): Promise<TemplateValues> {
  const facts = await loadProgramFacts(scope, programId, ctx.now());
  const person = facts && (await loadPersonFacts(scope, facts, [personId])).get(personId);
  return facts && person ? templateValues(person.row, facts, null) : {};
}
