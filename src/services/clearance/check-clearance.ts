import { clear, type Clearance } from '@/core/clearance/clear';
import { REASON_WORDS, type Reason } from '@/core/clearance/reasons';
import { NO_CONSENT } from '@/core/consent/ledger';
import { countryOf, NUMBER_WORDS, parseNumber } from '@/core/phone/number';
import { isRegion, placeOf } from '@/core/phone/place';
import { parseInstant, toIso, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { parseTemplate, type Template } from '@/core/text/template';
import { whoHas } from '@/db/people/addresses';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import {
  clearanceInput,
  copyOf,
  loadPast,
  loadPersonFacts,
  loadProgramFacts,
  templateValues,
  type PersonFacts,
  type ProgramFacts,
  purseOf,
} from './clearance-facts';
import { fillItems } from '@/services/items/fill-items';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import type { AddressInput } from '@/services/people/inputs';
import type { ClearanceCheckInput } from './inputs';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';

/** May a text of this program go to this person at this instant? Nothing is written. */
export async function checkClearance(
  scope: Scope,
  input: ClearanceCheckInput,
): Promise<Result<Clearance, Refusal>> {
  const at = parseInstant(input.at);
  if (at === null)
    return invalid(
      'at',
      'at: must be an instant in ISO 8601 with an offset, such as 2026-11-24T10:10:00-07:00.',
    );
  if (input.address?.region && !isRegion(input.address.region))
    return invalid(
      'address.region',
      'address.region: is not a state of the United States. Use two letters, such as CO.',
    );
  const program = await findProgram(scope, input.program);
  if (!program) return invalid('program', NO_PROGRAM);
  const facts = (await loadProgramFacts(scope, program.id, at, input.channel ?? 'sms'))!;
  const template = input.body === undefined ? null : parseTemplate(await fillItems(scope, input.body));
  if (template && !template.ok) return invalid('body', `body: ${template.reason[0]!.message}`);
  const person = await subject(scope, facts, input);
  if (!person.ok) return person;
  return ok(await judge(scope, facts, at, placed(person.value, input.address), template?.value ?? null));
}

async function judge(
  scope: Scope,
  facts: ProgramFacts,
  at: Millis,
  person: PersonFacts,
  template: Template | null,
): Promise<Clearance> {
  const copy =
    template &&
    copyOf(facts, { body: template, subject: null }, templateValues(person.row, facts, null), person);
  const past = await loadPast(scope, [{ personId: person.id, bodyHash: copy?.bodyHash ?? null }], at);
  const options = {
    kind: 'broadcast' as const,
    at,
    copy,
    past: past.get(person.id) ?? [],
    purse: purseOf(facts),
  };
  return clear(clearanceInput(facts, person, options), facts.hours);
}

/** The person asked about; a number nobody has yet is judged as somebody who never agreed. */
async function subject(
  scope: Scope,
  facts: ProgramFacts,
  input: ClearanceCheckInput,
): Promise<Result<PersonFacts, Refusal>> {
  if (input.person_id !== undefined && input.number !== undefined)
    return invalid('number', 'number: give number or person_id, not both.');
  if (input.person_id !== undefined) {
    const person = (await loadPersonFacts(scope, facts, [input.person_id])).get(input.person_id);
    return person ? ok(person) : notFound('person');
  }
  if (input.channel !== undefined && input.channel !== 'sms')
    return invalid('person_id', 'person_id: of anything but a text, give the person_id to check.');
  if (input.number === undefined)
    return invalid('number', 'number: give the number or the person_id to check.');
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const number = parseNumber(input.number, workspace.country);
  if (!number.ok) return invalid('number', NUMBER_WORDS[number.reason]);
  const [known] = await whoHas(scope, 'number', number.value);
  const person = known && (await loadPersonFacts(scope, facts, [known], [number.value])).get(known);
  return ok(person || stranger(number.value, workspace.country));
}

function stranger(number: string, country: string): PersonFacts {
  const nothing = {
    region: null,
    postal_code: null,
    zone: null,
    unclear_since: null,
    unread_since: null,
    paused_until: null,
    last_wrote_at: null,
    assigned_sender: null,
    member_elsewhere: false,
    language: null,
    windows: null,
    ...{ left_since: null, left_method: null, left_event: null, stopped_at: null },
  };
  const consent = { consent_state: null, consent_method: null, consent_since: null, consent_event: null };
  const row = {
    id: '',
    number,
    address: number,
    first_name: null,
    asked: null,
    last_name: null,
    email: null,
    line_type: 'unknown',
    no_pictures: false,
    no_voicemail: false,
    address_state: 'in-service',
    fields: {},
  } as const;
  return {
    id: '',
    address: number,
    row: { ...row, ...nothing, ...consent },
    person: {
      address: { value: number, lineType: 'unknown', state: 'in-service' },
      country: countryOf(number) ?? country,
      place: placeOf({ number }),
      unclearSince: null,
      unreadSince: null,
      pausedUntil: null,
      lastWroteAt: null,
    },
    consent: NO_CONSENT,
    memberElsewhere: false,
    assignedSenderId: null,
  };
}

/** A given address takes the place of what is stored, a chosen zone included: it says where they are now. */
function placed(person: PersonFacts, address: AddressInput | undefined): PersonFacts {
  if (!address?.region && !address?.postal_code) return person;
  const place = placeOf({
    number: person.row.number,
    region: address.region ?? null,
    postalCode: address.postal_code ?? null,
  });
  return { ...person, person: { ...person.person, place } };
}

export interface ReasonView {
  code: string;
  effect: 'block' | 'hold';
  means: string;
  remedy: string;
  until?: string;
  evidence: Reason['evidence'];
}

/** Clearance as the API and the screens show it. */
export const clearanceView = ({ verdict, until, reasons, senderId }: Clearance) => ({
  verdict,
  ...(until === null ? {} : { until: toIso(until) }),
  sender_number_id: senderId,
  reasons: reasons.map(reasonView),
});

export const reasonView = ({ code, effect, until, evidence }: Reason): ReasonView => ({
  code,
  effect,
  means: REASON_WORDS[code].short,
  remedy: REASON_WORDS[code].remedy,
  ...(until === null ? {} : { until: toIso(until) }),
  evidence,
});
