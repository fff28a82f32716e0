import { DAY, HOUR, MINUTE, SECOND, type Millis } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { dueRowsOf } from '@/db/kit/due';
import { inWorkspace, type Scope } from '@/db/kit/scope';
import { SenderNumberRow } from '@/db/numbers/entities';
import { Registration, RegistrationQuestion, type RegistrarAccount } from '@/db/registration/entities';
import { registrarOver, type Registrar, type Stands } from '@/gateways/registrar/registrar';
import type { Context } from '@/services/kit/context';
import { registrarHosts } from '@/services/kit/settings';
import { asDue, Unworkable, type Queue } from '@/services/kit/trouble';
import { standingRegistrar } from './accounts';
import { lockById, move, note, restsOn, tellManagers } from './applications';

/** Registrations that are to be brought, answered for, asked about or taken back. */
export const REGISTRATION_QUEUE: Queue = {
  name: 'registration',
  rows: {
    named: `(select case r.about when 'brand' then w.business when 'program' then (select name from program p where p.id = r.subject)
               else (select number from sender_number s where s.id = r.subject) end from registration r join workspace w on w.id = r.workspace_id where r.id = x.row_id)`,
    waits: `exists (select 1 from registration r where r.id = x.row_id and r.due_at is not null)`,
  },
  everyMs: SECOND / 2,
  atOnce: 4,
  wakes: true,
  due: async (reading, untroubled, at) =>
    asDue(
      await dueRowsOf(reading, 'registration r', {
        // Without a registrar nobody can be asked: it waits for one.
        untroubled: `${untroubled('r.id')} and exists (select 1 from registrar_account a where a.workspace_id = r.workspace_id and a.removed_at is null)`,
        ...{ at, each: 20 },
      }),
    ),
  work: (ctx, { id, workspaceId }) => workOnRegistration(ctx, workspaceId!, id),
  // What was handed in stays where it is; nobody asks about it any more.
  giveUp: async (_, scope, id) =>
    ok(await scope.em.nativeUpdate(Registration, { id }, { dueAt: null, takenBack: false })),
};

/** A registrar tells by itself; whoever missed it asks, less and less often: a review may take seconds, or weeks. */
const AGAIN: Millis = MINUTE;
const LONGEST: Millis = 6 * HOUR;

const waitAfter = (handedInAt: Date | null, at: Millis): Millis =>
  Math.min(LONGEST, Math.max(AGAIN, (at - (handedInAt?.getTime() ?? at)) / 10));

interface Work {
  row: Registration;
  account: RegistrarAccount;
  answers: RegistrationQuestion[];
  /** It may be brought: what it rests on is registered. */
  ready: boolean;
  needs: string[];
  /** The number was given back. */
  gone: boolean;
}

/** One step with the registrar, asked outside of any transaction. */
export async function workOnRegistration(ctx: Context, workspaceId: string, id: string): Promise<boolean> {
  const found = await inWorkspace(ctx.orm, workspaceId, (scope) => readWork(scope, id));
  if (!found) return false;
  const { row } = found;
  const registrar = registrarOver(registrarHosts());
  if (row.takenBack || found.gone) return takeBack(ctx, registrar, found);
  if (row.state === 'draft') return settle(ctx, found, async (_, now) => void (now.dueAt = null));
  if (row.state === 'waiting' && !found.ready)
    return settle(ctx, found, async (_, now) => void (now.dueAt = null));
  for (const question of found.answers) await bringAnswer(ctx, registrar, found, question);
  const change = row.change?.state === 'waiting' ? row.change : null;
  const bring = row.state === 'waiting' ? { told: row.told!, version: row.version } : change;
  const said = bring
    ? await registrar.handIn(found.account, row.id, {
        ...{ about: row.about, needs: found.needs, version: bring.version, file: bring.told },
      })
    : await registrar.ask(found.account, row.id);
  if (!said.ok && said.reason.kind === 'unreachable') throw new Error(said.reason.why);
  return settle(ctx, found, async (scope, now) => {
    // It was changed meanwhile: whatever was said is about another version.
    if (now.stamp !== row.stamp) return;
    if (!said.ok) {
      if (!bring) throw new Unworkable(said.reason.why);
      return change
        ? refuseChange(ctx, scope, now, said.reason.why)
        : refused(ctx, scope, now, said.reason.why);
    }
    if (said.value === null) throw new Unworkable('The registrar does not know it any more.');
    if (now.state === 'waiting') await move(ctx, scope, now, 'bring', { by: null, reason: null });
    await follow(ctx, scope, now, said.value);
    // They told us something while we asked: that is asked about next.
    if (now.dueAt?.getTime() !== row.dueAt!.getTime()) return;
    const waits = now.state === 'in-review' ? waitAfter(now.handedInAt, ctx.now()) : pauseOf(now);
    now.dueAt = new Date(ctx.now() + waits);
  });
}

/** What is decided may still be withdrawn, and the callback that says so be lost. */
const pauseOf = ({ state, change }: Registration): Millis =>
  state === 'question' || change?.state === 'in-review' ? LONGEST : DAY;

