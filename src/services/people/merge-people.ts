import { NO_CONSENT, type Consent, type ConsentKind, type ConsentState, fold } from '@/core/consent/ledger';
import { sameValue, toJson } from '@/db/kit/json';
import {
  consentAfterMerge,
  keepFirst,
  MERGE_FIELDS,
  proposeChoices,
  valueOf,
  type Choices,
  type MergeSide,
} from '@/core/duplicates/merge';
import { placeColumns, placeOf } from '@/core/phone/place';
import { ok, type Result } from '@/core/shared/result';
import { Person } from '@/db/people/entities';
import { consentStates, insertConsent } from '@/db/consent/consent';
import { quiet, tell } from '@/db/kit/happenings';
import { lockPeople } from '@/db/people/locks';
import { announce, cancelQueued } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context, MergeOf } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

export interface MergeScreen {
  one: MergeSide;
  other: MergeSide;
  choices: Choices;
  /** Consent now, and after the merge with the one's or the other's number. */
  programs: {
    id: string;
    name: string;
    one: ConsentState;
    other: ConsentState;
    after: Record<'one' | 'other', ConsentState>;
  }[];
}

async function sideOf(scope: Scope, id: string): Promise<MergeSide | null> {
  const person = await scope.em.findOne(Person, { id, mergedInto: null, erasedAt: null });
  if (!person) return null;
  const [row] = await scope.rows<{ n: number }>(
    `select count(*)::int as n from message where workspace_id = :workspace and person_id = :id`,
    { id },
  );
  const { number, firstName, lastName, email, region, postalCode, zone, stageId, ownerId, fields } = person;
  return {
    ...{ id, number, firstName, lastName, email, region, postalCode, zone, stageId, ownerId, fields },
    createdAt: person.createdAt.getTime(),
    lastWroteAt: person.lastWroteAt?.getTime() ?? null,
    texts: row!.n,
  };
}

/** The two side by side, the one that is to be kept first. */
export async function readMerge(scope: Scope, ids: readonly [string, string]): Promise<MergeScreen | null> {
  const [a, b] = [await sideOf(scope, ids[0]), await sideOf(scope, ids[1])];
  if (!a || !b || a.id === b.id) return null;
  const [one, other] = keepFirst(a, b) ? [a, b] : [b, a];
  const mine = await consentStates(scope, one.id);
  const theirs = await consentStates(scope, other.id);
  const isIn = (states: Map<string, Consent>) => [...states.values()].some(({ state }) => state === 'in');
  const programs = await scope.rows<{ id: string; name: string }>(
    `select id, name from program where workspace_id = :workspace order by id`,
  );
  return {
    one,
    other,
    choices: proposeChoices(one, other, isIn(mine), isIn(theirs)),
    programs: programs
      .filter(({ id }) => mine.has(id) || theirs.has(id))
      .map(({ id, name }) => {
        const [kept, gone] = [mine.get(id) ?? NO_CONSENT, theirs.get(id) ?? NO_CONSENT];
        const after = (numberFrom: 'one' | 'other') => consentAfterMerge(kept, gone, numberFrom);
        return {
          ...{ id, name, one: kept.state, other: gone.state },
          after: { one: after('one'), other: after('other') },
        };
      }),
  };
}

interface ConsentMove {
  program: string;
  eventId: string;
  before: ConsentState;
}

/** When somebody opted out of all, wrote something unclear, or began to wait: before the merge. */
interface Standing {
  stopped_at: string | null;
  unclear_since: string | null;
  waiting_since: string | null;
}

interface Moved {
  /** Of the record that is kept. */
  standing: Standing;
  /** Of the one that goes; absent in merges of before 2026-11-25. */
  goneStanding?: Standing;
  /** What each room moved, by its name, as it wants it back. */
  rooms: Record<string, unknown>;
  kept: ConsentMove[];
  gone: ConsentMove[];
}

/**
 * Merges `goneId` into `keptId`. Values by choice, history along, consent to the stricter state; the record that goes
 * stays as a pointer, so that a text from its number finds the one that was kept. Undone by `undoMerge`.
 */
