import { group } from 'd3-array';
import type { Command } from '@/core/sequence/advance';
import type { Assignee } from '@/core/sequence/document';
import { MINUTE } from '@/core/shared/instant';
import { readOwnValue } from '@/core/people/values';
import { cutText } from '@/core/shared/clean-text';
import { Field } from '@/db/audience/entities';
import { insertNotices } from '@/db/inbox/notices';
import { writeHappenings } from '@/db/kit/happenings';
import type { Scope } from '@/db/kit/scope';
import type { EnrolmentFull } from '@/db/sequences/enrolments';
import { lastWords, setFields, setOfPeople } from '@/db/sequences/people';
import { insertTasks, openTasksByAccount } from '@/db/tasks/tasks';
import type { Context } from '@/services/kit/context';
import { setLabel } from '@/services/people/labels';
import { tellOfTasks } from '@/services/tasks/tell';
import type { People } from './facts';
import { toJson } from '@/db/kit/json';

type Deed = Extract<Command, { do: 'deed' }>['deed'];

/** What begins and ends other sequences; given, since beginning one moves people on in turn. */
export interface Others {
  begin(
    ctx: Context,
    scope: Scope,
    sequenceId: string,
    from: string,
    people: readonly string[],
  ): Promise<unknown>;
  stop(ctx: Context, scope: Scope, sequenceId: string, people: readonly string[]): Promise<unknown>;
}

interface Doing {
  one: EnrolmentFull;
  line: string;
  deed: Deed;
}

/** Does what lines do beside writing: the same deed for many people at once. */
export async function doDeeds(
  ctx: Context,
  scope: Scope,
  doing: readonly Doing[],
  people: People,
  others: Others,
): Promise<void> {
  for (const same of group(doing, ({ deed }) => toJson(deed)).values())
    await doOne(ctx, scope, same[0]!.deed, same, people, others);
}

async function doOne(
  ctx: Context,
  scope: Scope,
  deed: Deed,
  doing: readonly Doing[],
  people: People,
  others: Others,
): Promise<unknown> {
  const ids = doing.map(({ one }) => one.personId);
  const now = new Date(ctx.now());
  switch (deed.do) {
    case 'tag':
    case 'list':
    case 'untag':
    case 'unlist':
      return setLabel(ctx, scope, deed.label, ids, deed.do === 'tag' || deed.do === 'list');
    case 'stage':
      return setOfPeople(scope, ids, 'stage_id', deed.stage);
    case 'owner':
      return setOfPeople(scope, ids, 'owner_id', deed.account);
    case 'field':
      return setValue(
        scope,
        ids.map((personId) => ({ personId, raw: deed.value })),
        deed.field,
      );
    case 'task':
      return giveTasks(ctx, scope, deed, doing, people);
    case 'tell':
      return tell(ctx, scope, deed.words, deed.to, doing, people);
    case 'webhook':
      return writeHappenings(
        scope,
        doing.map(({ one }) => ({
          ...{ kind: 'sequence.told' as const, personId: one.personId, subject: one.sequenceId, at: now },
          detail: { words: deed.words },
        })),
      );
    case 'begin':
      return others.begin(ctx, scope, deed.sequence, doing[0]!.one.sequenceId, ids);
    case 'stop':
      return others.stop(ctx, scope, deed.sequence, ids);
  }
}

/** Whose it is, person by person; null: nobody's. Turns go to whoever has the fewest open tasks. */
async function assigneesOf(
  scope: Scope,
  assignee: Assignee,
  doing: readonly Doing[],
  people: People,
): Promise<(string | null)[]> {
  if (assignee.to === 'account') return doing.map(() => assignee.account);
  if (assignee.to === 'owner') return doing.map(({ one }) => people.where(one.personId)?.owner_id ?? null);
  const load = await openTasksByAccount(scope, assignee.role);
  return doing.map(() => {
    const least = load.reduce<(typeof load)[number] | null>(
      (best, one) => (!best || one.open < best.open ? one : best),
      null,
    );
    if (least) least.open += 1;
    return least?.account_id ?? null;
  });
}

async function giveTasks(
  ctx: Context,
  scope: Scope,
  deed: Extract<Deed, { do: 'task' }>,
  doing: readonly Doing[],
  people: People,
): Promise<void> {
  const accounts = await assigneesOf(scope, deed.for, doing, people);
  const now = ctx.now();
  await insertTasks(
    scope,
    doing.map(({ one, line }, i) => ({
      ...{ id: ctx.id('tsk'), personId: one.personId, title: deed.title, accountId: accounts[i]! },
      ...{
        dueAt: new Date(now + deed.due_minutes * MINUTE),
        source: 'sequence',
        sourceId: `${one.id}.${line}`,
      },
      ...{ createdBy: null, createdAt: new Date(now), note: null },
    })),
  );
  await tellOfTasks(
    ctx,
    scope,
    accounts.map((accountId) => ({ accountId, title: deed.title })),
  );
}

async function tell(
  ctx: Context,
  scope: Scope,
  words: string,
  to: Assignee,
  doing: readonly Doing[],
  people: People,
): Promise<void> {
  const accounts = await assigneesOf(scope, to, doing, people);
  await insertNotices(
    scope,
    doing.flatMap(({ one }, i) =>
      accounts[i]
        ? [
            {
              ...{
                id: ctx.id('ntc'),
                accountId: accounts[i],
                personId: one.personId,
                kind: 'sequence.told' as const,
              },
              subject: words,
              at: new Date(ctx.now()),
            },
          ]
        : [],
    ),
  );
}

/** The words of their last reply become the value of a field, as far as its kind takes them. */
export async function keepAnswers(
  ctx: Context,
  scope: Scope,
  asked: readonly { personId: string; field: string }[],
): Promise<void> {
  if (asked.length === 0) return;
  const words = new Map(
    (
      await lastWords(
        scope,
        asked.map(({ personId }) => personId),
      )
    ).map((row) => [row.person_id, row.body]),
  );
  for (const [field, same] of group(asked, (one) => one.field))
    await setValue(
      scope,
      same.map(({ personId }) => ({ personId, raw: words.get(personId) ?? '' })),
      field,
    );
}

/** Values that do not fit the kind of the field are left out: what was there stays. */
async function setValue(
  scope: Scope,
  values: readonly { personId: string; raw: string }[],
  field: string,
): Promise<void> {
  const own = await scope.em.findOne(Field, { key: field.replace(/^own\./, ''), archivedAt: null });
  if (!own) return;
  const read = values.flatMap(({ personId, raw }) => {
    const value = readOwnValue(own, cutText(raw, 500));
    return value.ok ? [{ personId, value: value.value }] : [];
  });
  await setFields(scope, own.key, read);
}
