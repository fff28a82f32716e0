import { parseTemplate, type TemplateValues } from '@/core/text/template';
import { ok, type Result } from '@/core/shared/result';
import { Person } from '@/db/people/entities';
import type { Scope } from '@/db/kit/scope';
import { loadPersonFacts, loadProgramFacts, templateValues } from '@/services/clearance/clearance-facts';
import { fillItems } from '@/services/items/fill-items';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { subjectProgram } from './thread';

/** What fields of an answer say of the person it is for. `senderName`: the first name of who answers. */
export async function answerValues(
  ctx: Context,
  scope: Scope,
  personId: string,
  senderName: string | null,
): Promise<TemplateValues> {
  const programId = await subjectProgram(scope, personId, null);
  const facts = programId === null ? null : await loadProgramFacts(scope, programId, ctx.now());
  const person = facts && (await loadPersonFacts(scope, facts, [personId])).get(personId);
  return facts && person ? templateValues(person.row, facts, senderName) : {};
}

/** An answer as it was written in the editor, in the words this person gets. */
export async function wordAnswer(
  ctx: Context,
  scope: Scope,
  personId: string,
  { source, senderName }: { source: string; senderName: string | null },
): Promise<Result<string, Refusal>> {
  if (!(await scope.em.findOne(Person, { id: personId }))) return notFound('person');
  return wordWith(scope, source, () => answerValues(ctx, scope, personId, senderName));
}

/** The same with what is known of whoever gets it; asked for only where there is a field. */
export async function wordWith(
  scope: Scope,
  source: string,
  valuesOf: () => Promise<TemplateValues>,
): Promise<Result<string, Refusal>> {
  const template = parseTemplate(await fillItems(scope, source));
  if (!template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
  if (template.value.fields.length === 0) return ok(template.value.render({}).text);
  const { text, empty } = template.value.render(await valuesOf());
  return empty.length === 0
    ? ok(text)
    : invalid('body', 'body: a field is empty for them. Say what stands there instead, or take it out.');
}