export async function mergePeople(
  ctx: Context,
  scope: Scope,
  keptId: string,
  goneId: string,
  choices: Choices,
  actor: { name: string; accountId: string | null },
): Promise<Result<{ mergeId: string }, Refusal>> {
  if (keptId === goneId) return invalid('people', 'people: choose two different people.');
  await lockPeople(scope, [keptId, goneId]);
  const one = await sideOf(scope, keptId);
  const other = await sideOf(scope, goneId);
  if (!one || !other) return notFound('person');
  const swap = choices.number === 'other';
  const at = new Date(ctx.now());
  // That they were merged is told; what moves with it did not happen to anybody.
  await tell(scope, [{ kind: 'person.merged', personId: keptId, subject: goneId, at }]);
  await quiet(scope);
  const after = chosenValues(one, other, choices);
  // What waits for a number that goes would leave to it: it is called back before anything moves.
  await cancelQueued(scope, goneId, at, null, 'merged');
  if (swap) await cancelQueued(scope, keptId, at, null, 'merged');
  const moved: Moved = {
    standing: await standingOf(scope, keptId),
    goneStanding: await standingOf(scope, goneId),
    rooms: await moveRooms(ctx, scope, { keptId, goneId, at }),
    ...(await mergeConsents(ctx, scope, one, other, swap ? 'other' : 'one')),
  };
  await writeSide(scope, other.id, { ...other, number: `merging:${goneId}` }, keptId);
  await writeSide(scope, one.id, after, null);
  await scope.run(`update person set number = :number where workspace_id = :workspace and id = :goneId`, {
    goneId,
    number: swap ? one.number : other.number,
  });
  await scope.run(
    `update person k set last_wrote_at = greatest(k.last_wrote_at, g.last_wrote_at), stopped_at = coalesce(k.stopped_at, g.stopped_at),
            unclear_since = coalesce(k.unclear_since, g.unclear_since), waiting_since = least(k.waiting_since, g.waiting_since)
       from person g where k.workspace_id = :workspace and k.id = :keptId and g.id = :goneId`,
    { keptId, goneId },
  );
  await scope.run(
    `update person set waiting_since = null, unclear_since = null where workspace_id = :workspace and id = :goneId`,
    { goneId },
  );
  await scope.run(
    `update person set merged_into = :keptId where workspace_id = :workspace and merged_into = :goneId`,
    { keptId, goneId },
  );
  const mergeId = ctx.id('mrg');
  await scope.run(
    `insert into merge (id, workspace_id, kept_id, gone_id, kept_before, gone_before, moved, after, created_by, at)
     values (:mergeId, :workspace, :keptId, :goneId, :one::jsonb, :other::jsonb, :moved::jsonb, :after::jsonb, :by, :at)`,
    {
      mergeId,
      keptId,
      goneId,
      one: toJson(one),
      other: toJson(other),
      moved: toJson(moved),
      after: toJson(after),
      by: actor.accountId,
      at,
    },
  );
  await writeAudit(ctx, scope, actor.name, 'person.merged', keptId, { gone: goneId });
  await announce(scope, false);
  return ok({ mergeId });
}

async function standingOf(scope: Scope, id: string): Promise<Standing> {
  const [row] = await scope.rows<{ standing: Standing }>(
    `select jsonb_build_object('stopped_at', stopped_at, 'unclear_since', unclear_since, 'waiting_since', waiting_since) as standing
       from person where workspace_id = :workspace and id = :id`,
    { id },
  );
  return row!.standing;
}

function chosenValues(one: MergeSide, other: MergeSide, choices: Choices): MergeSide {
  const from = (name: string) => valueOf(choices[name] === 'other' ? other : one, name);
  const plain = Object.fromEntries(MERGE_FIELDS.map((name) => [name, from(name)]));
  const keys = new Set([...Object.keys(one.fields), ...Object.keys(other.fields)]);
  const fields = Object.fromEntries(
    [...keys]
      .map((key) => [key, from(`own.${key}`) ?? valueOf(one, `own.${key}`)])
      .filter(([, value]) => value !== null),
  );
  return { ...one, ...plain, fields };
}

