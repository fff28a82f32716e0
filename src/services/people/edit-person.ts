import { isLanguage } from '@/core/chat/template';
import { EMAIL_WORDS, parseEmail } from '@/core/people/address';
import { isRegion, isZone, placeColumns, placeOf } from '@/core/phone/place';
import { cutText } from '@/core/shared/clean-text';
import { clean, readOwnValue, VALUE_WORDS } from '@/core/people/values';
import { ok, type Result } from '@/core/shared/result';
import { Field } from '@/db/audience/entities';
import { Person, Stage } from '@/db/people/entities';
import { settleCurrent } from '@/db/consent/current';
import { setEmails } from '@/db/people/addresses';
import type { Scope } from '@/db/kit/scope';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { ownsPeople } from '@/services/access/teammates';

const PLAIN: Record<
  string,
  {
    property: 'firstName' | 'lastName' | 'region' | 'postalCode' | 'zone' | 'language';
    wrong(value: string): string | null;
  }
> = {
  first_name: { property: 'firstName', wrong: tooLong },
  last_name: { property: 'lastName', wrong: tooLong },
  region: {
    property: 'region',
    wrong: (value) => (isRegion(value) ? null : 'is not a state. Use two letters, such as CO.'),
  },
  postal_code: {
    property: 'postalCode',
    wrong: (value) => (/^\d{5}(-\d{4})?$/.test(value) ? null : 'is no ZIP code, such as 81201.'),
  },
  language: {
    property: 'language',
    wrong: (value) => (isLanguage(value) ? null : 'is no language. Use a tag such as en, es or fr.'),
  },
  zone: {
    property: 'zone',
    wrong: (value) => (isZone(value) ? null : 'is not a time zone, such as America/Denver.'),
  },
};

function tooLong(value: string): string | null {
  return value.length > 120 ? 'is too long: at most 120 characters.' : null;
}

/**
 * Changes one thing about a person: a field, an own field (`own.<key>`), `stage` or `owner`. An empty value empties
 * it. What it was before stands in the audit.
 */
export async function editPerson(
  ctx: Context,
  scope: Scope,
  id: string,
  field: string,
  raw: string,
  actor: string,
): Promise<Result<Person, Refusal>> {
  const person = await scope.em.findOne(Person, { id, mergedInto: null, erasedAt: null });
  if (!person) return notFound('person');
  const changed =
    field === 'email'
      ? await changeEmail(ctx, scope, person, clean(raw))
      : await change(scope, person, field, clean(raw));
  if (!changed.ok) return changed;
  const place = placeColumns(
    placeOf({
      number: person.number,
      zone: person.zone,
      region: person.region,
      postalCode: person.postalCode,
    }),
  );
  Object.assign(person, { placeRegion: place.region, placeZones: place.zones });
  await scope.em.flush();
  await writeAudit(ctx, scope, actor, 'person.edited', id, {
    field,
    before: changed.value.before,
    after: changed.value.after,
  });
  return ok(person);
}

type Change = { before: unknown; after: unknown };

async function changeEmail(
  ctx: Context,
  scope: Scope,
  person: Person,
  value: string,
): Promise<Result<Change, Refusal>> {
  const email = value === '' ? null : parseEmail(value);
  if (email && !email.ok) return invalid('email', `email: “${cutText(value, 40)}” ${EMAIL_WORDS}`);
  if (!email && person.number === null)
    return invalid('email', 'email: is all they can be reached by. Add a number first, or erase them.');
  const before = person.email;
  await setEmails(scope, [{ personId: person.id, email: email?.value ?? null }], new Date(ctx.now()));
  await settleCurrent(scope, [person.id]);
  await scope.em.refresh(person);
  return ok({ before, after: person.email });
}

async function change(
  scope: Scope,
  person: Person,
  field: string,
  value: string,
): Promise<Result<Change, Refusal>> {
  const plain = PLAIN[field];
  if (plain) {
    const text = field === 'region' ? value.toUpperCase() : value;
    const wrong = text === '' ? null : plain.wrong(text);
    if (wrong) return invalid(field, `${field}: “${cutText(text, 40)}” ${wrong}`);
    const before = person[plain.property];
    person[plain.property] = text === '' ? null : text;
    return ok({ before, after: person[plain.property] });
  }
  if (field === 'stage') {
    if (value !== '' && !(await scope.em.findOne(Stage, { id: value })))
      return invalid(field, 'stage: there is no such stage here.');
    const before = person.stageId;
    person.stageId = value || null;
    return ok({ before, after: person.stageId });
  }
  if (field === 'owner') {
    if (value !== '' && !(await ownsPeople(scope, value)))
      return invalid(field, 'owner: there is no such teammate here.');
    const before = person.ownerId;
    person.ownerId = value || null;
    return ok({ before, after: person.ownerId });
  }
  return changeOwn(scope, person, field, value);
}

async function changeOwn(
  scope: Scope,
  person: Person,
  field: string,
  raw: string,
): Promise<Result<Change, Refusal>> {
  const own = field.startsWith('own.')
    ? await scope.em.findOne(Field, { key: field.slice(4), archivedAt: null })
    : null;
  if (!own) return invalid('field', `field: there is no field “${field}” here.`);
  const value = readOwnValue(own, raw);
  if (!value.ok) return invalid(field, `${field}: “${cutText(raw, 40)}” ${VALUE_WORDS[value.reason]}`);
  const before = person.fields[own.key] ?? null;
  const { [own.key]: _, ...rest } = person.fields;
  person.fields = value.value === null ? rest : { ...rest, [own.key]: value.value };
  return ok({ before, after: value.value });
}
