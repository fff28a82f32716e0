import { isRegion, isZone, placeColumns, placeOf } from '@/core/phone/place';
import { EMAIL_WORDS, KIND_OF, KIND_WORDS, parseEmail } from '@/core/people/address';
import { rings } from '@/core/message/channel';
import { cutText } from '@/core/shared/clean-text';
import { NUMBER_WORDS, parseNumber } from '@/core/phone/number';
import { ok, type Result } from '@/core/shared/result';
import { whoHas } from '@/db/people/addresses';
import { Person } from '@/db/people/entities';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { ConsentInput, CreatePersonInput } from './inputs';
import { CONSENT_WORDS, recordConsent } from '@/services/consent/record-consent';
import { suppressed } from './suppression';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';

const FIELD_NAME = /^[a-z][a-z0-9_]{0,39}$/;

/** Adds a person. A number or an e-mail address is enough; consent needs its wording. `actor` is written to the ledger and the audit. */
export async function createPerson(
  ctx: Context,
  scope: Scope,
  input: CreatePersonInput,
  actor: string,
): Promise<Result<Person, Refusal>> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const reached = await readAddresses(scope, input, workspace.country);
  if (!reached.ok) return reached;
  const { number, email } = reached.value;
  const wrong = wrongDetail(input);
  if (wrong) return wrong;
  const place = placeColumns(
    placeOf({ number, zone: input.zone, region: input.region, postalCode: input.postal_code }),
  );
  const person = scope.em.create(Person, {
    id: ctx.id('per'),
    workspaceId: scope.workspaceId,
    number,
    firstName: blank(input.first_name),
    lastName: blank(input.last_name),
    email,
    region: input.region ?? null,
    postalCode: input.postal_code ?? null,
    zone: input.zone ?? null,
    lineType: 'unknown',
    numberState: 'in-service',
    emailState: 'in-service',
    further: null,
    fields: input.fields ?? {},
    stageId: null,
    ownerId: null,
    placeRegion: place.region,
    placeZones: place.zones,
    mergedInto: null,
    erasedAt: null,
    source: actor.startsWith('key:') ? 'API' : 'by hand',
    unclearSince: null,
    pausedUntil: null,
    stoppedAt: null,
    lastWroteAt: null,
    asked: null,
    waitingSince: null,
    createdAt: new Date(ctx.now()),
  });
  await scope.em.persistAndFlush(person);
  await writeAudit(ctx, scope, actor, 'person.created', person.id);
  return input.consent ? withConsent(ctx, scope, person, input.consent, actor) : ok(person);
}

/** Where the new person is reached: a number that nobody here has yet, an e-mail address, or both. */
async function readAddresses(
  scope: Scope,
  input: CreatePersonInput,
  country: string,
): Promise<Result<{ number: string | null; email: string | null }, Refusal>> {
  const email = blank(input.email) === null ? null : parseEmail(input.email!);
  if (email && !email.ok) return invalid('email', `email: “${cutText(input.email!, 40)}” ${EMAIL_WORDS}`);
  // Of who has a number, the number says who they are; an e-mail address may be a family's.
  const number = blank(input.number) === null && email ? null : parseNumber(input.number ?? '', country);
  if (number && !number.ok) return invalid('number', NUMBER_WORDS[number.reason]);
  const address = number?.value ?? email!.value!;
  const field = number ? 'number' : 'email';
  if ((await whoHas(scope, field, address)).length > 0)
    return conflict(
      field,
      `${field}: somebody with this ${number ? 'number' : 'e-mail address'} is already here. Open their page instead.`,
    );
  const given = [number?.value, email?.value].filter((one) => one !== undefined);
  const erased = await suppressed(scope, given);
  if (erased.size > 0)
    return conflict(
      field,
      `${field}: this person asked to be erased. Only they can come back, by texting a keyword.`,
    );
  return ok({ number: number?.value ?? null, email: email?.value ?? null });
}

