import type { AddressKind } from '@/core/people/address';
import { placeColumns, placeOf } from '@/core/phone/place';
import { isAnotherName } from '@/core/import/names';
import { assign, type Assigned } from '@/core/inquiry/assign';
import { arrivalAfter, type ArrivalEvent } from '@/core/inquiry/arrival';
import { readInquiry, type InquiryRead } from '@/core/inquiry/read-inquiry';
import { DAY } from '@/core/shared/instant';
import { ok } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { ARRIVED, arrivalsDue, dropArrivals } from '@/db/inquiries/arrivals';
import { Arrival, Inquiry, Source, SourceLabel } from '@/db/inquiries/entities';
import { candidates, letWait, lockSenderId, lockSource, twinOf } from '@/db/inquiries/inquiries';
import { writeHappenings } from '@/db/kit/happenings';
import { acrossWorkspaces, type Scope } from '@/db/kit/scope';
import { addAddress, whoHas } from '@/db/people/addresses';
import { lockPersonByEmail } from '@/db/people/by-email';
import { lockPersonByNumber } from '@/db/people/by-number';
import type { Person } from '@/db/people/entities';
import { lockPerson } from '@/db/people/locks';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { asDue, type Queue } from '@/services/kit/trouble';
import { setLabel } from '@/services/people/labels';
import { suppressed } from '@/services/people/suppression';
import { consentOfInquiry } from './consent-of-inquiry';
import { readingContext } from './reading';

/** Asked on three portals in one evening, somebody gets one answer. */
const ONE_ANSWER = DAY;
/** What teammates have of the last days counts as their load. */
const LOAD = 7 * DAY;

/** What came through sources, one after the other. */
export const ARRIVAL_QUEUE: Queue = {
  name: 'arrival',
  rows: {
    named: `(select s.name || ', ' || to_char(a.at, 'YYYY-MM-DD HH24:MI') from arrival a join source s on s.id = a.source_id where a.id = x.row_id)`,
    waits: `exists (select 1 from arrival a where a.id = x.row_id and a.due_at is not null)`,
  },
  everyMs: 500,
  atOnce: 4,
  untilDone: true,
  ...{ wakes: true, channel: ARRIVED },
  due: async (reading, untroubled, at) => asDue(await arrivalsDue(reading, untroubled('a.id'), at)),
  work: (ctx, { id, workspaceId }) =>
    acrossWorkspaces(ctx.orm, (crossing) => takeArrival(ctx, crossing.within(workspaceId!), id)),
  giveUp: async (ctx, scope, id) =>
    ok(await dropArrivals(scope, [id], 'given up by a teammate', new Date(ctx.now()))),
};

/** Makes an inquiry of what came, or notes why it cannot be read. False: it does not wait any more. */
export async function takeArrival(ctx: Context, scope: Scope, id: string): Promise<boolean> {
  await scope.run(`select 1 from arrival where workspace_id = :workspace and id = :id for update`, { id });
  const arrival = await scope.em.findOne(Arrival, { id }, { refresh: true });
  if (arrival?.state !== 'received') return false;
  const source = await scope.em.findOneOrFail(Source, { id: arrival.sourceId });
  const read = readInquiry(arrival.content, source.mapping, await readingContext(scope));
  if (!read.ok) return settle(ctx, scope, arrival, 'fail', read.reason);
  const { senderId, person } = read.value;
  if (senderId !== null) await lockSenderId(scope, source.id, senderId);
  if (senderId !== null && (await scope.em.findOne(Inquiry, { sourceId: source.id, senderId })))
    return settle(ctx, scope, arrival, 'know', `the sender’s id ${senderId}`);
  const addresses = [person.number, person.email].filter((one) => one !== null && one !== undefined);
  if ((await suppressed(scope, addresses)).size > 0) {
    // Nothing of somebody who wished to be forgotten is kept, whoever sends it.
    arrival.content = {};
    return settle(ctx, scope, arrival, 'drop', 'they asked to be erased');
  }
  arrival.inquiryId = await keepInquiry(ctx, scope, { arrival, source, read: read.value });
  return settle(ctx, scope, arrival, 'take', null);
}

