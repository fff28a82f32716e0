import { CHAT_ID_WORDS, parseChatId } from '@/core/chat/chat-id';
import { EMAIL_WORDS, KIND_OF, KIND_WORDS, parseEmail, type AddressKind } from '@/core/people/address';
import { NUMBER_WORDS, parseNumber } from '@/core/phone/number';
import { placeColumns, placeOf } from '@/core/phone/place';
import { cutText } from '@/core/shared/clean-text';
import { ok, type Result } from '@/core/shared/result';
import { Workspace } from '@/db/access/entities';
import { consentsByAddress } from '@/db/consent/consent';
import { settleCurrent } from '@/db/consent/current';
import { announce, callBack } from '@/db/delivery/texts';
import type { Scope } from '@/db/kit/scope';
import {
  addAddress,
  addressesOf,
  preferAddress,
  takeAddress,
  whoHas,
  type AddressRow,
} from '@/db/people/addresses';
import { lockPerson } from '@/db/people/locks';
import type { Person } from '@/db/people/entities';
import { writeAudit } from '@/services/kit/audit';
import type { Context } from '@/services/kit/context';
import { recordConsent } from '@/services/consent/record-consent';
import { conflict, invalid, notFound, type Refusal } from '@/services/kit/validation';
import { suppressed } from './suppression';

export interface GivenAddress {
  kind: AddressKind;
  value: string;
}

/** A number or an e-mail address as people write it; a chat id after `chat:`. */
export function readAddress(text: string, country: string): Result<GivenAddress, Refusal> {
  if (/^\s*chat:/i.test(text)) {
    const id = parseChatId(text, country);
    return id.ok
      ? ok({ kind: 'chat', value: id.value })
      : invalid('address', `address: “${cutText(text, 40)}” ${CHAT_ID_WORDS}`);
  }
  if (text.includes('@')) {
    const email = parseEmail(text);
    return email.ok
      ? ok({ kind: 'email', value: email.value })
      : invalid('address', `address: “${cutText(text, 40)}” ${EMAIL_WORDS}`);
  }
  const number = parseNumber(text, country);
  return number.ok
    ? ok({ kind: 'number', value: number.value })
    : invalid('address', NUMBER_WORDS[number.reason].replace(/^number/, 'address'));
}

type Change = (
  ctx: Context,
  scope: Scope,
  personId: string,
  address: string,
  actor: string,
) => Promise<Result<AddressRow[], Refusal>>;

/** Reads the address, holds the person, and tells afterwards. What is done in between is refused or done whole. */
const changing =
  (
    event: string,
    change: (ctx: Context, scope: Scope, person: Person, address: GivenAddress) => Promise<Refused>,
  ): Change =>
  async (ctx, scope, personId, text, actor) => {
    const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
    const address = readAddress(text, country);
    if (!address.ok) return address;
    const person = await lockPerson(scope, personId);
    if (!person || person.mergedInto || person.erasedAt) return notFound('person');
    const refused = await change(ctx, scope, person, address.value);
    if (refused) return refused;
    await settleCurrent(scope, [personId]);
    await refreshPlace(scope, person);
    await writeAudit(ctx, scope, actor, event, personId, { address: address.value.value });
    await announce(scope, false);
    return ok(await addressesOf(scope, [personId]));
  };

type Refused = Extract<Result<never, Refusal>, { ok: false }> | null;

/** A number tells where somebody may be. */
async function refreshPlace(scope: Scope, person: Person): Promise<void> {
  await scope.em.refresh(person);
  const place = placeColumns(placeOf(person));
  Object.assign(person, { placeRegion: place.region, placeZones: place.zones });
  await scope.em.flush();
}

/** Adds an address of theirs. The first of its kind is the preferred one. It agreed to nothing yet. */
export const addAddressTo = changing('person.address-added', async (ctx, scope, person, { kind, value }) => {
  const owners = await whoHas(scope, kind, value);
  if (owners.includes(person.id)) return conflict('address', 'address: it is theirs already.');
  if (kind !== 'email' && owners.length > 0)
    return conflict(
      'address',
      `address: somebody else here has this ${KIND_WORDS[kind]}. If they are the same person, merge the two.`,
    );
  if ((await suppressed(scope, [value])).size > 0)
    return conflict('address', 'address: whoever has it asked to be erased. Only they can come back.');
  await addAddress(scope, { personId: person.id, kind, value, at: new Date(ctx.now()) });
  return null;
});

/** Makes an address of theirs the one that is written to. */
export const preferAddressOf = changing('person.address-preferred', async (_, scope, person, address) => {
  if (!(await whoHas(scope, address.kind, address.value)).includes(person.id)) return NOT_THEIRS;
  await preferAddress(scope, { personId: person.id, ...address });
  return null;
});

/** Takes an address from them: what waits for it is called back, and what it agreed to lapses. */
export const takeAddressFrom = changing('person.address-taken', async (ctx, scope, person, address) => {
  const theirs = await addressesOf(scope, [person.id]);
  const { kind, value } = address;
  if (!theirs.some((one) => one.kind === kind && one.value === value)) return NOT_THEIRS;
  if (theirs.length === 1)
    return conflict('address', 'address: is all they can be reached by. Add another first, or erase them.');
  await callBack(
    scope,
    `person_id = :personId and address = :value`,
    { personId: person.id, value },
    new Date(ctx.now()),
    'address taken away',
  );
  for (const { programId, channel, state, address: told } of await consentsByAddress(scope, person.id))
    if (told === value && KIND_OF[channel] === kind && (state === 'in' || state === 'asked'))
      await recordConsent(ctx, scope, {
        ...{ personId: person.id, programId, channel, address: value },
        ...{ kind: 'lapsed', method: 'by-hand', evidence: { source: 'address taken away' } },
      });
  await takeAddress(scope, { personId: person.id, ...address });
  return null;
});

const NOT_THEIRS = conflict('address', 'address: is not one of theirs.');
