import { NO_ASSIGNMENT, type AssignmentRule } from '@/core/inquiry/assign';
import { NO_MAPPING } from '@/core/inquiry/mapping';
import { parseMapping } from '@/core/inquiry/parse';
import { proposeMapping, rulesOf } from '@/core/inquiry/propose';
import { readDomains } from '@/core/mail/sender';
import { clean } from '@/core/people/values';
import { HOUR } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Membership } from '@/db/access/entities';
import { announce } from '@/db/delivery/texts';
import { dropArrivals, newestArrivals, playAgain, type ArrivalRow } from '@/db/inquiries/arrivals';
import { Source, SourceLabel, SourceSequence } from '@/db/inquiries/entities';
import { lockSource } from '@/db/inquiries/inquiries';
import type { Scope } from '@/db/kit/scope';
import { Sequence } from '@/db/sequences/entities';
import { ownFields } from '@/services/audience/own-fields';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, overtaken, type Refusal } from '@/services/kit/validation';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { replaceLabels } from '@/services/programs/gives';
import type { ChangeSourceInput, NewKeyInput, NewSourceInput } from './inputs';

/** So many of the newest are what a mapping is made from and tried on. */
export const SAMPLES = 20;

/** 120 bits: nobody walks through them. Lower case, since mail is carried without regard to case. */
const makeKey = (ctx: Context): string => Buffer.from(ctx.bytes(15)).toString('hex');

const makeSecret = (ctx: Context): string => `whsec_${Buffer.from(ctx.bytes(24)).toString('base64')}`;

export async function createSource(
  ctx: Context,
  scope: Scope,
  input: NewSourceInput,
  { accountId, name: actor }: Actor,
): Promise<Result<Source, Refusal>> {
  const program = await findProgram(scope, input.program);
  if (!program || program.archivedAt !== null) return invalid('program', NO_PROGRAM);
  const name = clean(input.name);
  if (await nameTaken(scope, name, null)) return SAME_NAME;
  const source = scope.em.create(Source, {
    ...{ id: ctx.id('src'), workspaceId: scope.workspaceId, name, programId: program.id },
    ...{ key: makeKey(ctx), oldKey: null, oldKeyUntil: null, signs: 'nothing', signHeader: null },
    lettersFrom: [],
    ...{ secret: makeSecret(ctx), oldSecret: null, oldSecretUntil: null },
    ...{ mapping: NO_MAPPING, assignment: NO_ASSIGNMENT, wording: null, costCents: null },
    ...{
      lastAccountId: null,
      closedAt: null,
      stamp: 0,
      createdBy: accountId,
      createdAt: new Date(ctx.now()),
    },
  });
  await scope.em.persistAndFlush(source);
  await writeAudit(ctx, scope, actor, 'source.created', source.id, { name });
  return ok(source);
}

const SAME_NAME = conflict('name', 'name: another source has this name. Choose a different one.');

const nameTaken = async (scope: Scope, name: string, of: string | null): Promise<boolean> =>
  (
    await scope.rows(
      `select 1 from source where workspace_id = :workspace and lower(name) = lower(:name) and id is distinct from :of`,
      { name, of },
    )
  ).length > 0;

const lockedSource = async (scope: Scope, id: string): Promise<Source | null> => {
  await lockSource(scope, id);
  return scope.em.findOne(Source, { id }, { refresh: true });
};

export async function changeSource(
  ctx: Context,
  scope: Scope,
  id: string,
  input: ChangeSourceInput,
  { name: actor }: Actor,
): Promise<Result<Source, Refusal>> {
  const source = await lockedSource(scope, id);
  if (!source) return notFound('source');
  if (input.stamp !== source.stamp) return overtaken();
  for (const changed of [
    await changePlain(scope, source, input),
    await changeReading(scope, source, input),
    await changeAssignment(scope, source, input),
    await replaceLabels(scope, SourceLabel, { sourceId: id }, input.labels),
    await replaceBegins(scope, id, input.begins),
  ])
    if (!changed.ok) return changed;
  if (input.closed !== undefined)
    source.closedAt = input.closed ? (source.closedAt ?? new Date(ctx.now())) : null;
  source.stamp += 1;
  await scope.em.flush();
  const { stamp: _, mapping: __, ...what } = input;
  await writeAudit(ctx, scope, actor, 'source.changed', id, { name: source.name, ...what });
  // What could not be read before may be readable now: nobody has to find out by trying.
  if (input.mapping !== undefined) await playUnreadAgain(ctx, scope, id);
  return ok(source);
}

async function changePlain(
  scope: Scope,
  source: Source,
  input: ChangeSourceInput,
): Promise<Result<null, Refusal>> {
  if (input.name !== undefined) {
    const name = clean(input.name);
    if (await nameTaken(scope, name, source.id)) return SAME_NAME;
    source.name = name;
  }
  if (input.program !== undefined) {
    const program = await findProgram(scope, input.program);
    if (!program || program.archivedAt !== null) return invalid('program', NO_PROGRAM);
    source.programId = program.id;
  }
  if (input.wording !== undefined) source.wording = clean(input.wording) || null;
  if (input.cost_cents !== undefined) source.costCents = input.cost_cents;
  if (input.sign_header !== undefined) {
    const header = input.sign_header.trim().toLowerCase();
    if (header !== '' && !/^[a-z0-9-]+$/.test(header))
      return invalid(
        'sign_header',
        'sign_header: a header is letters, digits and hyphens, such as x-signature.',
      );
    source.signHeader = header || null;
  }
  if (input.signs !== undefined) source.signs = input.signs;
  if (input.letters_from !== undefined) {
    const read = readDomains(input.letters_from);
    if (!read.ok) return invalid('letters_from', `letters_from: ${read.reason}`);
    source.lettersFrom = read.value;
  }
  return source.signs === 'header' && source.signHeader === null
    ? invalid('sign_header', 'sign_header: name the header their signature stands in.')
    : ok(null);
}