async function settle(
  ctx: Context,
  scope: Scope,
  arrival: Arrival,
  event: ArrivalEvent,
  because: string | null,
): Promise<boolean> {
  const state = arrivalAfter(arrival.state, event);
  if (!state) throw new Error(`What is ${arrival.state} cannot ${event}`);
  Object.assign(arrival, { state, because, dueAt: null, settledAt: new Date(ctx.now()) });
  await scope.em.flush();
  await announce(scope, event === 'take');
  return true;
}

interface Keeping {
  arrival: Arrival;
  source: Source;
  read: InquiryRead;
}

async function keepInquiry(ctx: Context, scope: Scope, keeping: Keeping): Promise<string> {
  const { arrival, source, read } = keeping;
  const { at } = arrival;
  const { person, fresh } = await personOf(ctx, scope, source, read);
  const told = [...read.person.told, ...(fresh ? [] : namesDiffer(person, read))];
  await fillIn(ctx, scope, person, { source, read, fresh });
  for (const { labelId } of await scope.em.find(SourceLabel, { sourceId: source.id }))
    await setLabel(ctx, scope, labelId, [person.id], true);
  const held = await consentOfInquiry(ctx, scope, { person, source, read, arrivalId: arrival.id });
  const twin = await twinOf(scope, {
    ...{ personId: person.id, kind: read.kind, since: new Date(at.getTime() - ONE_ANSWER) },
  });
  const given = await give(ctx, scope, source, person, read.kind);
  const id = ctx.id('inq');
  await scope.em.insert(Inquiry, {
    ...{
      id,
      workspaceId: scope.workspaceId,
      sourceId: source.id,
      arrivalId: arrival.id,
      personId: person.id,
    },
    ...{ kind: read.kind, words: read.words, senderId: read.senderId, told },
    ...{ accountId: given.accountId, because: given.because, twinOf: twin, held, at },
  });
  // Who had left is not written to by an inquiry alone: a teammate sees their own new act.
  if (held !== null) await letWait(scope, person.id, at);
  await writeHappenings(scope, [
    {
      ...{ kind: 'inquiry.received', personId: person.id, subject: source.id, at },
      detail: {
        inquiry: id,
        kind: read.kind,
        account: given.accountId,
        ...(twin ? { twin } : {}),
        ...(held ? { held } : {}),
      },
    },
  ]);
  return id;
}

/** Who asks: whoever has the number, else whoever alone has the e-mail address, else somebody new. Locked. */
async function personOf(
  ctx: Context,
  scope: Scope,
  source: Source,
  { person }: InquiryRead,
): Promise<{ person: Person; fresh: boolean }> {
  const { number, email } = person;
  const id = ctx.id('per');
  const made = { id, source: `inquiry, ${source.name}`, at: new Date(ctx.now()) };
  if (number === null) {
    const found = await lockPersonByEmail(scope, { ...made, email: email! });
    return { person: found, fresh: found.id === id };
  }
  const known = await knownByEmail(ctx, scope, person);
  if (known) return { person: known, fresh: false };
  const found = await lockPersonByNumber(scope, { ...made, number, ...placeColumns(placeOf({ number })) });
  return { person: found, fresh: found.id === id };
}

/**
 * Somebody asked by e-mail before and gives their number now: whoever alone has the address, has no number, and goes by no
 * other name. The number is theirs from now on.
 */
async function knownByEmail(ctx: Context, scope: Scope, said: InquiryRead['person']): Promise<Person | null> {
  const { number, email } = said;
  if (number === null || email === undefined || (await whoHas(scope, 'number', number)).length > 0)
    return null;
  const [id, ...others] = await whoHas(scope, 'email', email);
  const known = id !== undefined && others.length === 0 ? await lockPerson(scope, id) : null;
  if (!known || known.number !== null) return null;
  if (isAnotherName({ first: known.firstName, last: known.lastName }, saidName(said))) return null;
  await addAddress(scope, { personId: known.id, kind: 'number', value: number, at: new Date(ctx.now()) });
  return lockPerson(scope, known.id);
}