async function readWork(scope: Scope, id: string): Promise<Work | null> {
  const row = await scope.em.findOne(Registration, { id, dueAt: { $ne: null } });
  const account = row && (await standingRegistrar(scope));
  if (!row || !account) return null;
  const rests = await restsOn(scope, { about: row.about, id: row.subject });
  const through = rests.filter(({ state }) => state === 'registered');
  return {
    ...{ row, account, ready: row.about === 'brand' || through.length > 0 },
    needs: through.map((one) => one.id),
    gone:
      row.about === 'number' &&
      !(await scope.em.findOne(SenderNumberRow, { id: row.subject, releasedAt: null })),
    answers: await scope.em.find(
      RegistrationQuestion,
      { registrationId: id, answer: { $ne: null }, toldAt: null },
      { orderBy: { askedAt: 'asc' } },
    ),
  };
}

/** Writes down what was found out, if it is still there. */
const settle = (
  ctx: Context,
  { row: { id, workspaceId } }: Work,
  work: (scope: Scope, row: Registration) => Promise<void>,
): Promise<boolean> =>
  inWorkspace(ctx.orm, workspaceId, async (scope) => {
    const row = await lockById(scope, id);
    if (!row) return false;
    await work(scope, row);
    await scope.em.flush();
    return true;
  });

async function takeBack(ctx: Context, registrar: Registrar, work: Work): Promise<boolean> {
  const told = await registrar.takeBack(work.account, work.row.id);
  if (!told.ok && told.reason.kind === 'unreachable') throw new Error(told.reason.why);
  return settle(ctx, work, async (scope, now) => {
    if (now.stamp !== work.row.stamp) return;
    if (work.gone) await move(ctx, scope, now, 'call-back', { by: 'given back', reason: null });
    Object.assign(now, { takenBack: false, dueAt: null });
  });
}

async function bringAnswer(
  ctx: Context,
  registrar: Registrar,
  { account, row }: Work,
  { id, key, answer }: RegistrationQuestion,
): Promise<void> {
  const told = await registrar.answer(account, row.id, key, answer!);
  if (!told.ok) {
    if (told.reason.kind === 'unreachable') throw new Error(told.reason.why);
    throw new Unworkable(`The registrar does not take the answer: ${told.reason.why}`);
  }
  await inWorkspace(ctx.orm, row.workspaceId, (scope) =>
    scope.em.nativeUpdate(RegistrationQuestion, { id }, { toldAt: new Date(ctx.now()) }),
  );
}

/** Takes over how it stands there. What we know already changes nothing, so that hearing it twice does no harm. */
async function follow(ctx: Context, scope: Scope, row: Registration, said: Stands): Promise<void> {
  if (said.turn < row.turn) return;
  row.turn = said.turn;
  let asked = 0;
  for (const { key, field, words } of said.questions)
    asked += await scope.run(
      `insert into registration_question (id, workspace_id, registration_id, key, field, words, asked_at)
       values (:id, :workspace, :registration, :key, :field, :words, :at) on conflict (registration_id, key) do nothing`,
      { id: ctx.id('rgq'), registration: row.id, key, field, words, at: new Date(ctx.now()) },
    );
  // What is registered stays so while somebody asks about it: they are told all the same.
  if (asked > 0 && row.state === 'registered') await tellManagers(ctx, scope, row, 'ask');
  const same = said.event !== null && row.state === AFTER[said.event];
  if (said.event === null && row.state === 'question')
    await move(ctx, scope, row, 'answer', { by: null, reason: null });
  // Asked, answered by us, and not yet heard of our answer there: we are not asked anew.
  else if (said.event === 'ask' && !(await isAsked(scope, row))) return;
  else if (said.event !== null && !same)
    await move(ctx, scope, row, said.event, {
      by: null,
      reason: said.reason ?? said.questions[0]?.words ?? null,
    });
  await followChange(ctx, scope, row, said);
}

const AFTER: Partial<Record<NonNullable<Stands['event']>, Registration['state']>> = {
  ...{ ask: 'question', register: 'registered', refuse: 'refused', withdraw: 'withdrawn' },
};

const isAsked = async (scope: Scope, { id }: Registration): Promise<boolean> =>
  (await scope.em.count(RegistrationQuestion, { registrationId: id, answer: null })) > 0;

async function followChange(ctx: Context, scope: Scope, row: Registration, said: Stands): Promise<void> {
  const { change } = row;
  if (change === null || row.state !== 'registered') return;
  if (said.change?.version === change.version) {
    if (said.change.state === 'refused') return refuseChange(ctx, scope, row, said.change.reason ?? '');
    row.change = { ...change, state: 'in-review' };
  } else if (said.change === null && said.version >= change.version) {
    Object.assign(row, { told: change.told, version: change.version, change: null });
    await note(scope, row, 'change-taken', { by: null, reason: null, at: new Date(ctx.now()) });
  }
}

async function refuseChange(ctx: Context, scope: Scope, row: Registration, reason: string): Promise<void> {
  row.change = { ...row.change!, state: 'refused', reason };
  row.dueAt = new Date(ctx.now() + DAY);
  await note(scope, row, 'change-refused', { by: null, reason, at: new Date(ctx.now()) });
}

async function refused(ctx: Context, scope: Scope, row: Registration, reason: string): Promise<void> {
  await move(ctx, scope, row, 'refuse', { by: null, reason });
  row.dueAt = null;
}