const writeSide = (scope: Scope, id: string, side: MergeSide, mergedInto: string | null): Promise<number> => {
  const { number, firstName, lastName, email, region, postalCode, zone, stageId, ownerId } = side;
  const place = placeColumns(placeOf({ number, zone, region, postalCode }));
  return scope.run(
    `update person set number = :number, first_name = :firstName, last_name = :lastName, email = :email, region = :region, postal_code = :postalCode,
            zone = :zone, stage_id = :stageId, owner_id = :ownerId, fields = :fields::jsonb, merged_into = :mergedInto,
            place_region = :placeRegion, place_zones = :placeZones::text[] where workspace_id = :workspace and id = :id`,
    {
      id,
      number,
      firstName,
      lastName,
      email,
      region,
      postalCode,
      zone,
      stageId,
      ownerId,
      mergedInto,
      fields: toJson(side.fields),
      placeRegion: place.region,
      placeZones: place.zones,
    },
  );
};

/** History goes along, room by room; each says what it moved. */
async function moveRooms(ctx: Context, scope: Scope, of: MergeOf): Promise<Record<string, unknown>> {
  const moved: Record<string, unknown> = {};
  for (const room of ctx.rooms) if (room.merge) moved[room.name] = await room.merge(scope, of);
  return moved;
}

const KIND_OF: Record<Exclude<ConsentState, 'none'>, ConsentKind> = {
  asked: 'asked',
  in: 'opted-in',
  out: 'opted-out',
  lapsed: 'lapsed',
};

async function mergeConsents(
  ctx: Context,
  scope: Scope,
  one: MergeSide,
  other: MergeSide,
  numberFrom: 'one' | 'other',
): Promise<Pick<Moved, 'kept' | 'gone'>> {
  const mine = await consentStates(scope, one.id);
  const theirs = await consentStates(scope, other.id);
  const moved: Pick<Moved, 'kept' | 'gone'> = { kept: [], gone: [] };
  for (const program of new Set([...mine.keys(), ...theirs.keys()])) {
    const current = mine.get(program) ?? NO_CONSENT;
    const target = consentAfterMerge(current, theirs.get(program) ?? NO_CONSENT, numberFrom);
    if (target !== 'none' && target !== current.state)
      moved.kept.push(
        await setConsent(ctx, scope, one.id, program, current, target, `merged with ${other.number}`),
      );
    const gone = theirs.get(program);
    if (gone && (gone.state === 'in' || gone.state === 'asked'))
      moved.gone.push(
        await setConsent(ctx, scope, other.id, program, gone, 'lapsed', `merged into ${one.number}`),
      );
  }
  return moved;
}

/** Adds the entry that leads to a state. The ledger keeps what was before. */
async function setConsent(
  ctx: Context,
  scope: Scope,
  personId: string,
  programId: string,
  current: Consent,
  state: Exclude<ConsentState, 'none'>,
  source: string,
): Promise<ConsentMove> {
  const id = ctx.id('con');
  const event = { id, kind: KIND_OF[state], method: current.method ?? ('by-hand' as const), at: ctx.now() };
  await insertConsent(
    scope,
    { ...event, personId, programId, channel: 'sms', evidence: { source }, at: new Date(event.at) },
    fold(current, event),
  );
  return { program: programId, eventId: id, before: current.state };
}

interface MergeRow {
  kept_id: string;
  gone_id: string;
  kept_before: MergeSide;
  gone_before: MergeSide;
  moved: Moved;
  after: MergeSide;
  at: Date;
  undone_at: Date | null;
}

/** Takes a merge apart: values as they were unless changed since, history back, consent back unless they acted since. */
export async function undoMerge(
  ctx: Context,
  scope: Scope,
  mergeId: string,
  actor: string,
): Promise<Result<{ keptId: string; goneId: string }, Refusal>> {
  const [row] = await scope.rows<MergeRow>(
    `select * from merge where workspace_id = :workspace and id = :mergeId for update`,
    { mergeId },
  );
  if (!row) return notFound('merge');
  if (row.undone_at) return conflict('state', 'state: this merge was undone already.');
  await lockPeople(scope, [row.kept_id, row.gone_id]);
  const now = await sideOf(scope, row.kept_id);
  if (!now) return conflict('state', 'state: the person that was kept is not here any more.');
  if (now.number !== row.after.number)
    return conflict('number', 'number: it was changed since. Change it back first.');
  await quiet(scope);
  const at = new Date(ctx.now());
  // What waits was cleared for one person; they are two again.
  await cancelQueued(scope, row.kept_id, at, null, 'merge undone');
  await scope.run(`update person set number = :hold where workspace_id = :workspace and id = :id`, {
    hold: `merging:${row.gone_id}`,
    id: row.gone_id,
  });
  await writeSide(scope, row.kept_id, backTo(now, row), null);
  await writeSide(scope, row.gone_id, row.gone_before, null);
  const of = { keptId: row.kept_id, goneId: row.gone_id, at: row.at };
  for (const room of ctx.rooms)
    await room.unmerge?.(scope, of, row.moved.rooms[room.name] ?? [], row.gone_before.number);
  await restoreStanding(scope, row);
  await restoreConsent(ctx, scope, row.kept_id, row.moved.kept);
  await restoreConsent(ctx, scope, row.gone_id, row.moved.gone);
  await scope.run(`update merge set undone_at = :at where workspace_id = :workspace and id = :mergeId`, {
    mergeId,
    at,
  });
  await writeAudit(ctx, scope, actor, 'person.unmerged', row.kept_id, { gone: row.gone_id });
  await announce(scope, false);
  return ok({ keptId: row.kept_id, goneId: row.gone_id });
}