const saidName = (person: InquiryRead['person']) => ({
  first: person.first_name ?? null,
  last: person.last_name ?? null,
});

/** A wholly different name on a number that is known is told: whoever answers ought to see it. */
function namesDiffer(known: Person, { person }: InquiryRead): string[] {
  const here = { first: known.firstName, last: known.lastName };
  const said = saidName(person);
  const name = [said.first, said.last].filter(Boolean).join(' ');
  return isAnotherName(here, said) ? [`they called themselves “${name}”`] : [];
}

/** Fills what is empty, and notes what they asked; what is known of somebody stays as it is. */
async function fillIn(
  ctx: Context,
  scope: Scope,
  known: Person,
  { source, read, fresh }: { source: Source; read: InquiryRead; fresh: boolean },
): Promise<void> {
  const said = read.person;
  const now = new Date(ctx.now());
  const plain = {
    firstName: known.firstName ?? said.first_name ?? null,
    lastName: known.lastName ?? said.last_name ?? null,
    region: known.region ?? said.region ?? null,
    postalCode: known.postalCode ?? said.postal_code ?? null,
    zone: known.zone ?? said.zone ?? null,
    language: known.language ?? said.language ?? null,
  };
  const fields = { ...said.fields, ...known.fields };
  const filled = [
    ...Object.entries(plain).flatMap(([name, value]) =>
      known[name as keyof typeof plain] === value ? [] : [name],
    ),
    ...Object.keys(said.fields).filter((key) => known.fields[key] === undefined),
  ];
  const place = placeColumns(placeOf({ number: known.number, ...plain }));
  Object.assign(known, {
    ...{ ...plain, fields, placeRegion: place.region, placeZones: place.zones },
    asked: { kind: read.kind, words: read.words, source: source.name },
  });
  await scope.em.flush();
  if (!fresh && filled.length > 0)
    await writeAudit(ctx, scope, `inquiry, ${source.name}`, 'person.filled-in', known.id, { fields: filled });
  const further = [...said.further, ...(said.email ? [{ kind: 'email' as const, value: said.email }] : [])];
  for (const { kind, value } of further)
    // An e-mail address may be a family's: whoever has none gets it all the same.
    if (
      value !== known.email &&
      (isTheirFirst(known, kind) || (await whoHas(scope, kind, value)).length === 0)
    )
      await addAddress(scope, { personId: known.id, kind, value, at: now });
}

const isTheirFirst = (known: Person, kind: AddressKind): boolean => kind === 'email' && known.email === null;

/** Gives it to a teammate, and the person with it where they are nobody's yet. */
async function give(
  ctx: Context,
  scope: Scope,
  source: Source,
  person: Person,
  kind: string,
): Promise<Assigned> {
  const { among, kinds } = source.assignment;
  if (among.length === 0 && Object.keys(kinds).length === 0 && person.ownerId === null)
    return { accountId: null, because: 'nobody' };
  // Turns are taken one after the other.
  await lockSource(scope, source.id);
  await scope.em.refresh(source);
  const { zone } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const team = await candidates(scope, new Date(ctx.now() - LOAD));
  const given = assign(
    source.assignment,
    team.map(({ away_until: away, ...one }) => ({ ...one, awayUntil: away?.getTime() ?? null })),
    { ...{ kind, ownerId: person.ownerId, lastId: source.lastAccountId, zone }, at: ctx.now() },
  );
  if (given.accountId !== null) {
    if (given.because === 'turn') source.lastAccountId = given.accountId;
    if (person.ownerId === null)
      await scope.run(
        `update person set owner_id = :accountId where workspace_id = :workspace and id = :id and owner_id is null`,
        { id: person.id, accountId: given.accountId },
      );
  }
  return given;
}
