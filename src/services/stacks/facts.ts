import { csvLine } from '@/core/export/csv';
import { toIso } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { factCounts, factRows, forgetFact, keepFact, pressedTo } from '@/db/stacks/facts';
import type { Scope } from '@/db/kit/scope';
import { ownFields } from '@/services/audience/own-fields';
import type { Context } from '@/services/kit/context';
import type { Refusal } from '@/services/kit/validation';
import { editPerson } from '@/services/people/edit-person';

/** Who notes something, and of which stack they are if they see nothing else. */
export interface Noting {
  accountId: string | null;
  name: string;
  stackId?: string;
}

/**
 * Notes what was learnt of somebody: on the person, and with the text that was pressed to them last, so that a broadcast
 * keeps what was learnt in it when it is asked again another year.
 */
export async function noteFact(
  ctx: Context,
  scope: Scope,
  personId: string,
  { key, value }: { key: string; value: string },
  { accountId, name, stackId }: Noting,
): Promise<Result<null, Refusal>> {
  const edited = await editPerson(ctx, scope, personId, `own.${key}`, value, accountId ?? name);
  if (!edited.ok) return edited;
  const pressed = await pressedTo(scope, personId, stackId ?? null);
  if (!pressed) return ok(null);
  const kept = edited.value.fields[key];
  if (kept === undefined) await forgetFact(scope, pressed.message_id, key);
  else
    await keepFact(
      scope,
      { messageId: pressed.message_id, key, value: kept, accountId, by: name },
      new Date(ctx.now()),
    );
  return ok(null);
}

/** What was learnt in a broadcast, question by question. */
export async function readFacts(scope: Scope, sendId: string) {
  const counts = await factCounts(scope, sendId);
  const fields = await ownFields(scope);
  return fields.flatMap(({ key, label }) => {
    const answers = counts.filter((count) => count.key === key);
    return answers.length === 0
      ? []
      : [{ key, label, answers: answers.map(({ value, people }) => ({ value, people })) }];
  });
}

const MOST_EXPORTED = 200_000;

/** The same person by person, as CSV (RFC 4180). */
export async function exportFacts(scope: Scope, sendId: string): Promise<string> {
  const rows = await factRows(scope, sendId, MOST_EXPORTED);
  const asked = (await ownFields(scope)).filter(({ key }) => rows.some(({ facts }) => key in facts));
  return [
    csvLine([
      ...['First name', 'Last name', 'Address', 'Stack'],
      ...asked.map(({ label }) => label),
      ...['Noted by', 'Noted at'],
    ]),
    ...rows.map(({ first_name: first, last_name: last, address, stack, facts, by, at }) =>
      csvLine([
        ...[first ?? '', last ?? '', address, stack ?? ''],
        ...asked.map(({ key }) => [facts[key] ?? ''].flat().join(', ')),
        ...[by, toIso(at.getTime())],
      ]),
    ),
  ].join('');
}