/**
 * Each gets back what it had, as far as it still holds; what came since the merge (an opt-out, an unclear reply, a wait)
 * stays with both: nobody can know whose it was, and a hold too many is lifted by hand.
 */
async function restoreStanding(
  scope: Scope,
  { kept_id: keptId, gone_id: goneId, moved }: MergeRow,
): Promise<void> {
  const now = await standingOf(scope, keptId);
  const goneNow = await standingOf(scope, goneId);
  const gone = moved.goneStanding ?? goneNow;
  await writeStanding(scope, keptId, {
    stopped_at: afterUndo(now.stopped_at, moved.standing.stopped_at, gone.stopped_at),
    unclear_since: afterUndo(now.unclear_since, moved.standing.unclear_since, gone.unclear_since),
    waiting_since: afterUndo(now.waiting_since, moved.standing.waiting_since, gone.waiting_since),
  });
  await writeStanding(scope, goneId, {
    stopped_at: goneNow.stopped_at ?? afterUndo(now.stopped_at, gone.stopped_at, moved.standing.stopped_at),
    unclear_since: afterUndo(now.unclear_since, gone.unclear_since, moved.standing.unclear_since),
    waiting_since: afterUndo(now.waiting_since, gone.waiting_since, moved.standing.waiting_since),
  });
}

/** `mine` and `theirs` were so before the merge. Null now: it was settled for both. Else mine, or what came since. */
function afterUndo(now: string | null, mine: string | null, theirs: string | null): string | null {
  if (now === null) return null;
  return mine ?? (now === theirs ? null : now);
}

const writeStanding = (scope: Scope, id: string, standing: Standing): Promise<number> =>
  scope.run(
    `update person set stopped_at = :stopped::timestamptz, unclear_since = :unclear::timestamptz, waiting_since = :waiting::timestamptz
      where workspace_id = :workspace and id = :id`,
    { id, stopped: standing.stopped_at, unclear: standing.unclear_since, waiting: standing.waiting_since },
  );

/** The kept record's values before, but for those that were changed since the merge. */
function backTo(now: MergeSide, { kept_before: before, after }: MergeRow): MergeSide {
  const name = (key: string) => sameValue(valueOf(now, key), valueOf(after, key));
  const plain = Object.fromEntries(
    MERGE_FIELDS.map((key) => [key, name(key) ? valueOf(before, key) : valueOf(now, key)]),
  );
  const keys = new Set([...Object.keys(now.fields), ...Object.keys(before.fields)]);
  const fields = Object.fromEntries(
    [...keys]
      .map((key) => [key, valueOf(name(`own.${key}`) ? before : now, `own.${key}`)])
      .filter(([, value]) => value !== null),
  );
  return { ...now, ...plain, fields };
}

async function restoreConsent(
  ctx: Context,
  scope: Scope,
  personId: string,
  moves: readonly ConsentMove[],
): Promise<void> {
  const states = await consentStates(scope, personId);
  for (const { program, eventId, before } of moves) {
    const current = states.get(program);
    // They acted since: what they did stands.
    if (!current || current.eventId !== eventId) continue;
    await setConsent(
      ctx,
      scope,
      personId,
      program,
      current,
      before === 'none' ? 'lapsed' : before,
      'merge undone',
    );
  }
}
