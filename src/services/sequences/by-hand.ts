import { moveTo } from '@/core/sequence/ahead';
import { stand } from '@/core/sequence/advance';
import type { Trigger } from '@/core/sequence/advance';
import { ok, type Result } from '@/core/shared/result';
import type { Scope } from '@/db/kit/scope';
import {
  callBackOf,
  lockEnrolments,
  openPage,
  saveEnrolments,
  type EnrolmentFull,
} from '@/db/sequences/enrolments';
import { Sequence } from '@/db/sequences/entities';
import { graceIds } from '@/db/sequences/sequences';
import { announce } from '@/db/delivery/texts';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { endAll, enterPeople, moveAll } from './enter';
import { loadPeople } from './facts';
import { versionOf, type Running } from './versions';

/** Lets people in by hand. Gives how many came in; the others are in it already, or its condition or rule keeps them out. */
export async function enrol(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  { people, line }: { people: readonly string[]; line?: string },
  actor: Actor,
): Promise<Result<{ came: number }, Refusal>> {
  const sequence = await scope.em.findOne(Sequence, { id: sequenceId });
  if (!sequence) return notFound('sequence');
  if (sequence.version === null || sequence.state === 'draft')
    return conflict('state', 'state: publish it first.');
  if (sequence.state === 'stopped') return conflict('state', 'state: it was ended. Let it go on first.');
  if (line !== undefined && !(await versionOf(scope, sequenceId, sequence.version))?.lines.has(line))
    return invalid('line', 'line: there is no such line in what runs.');
  const grace = people.length > 1;
  const { length: came } = await enterPeople(
    ctx,
    scope,
    sequenceId,
    people.map((personId) => ({
      ...{ personId, at: ctx.now(), by: `hand:${actor.accountId ?? actor.name}`, prompted: false, grace },
      ...(line === undefined ? {} : { line }),
    })),
  );
  await writeAudit(ctx, scope, actor.name, 'sequence.enrolled', sequenceId, { asked: people.length, came });
  return ok({ came });
}

/** Takes somebody out, skips their next line, or holds them until an instant. */
export async function tellEnrolment(
  ctx: Context,
  scope: Scope,
  id: string,
  trigger: Extract<Trigger, { on: 'skip' | 'hold' | 'end' }>,
  actor: Actor,
): Promise<Result<EnrolmentFull, Refusal>> {
  const [one] = await lockEnrolments(scope, [id]);
  if (!one) return notFound('enrolment');
  if (one.state === 'ended') return conflict('state', 'state: it is over for them already.');
  await moveAll(ctx, scope, [{ one, trigger, at: ctx.now() }]);
  await writeAudit(ctx, scope, actor.name, `enrolment.${trigger.on}`, id, {
    person: one.personId,
    sequence: one.sequenceId,
  });
  return ok((await lockEnrolments(scope, [id]))[0]!);
}

/** Puts somebody at a line. A line that is behind them already is not done again. */
export async function placeEnrolment(
  ctx: Context,
  scope: Scope,
  id: string,
  line: string,
  actor: Actor,
): Promise<Result<EnrolmentFull, Refusal>> {
  const [one] = await lockEnrolments(scope, [id]);
  if (!one) return notFound('enrolment');
  if (one.state === 'ended') return conflict('state', 'state: it is over for them already.');
  const version = await versionOf(scope, one.sequenceId, one.version);
  if (!version?.lines.has(line)) return invalid('line', 'line: there is no such line in their version.');
  const now = ctx.now();
  if (one.state === 'sending') await callBackOf(scope, [id], new Date(now), 'put in at another line');
  const facts = (await loadPeople(scope, [one.personId], false, now)).facts(one.personId);
  const placed = { ...one, ...stand(version, one, line, now, facts) };
  await saveEnrolments(scope, [{ one: placed, look: placed.due }]);
  await writeAudit(ctx, scope, actor.name, 'enrolment.placed', id, { line });
  return ok(placed);
}

const SLICE = 1_000;

/** Calls back everybody to whom nothing was sent yet and whose grace is not over. Gives how many. */
export async function callBackGrace(
  ctx: Context,
  scope: Scope,
  sequenceId: string,
  actor: Actor,
): Promise<number> {
  let called = 0;
  for (;;) {
    const ids = await graceIds(scope, sequenceId, new Date(ctx.now()), SLICE);
    called += await endAll(ctx, scope, ids, 'called-back');
    if (ids.length < SLICE) break;
  }
  await writeAudit(ctx, scope, actor.name, 'sequence.called-back', sequenceId, { called });
  return called;
}

/** Moves everybody to the version that runs. A message of a line that is gone does not leave any more. Gives how many. */
export async function moveEverybody(ctx: Context, scope: Scope, sequenceId: string): Promise<number> {
  const sequence = await scope.em.findOneOrFail(Sequence, { id: sequenceId });
  const to = (await versionOf(scope, sequenceId, sequence.version!))!;
  let moved = 0;
  for (let after = ''; ;) {
    const page = await openPage(scope, { sequenceId, version: null, after, most: SLICE });
    if (page.length === 0) break;
    after = page.at(-1)!.id;
    moved += await moveSlice(
      ctx,
      scope,
      sequence,
      to,
      page.filter(({ version }) => version !== sequence.version),
    );
  }
  await announce(scope, false);
  return moved;
}

async function moveSlice(
  ctx: Context,
  scope: Scope,
  sequence: Sequence,
  to: Running,
  page: readonly EnrolmentFull[],
): Promise<number> {
  const held = (
    await lockEnrolments(
      scope,
      page.map(({ id }) => id),
    )
  ).filter(({ state }) => state !== 'ended');
  const now = ctx.now();
  const people = await loadPeople(
    scope,
    held.map(({ personId }) => personId),
    to.asksConditions,
    now,
  );
  const rows: { one: EnrolmentFull; look: number | null }[] = [];
  for (const one of held) {
    const from = await versionOf(scope, sequence.id, one.version);
    if (!from) continue;
    const next = {
      ...one,
      ...moveTo(from, to, one, now, people.facts(one.personId)),
      version: sequence.version!,
    };
    rows.push({
      one: next,
      look: next.state === 'waiting' && sequence.state === 'running' ? next.due : null,
    });
  }
  const sending = new Set(held.flatMap(({ id, state }) => (state === 'sending' ? [id] : [])));
  const dropped = rows.filter(({ one }) => one.state !== 'sending' && sending.has(one.id));
  await callBackOf(
    scope,
    dropped.map(({ one }) => one.id),
    new Date(now),
    'its line is not in the new version',
  );
  await saveEnrolments(scope, rows);
  return rows.length;
}
