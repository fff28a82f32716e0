import { createHash, randomInt, timingSafeEqual } from 'node:crypto';
import { countryOf, NUMBER_WORDS, parseNumber } from '@/core/phone/number';
import { HOUR, MINUTE, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { Account, Workspace } from '@/db/access/entities';
import { insertTexts } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import { OwnNumber } from '@/db/sequences/entities';
import { personOfNumber } from '@/db/sequences/trials';
import { Person } from '@/db/people/entities';
import { newText } from '@/services/delivery/new-text';
import { loadPersonFacts, loadProgramFacts, senderFor } from '@/services/clearance/clearance-facts';
import type { Actor } from '@/services/kit/actor';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { createPerson } from '@/services/people/create-person';

/** A code counts so long, for so many tries; so many go out in an hour. */
const COUNTS: Millis = 10 * MINUTE;
const TRIES = 5;
const CODES_AN_HOUR = 3;

export interface OwnNumberView {
  /** The number that is proved; null: none. */
  number: string | null;
  /** A code is on its way to this number; null: none is. */
  asked: string | null;
}

export async function readOwnNumber(
  ctx: Pick<Context, 'now'>,
  scope: Scope,
  accountId: string,
): Promise<OwnNumberView> {
  const row = await scope.em.findOne(OwnNumber, { accountId });
  const counts = row?.askedAt != null && ctx.now() - row.askedAt.getTime() < COUNTS;
  return { number: row?.number ?? null, asked: counts ? row.asked : null };
}

const hashCode = (number: string, code: string): Buffer =>
  createHash('sha256').update(`${number} ${code}`).digest();

/** Sends a code to a number that a teammate says is theirs. It leaves from the numbers of a program. */
export async function askForProof(
  ctx: Context,
  scope: Scope,
  { number: typed, programId }: { number: string; programId: string },
  { accountId, name }: Actor,
): Promise<Result<{ asked: string }, Refusal>> {
  if (accountId === null)
    return conflict('account', 'account: only somebody who is signed in has a number of their own.');
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const number = parseNumber(typed, workspace.country);
  if (!number.ok) return invalid('number', `number: ${NUMBER_WORDS[number.reason]}`);
  // Codes to expensive ranges abroad are a known fraud.
  if (countryOf(number.value) !== workspace.country)
    return invalid('number', 'number: codes only go to numbers of the country of this workspace.');
  const now = ctx.now();
  const row = await own(scope, accountId);
  const hourIsOver = row.codesSince === null || now - row.codesSince.getTime() > HOUR;
  if (!hourIsOver && row.codes >= CODES_AN_HOUR)
    return conflict(
      'number',
      'number: three codes went out within the hour. Wait a little before you ask again.',
    );
  const person = await personFor(ctx, scope, number.value, accountId, name);
  if (!person.ok) return person;
  if (person.value.stoppedAt !== null) return conflict('number', STOPPED);
  const code = String(randomInt(1_000_000)).padStart(6, '0');
  Object.assign(row, {
    ...{ asked: number.value, askedAt: new Date(now), tries: 0 },
    codeHash: hashCode(number.value, code).toString('hex'),
    codes: hourIsOver ? 1 : row.codes + 1,
    codesSince: hourIsOver ? new Date(now) : row.codesSince,
  });
  await scope.em.flush();
  const facts = await loadProgramFacts(scope, programId, now);
  if (!facts) return notFound('program');
  const [them] = (await loadPersonFacts(scope, facts, [person.value.id])).values();
  await insertTexts(scope, [
    newText(ctx, {
      ...{ personId: person.value.id, address: number.value, programId },
      senderId: senderFor(facts, them!),
      ...{ inboundId: null, workspace, kind: 'trial', createdBy: accountId },
      body: `${workspace.business}: ${code} is the code for your own number. It counts for ten minutes.`,
    }),
  ]);
  await writeAudit(ctx, scope, name, 'own-number.asked', accountId);
  return ok({ asked: number.value });
}

export const STOPPED =
  'number: this number said STOP, so nothing is sent to it. Text a keyword or START from it first.';

async function own(scope: Scope, accountId: string): Promise<OwnNumber> {
  await scope.run(
    `insert into own_number (workspace_id, account_id) values (:workspace, :accountId) on conflict do nothing`,
    { accountId },
  );
  return scope.em.findOneOrFail(OwnNumber, { accountId });
}

/** The record of somebody with this number; a teammate who is nobody's contact yet becomes one, without any consent. */
export async function personFor(
  ctx: Context,
  scope: Scope,
  number: string,
  accountId: string,
  actor: string,
): Promise<Result<Person, Refusal>> {
  const known = await personOfNumber(scope, number);
  if (known) return ok(await scope.em.findOneOrFail(Person, { id: known }));
  const account = await scope.em.findOneOrFail(Account, { id: accountId });
  const [first, ...rest] = account.name.split(' ');
  return createPerson(
    ctx,
    scope,
    { number, first_name: first, ...(rest.length > 0 ? { last_name: rest.join(' ') } : {}) },
    actor,
  );
}

/**
 * The code that came. A wrong one counts as a try, and is no refusal, since that would undo the counting; after five, or
 * ten minutes, a new one is needed.
 */
export async function giveProof(
  ctx: Context,
  scope: Scope,
  code: string,
  { accountId, name }: Actor,
): Promise<Result<{ proved: boolean }, Refusal>> {
  const row = accountId === null ? null : await scope.em.findOne(OwnNumber, { accountId });
  if (!row?.asked || !row.codeHash || !row.askedAt)
    return conflict('code', 'code: no code was sent. Ask for one first.');
  if (ctx.now() - row.askedAt.getTime() >= COUNTS || row.tries >= TRIES)
    return conflict('code', 'code: this one does not count any more. Ask for a new one.');
  const proved = timingSafeEqual(
    hashCode(row.asked, code.replace(/\s/g, '')),
    Buffer.from(row.codeHash, 'hex'),
  );
  if (proved)
    Object.assign(row, { number: row.asked, provedAt: new Date(ctx.now()), asked: null, codeHash: null });
  else row.tries += 1;
  await scope.em.flush();
  if (proved) await writeAudit(ctx, scope, name, 'own-number.proved', accountId!);
  return ok({ proved });
}

export const WRONG_CODE = 'code: that is not the one. Look at the last text, and type its six digits.';