/** Adds many, all or none: what is wrong is named with its place in the list. */
export async function createPeople(
  ctx: Context,
  scope: Scope,
  inputs: readonly CreatePersonInput[],
  actor: string,
): Promise<Result<Person[], Refusal>> {
  const people: Person[] = [];
  for (const [i, input] of inputs.entries()) {
    const made = await createPerson(ctx, scope, input, actor);
    if (!made.ok) {
      const problems = made.reason.problems.map(({ field, message }) => ({
        field: `people.${i}.${field}`,
        message: `people.${i}.${message}`,
      }));
      return { ok: false, reason: { ...made.reason, problems } };
    }
    people.push(made.value);
  }
  return ok(people);
}

/** Writes down that somebody who is known agreed to something, with the words they agreed to. Whoever left stays out. */
export async function attestConsent(
  ctx: Context,
  scope: Scope,
  personId: string,
  consent: ConsentInput,
  actor: string,
): Promise<Result<Person, Refusal>> {
  const person = await scope.em.findOne(Person, { id: personId, mergedInto: null, erasedAt: null });
  if (!person) return notFound('person');
  const agreed = await withConsent(ctx, scope, person, consent, actor);
  if (agreed.ok)
    await writeAudit(ctx, scope, actor, 'person.consent-attested', personId, { program: consent.program });
  return agreed;
}

async function withConsent(
  ctx: Context,
  scope: Scope,
  person: Person,
  consent: ConsentInput,
  actor: string,
): Promise<Result<Person, Refusal>> {
  const program = await findProgram(scope, consent.program);
  if (!program) return invalid('consent.program', `consent.${NO_PROGRAM}`);
  if (consent.obtained_at && Date.parse(consent.obtained_at) > ctx.now())
    return invalid(
      'consent.obtained_at',
      'consent.obtained_at: lies in the future. Give the time at which the person agreed.',
    );
  const channel = consent.channel ?? (person.number ? 'sms' : 'email');
  const address = KIND_OF[channel] === 'number' ? person.number : person.email;
  if (address === null)
    return invalid(
      'consent.channel',
      `consent.channel: there is no ${KIND_WORDS[KIND_OF[channel]]} by which they could agree.`,
    );
  // Whoever left everything left what came since as well.
  if (person.stoppedAt !== null && rings(channel))
    return invalid('consent', CONSENT_WORDS['opted-out-stays-out']);
  const recorded = await recordConsent(ctx, scope, {
    ...{ personId: person.id, programId: program.id, channel, address },
    kind: 'opted-in',
    method: actor.startsWith('key:') ? 'api' : 'by-hand',
    evidence: {
      wording: consent.wording,
      recordedBy: actor,
      ...(consent.source ? { source: consent.source } : {}),
      ...(consent.obtained_at ? { obtainedAt: consent.obtained_at } : {}),
    },
  });
  return recorded.ok ? ok(person) : invalid('consent', CONSENT_WORDS[recorded.reason]);
}

const blank = (value: string | undefined): string | null =>
  value === undefined || value.trim() === '' ? null : value.trim();

function wrongDetail(input: CreatePersonInput) {
  if (input.region && !isRegion(input.region))
    return invalid('region', 'region: is not a state of the United States. Use two letters, such as CO.');
  if (input.zone && !isZone(input.zone))
    return invalid('zone', 'zone: is not a time zone. Use an IANA name, such as America/Denver.');
  for (const [name, value] of Object.entries(input.fields ?? {})) {
    if (!FIELD_NAME.test(name))
      return invalid(
        `fields.${name}`,
        `fields.${name}: field names are lower case letters, digits and _, such as favourite_planet.`,
      );
    if (typeof value !== 'string' || value.length > 500)
      return invalid(`fields.${name}`, `fields.${name}: must be text of at most 500 characters.`);
  }
  return null;
}
