import { askedOf, MOST_QUESTIONS, type Question } from '@/core/question/fields';
import { patienceOf } from '@/core/question/next';
import { SECOND, type Millis } from '@/core/shared/instant';
import type { Scope } from '@/db/kit/scope';
import { Person } from '@/db/people/entities';
import type { KeywordRow } from '@/db/programs/entities';
import { leftOut, leaveAskings } from '@/db/questions/askings';
import { Asking } from '@/db/questions/entities';
import { ownFields } from '@/services/audience/own-fields';
import type { Context } from '@/services/kit/context';
import { ask } from './ask';

/** After the confirmation, which it would be read before otherwise. */
const AFTER: Millis = 5 * SECOND;

interface Beginning {
  person: Pick<Person, 'id'>;
  keyword: KeywordRow;
  /** The number they wrote to, and the one they wrote from. */
  senderId: string;
  address: string;
  /** A human took an older text for the keyword: what is asked now keeps the hours of the law. */
  late: boolean;
}

/**
 * Asks whoever joined by a keyword the first of its questions: of those of which nothing is known yet and that they have
 * not left out before. What another keyword asked and they have not answered is asked no more.
 */
export async function beginAsking(
  ctx: Context,
  scope: Scope,
  { person, keyword, senderId, address, late }: Beginning,
): Promise<void> {
  if (keyword.questions.length === 0) return;
  const questions = await openQuestions(scope, person.id, keyword.questions);
  if (questions.length === 0) return;
  const now = ctx.now();
  await leaveAskings(scope, person.id, new Date(now), { programId: null, states: ['open'] });
  const asking = scope.em.create(Asking, {
    ...{ id: ctx.id('ask'), workspaceId: scope.workspaceId, personId: person.id, senderId, address },
    ...{ keywordId: keyword.id, programId: keyword.programId, questions, thanks: keyword.thanks },
    ...{ linkDays: keyword.linkDays, taskAfter: keyword.taskAfter },
    ...{ at: 0, times: 1, state: 'open', begunAt: new Date(now), dueAt: new Date(now + patienceOf(1)) },
  });
  await scope.em.persistAndFlush(asking);
  await ask(ctx, scope, asking, { kind: late ? 'asking-again' : 'asking', after: AFTER });
}

/** Those that ask for something that is not known, and that was not left out. */
async function openQuestions(
  scope: Scope,
  personId: string,
  questions: readonly Question[],
): Promise<Question[]> {
  const person = await scope.em.findOneOrFail(Person, { id: personId }, { refresh: true });
  const own = await ownFields(scope);
  const skipped = await leftOut(scope, personId);
  return questions
    .filter(({ field }) => askedOf(field, own) !== null && !isKnown(person, field) && !skipped.has(field))
    .slice(0, MOST_QUESTIONS);
}

/** Whether a question's field is filled in. */
export function isKnown(
  person: Pick<Person, 'firstName' | 'email' | 'postalCode' | 'fields'>,
  field: string,
): boolean {
  switch (field) {
    case 'name':
      return person.firstName !== null;
    case 'email':
      return person.email !== null;
    case 'postal_code':
      return person.postalCode !== null;
    default:
      return person.fields[field.slice('own.'.length)] !== undefined;
  }
}