async function changeReading(
  scope: Scope,
  source: Source,
  { mapping }: ChangeSourceInput,
): Promise<Result<null, Refusal>> {
  if (mapping === undefined) return ok(null);
  const own = (await ownFields(scope)).map(({ key }) => key);
  const parsed = parseMapping(mapping, own);
  if (!parsed.ok) return invalid('mapping', `mapping: ${parsed.reason}`);
  source.mapping = parsed.value;
  return ok(null);
}

async function changeAssignment(
  scope: Scope,
  source: Source,
  { assignment }: ChangeSourceInput,
): Promise<Result<null, Refusal>> {
  if (assignment === undefined) return ok(null);
  const given = assignment as Partial<Record<keyof AssignmentRule, unknown>>;
  const among = Array.isArray(given.among) ? given.among.map(String) : [];
  const kinds = Object.fromEntries(
    Object.entries((given.kinds as object | undefined) ?? {})
      .map(([kind, id]) => [clean(kind), String(id)] as const)
      .filter(([kind, id]) => kind !== '' && id !== ''),
  );
  const named = [...new Set([...among, ...Object.values(kinds)])];
  const here = await scope.em.count(Membership, { accountId: named, role: { $ne: 'counter' } });
  if (here < named.length)
    return invalid('assignment', 'assignment: one of these is no teammate here who answers people.');
  source.assignment = {
    ...{ keepsOwner: given.keepsOwner !== false, onlyOnDuty: given.onlyOnDuty !== false },
    ...{ by: given.by === 'load' ? ('load' as const) : ('turn' as const), among: [...new Set(among)], kinds },
  };
  return ok(null);
}

/** All sequences it begins, anew, each for a kind or for all. */
async function replaceBegins(
  scope: Scope,
  sourceId: string,
  begins: readonly object[] | undefined,
): Promise<Result<null, Refusal>> {
  if (!begins) return ok(null);
  const read = begins.map((one) => {
    const { sequence, kind } = one as { sequence?: unknown; kind?: unknown };
    return { sequenceId: String(sequence ?? ''), kind: typeof kind === 'string' ? clean(kind) : '' };
  });
  const unique = [...new Map(read.map((one) => [`${one.sequenceId} ${one.kind}`, one])).values()];
  const ids = [...new Set(unique.map(({ sequenceId }) => sequenceId))];
  if ((await scope.em.count(Sequence, { id: ids })) < ids.length)
    return invalid('begins', 'begins: one of these sequences is not here any more.');
  await scope.em.nativeDelete(SourceSequence, { sourceId });
  await scope.em.insertMany(
    SourceSequence,
    unique.map((one) => ({ workspaceId: scope.workspaceId, sourceId, ...one })),
  );
  return ok(null);
}

/** A new address or secret; the one before counts for so many hours, so that nothing is lost while the sender changes it. */
export async function newKey(
  ctx: Context,
  scope: Scope,
  id: string,
  { of, hours = 72 }: NewKeyInput,
  { name: actor }: Actor,
): Promise<Result<Source, Refusal>> {
  const source = await lockedSource(scope, id);
  if (!source) return notFound('source');
  const until = new Date(ctx.now() + hours * HOUR);
  if (of === 'address') Object.assign(source, { oldKey: source.key, oldKeyUntil: until, key: makeKey(ctx) });
  else Object.assign(source, { oldSecret: source.secret, oldSecretUntil: until, secret: makeSecret(ctx) });
  source.stamp += 1;
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, `source.new-${of}`, id, { name: source.name, hours });
  return ok(source);
}

/** Those that could not be read are read again, as the source is mapped now, and those left out that are named. Gives how many. */
export async function playUnreadAgain(
  ctx: Context,
  scope: Scope,
  sourceId: string,
  only?: readonly string[],
): Promise<number> {
  const played = await playAgain(scope, sourceId, only ?? null, new Date(ctx.now()));
  if (played > 0) await announce(scope, false);
  return played;
}

/** Nothing follows from those that could not be read. Gives how many. */
export async function leaveOut(
  ctx: Context,
  scope: Scope,
  arrivalIds: readonly string[],
): Promise<Result<number, Refusal>> {
  const left = await dropArrivals(scope, arrivalIds, 'left out by a teammate', new Date(ctx.now()));
  if (left === 0) return notFound('arrival');
  await announce(scope, false);
  return ok(left);
}

/** The newest that somebody asked by: what a mapping is made from and tried on. */
export const samplesOf = async (scope: Scope, sourceId: string, most = SAMPLES): Promise<ArrivalRow[]> =>
  (await newestArrivals(scope, sourceId, { state: null, most })).filter(({ state }) => state !== 'dropped');

/** A mapping made of what is proposed for what came; the source is not changed. */
export async function proposedMapping(scope: Scope, source: Source) {
  const samples = await samplesOf(scope, source.id);
  const proposals = proposeMapping(
    samples.map(({ content }) => content),
    await ownFields(scope),
  );
  return { samples, proposals, rules: rulesOf(proposals) };
}
