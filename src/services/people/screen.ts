import { addressesOf, type AddressRow } from '@/db/people/addresses';
import { Person } from '@/db/people/entities';
import { CHANNELS, type Channel } from '@/core/message/channel';
import { KIND_OF } from '@/core/people/address';
import { consentsByAddress, type LedgerRow, personLedger } from '@/db/consent/consent';
import { Program } from '@/db/programs/entities';
import { type PersonTextRow, personTexts } from '@/db/results/results';
import { sentenceOf } from '@/core/audience/sentence';
import { Broadcast } from '@/db/sends/entities';
import { audienceContext } from '@/services/audience/audience';
import { type Planned, plannedFor } from '@/services/audience/planned';
import type { Scope } from '@/db/kit/scope';
import type { Millis } from '@/core/shared/instant';

export interface PersonScreen {
  person: Person;
  addresses: AddressRow[];
  /** Programs that an address is in now, by its kind and value. */
  agreed: Record<string, string[]>;
  consents: LedgerRow[];
  entries: PersonTextRow[];
  coming: PersonTextRow[];
  planned: Planned[];
  /** Whom the broadcasts among the entries were for, in words, by id; absent: everybody of the program. */
  audiences: Record<string, string>;
}

export async function readPersonScreen(scope: Scope, id: string, now: Millis): Promise<PersonScreen | null> {
  const person = await scope.em.findOne(Person, { id });
  if (!person) return null;
  const entries = await personTexts(scope, id, 200);
  return {
    person,
    addresses: await addressesOf(scope, [id]),
    agreed: await agreedBy(scope, id),
    consents: await personLedger(scope, id),
    entries: entries.filter((entry) => entry.state !== 'queued'),
    coming: entries.filter((entry) => entry.state === 'queued'),
    planned: await plannedFor(scope, person, now),
    audiences: await audiencesOf(scope, entries, now),
  };
}

async function audiencesOf(
  scope: Scope,
  entries: readonly PersonTextRow[],
  now: Millis,
): Promise<Record<string, string>> {
  const ids = [...new Set(entries.flatMap(({ broadcast_id: id }) => id ?? []))];
  if (ids.length === 0) return {};
  const context = await audienceContext(scope, now);
  const broadcasts = await scope.em.find(Broadcast, { id: ids });
  return Object.fromEntries(
    broadcasts.flatMap(({ id, audience }) => (audience ? [[id, sentenceOf(audience, context)]] : [])),
  );
}

async function agreedBy(scope: Scope, personId: string): Promise<Record<string, string[]>> {
  const programs = await scope.em.find(Program, {});
  const agreed: Record<string, string[]> = {};
  for (const { programId, channel, address, state } of await consentsByAddress(scope, personId)) {
    const name = programs.find(({ id }) => id === programId)?.name;
    if (state !== 'in' || !name) continue;
    const key = `${KIND_OF[channel]} ${address}`;
    // A number may have agreed by text and by voicemail.
    agreed[key] = [...new Set([...(agreed[key] ?? []), name])];
  }
  return agreed;
}

/** Channels by which somebody can be written to, the one they last wrote by first; a STOP closes texts. */
export function waysTo(
  { person: { number, email, stoppedAt }, addresses }: Pick<PersonScreen, 'person' | 'addresses'>,
  last: Channel | null,
): Channel[] {
  const chat = addresses.find(({ kind, rank }) => kind === 'chat' && rank === 0);
  const open: Record<Channel, boolean> = {
    sms: number !== null && stoppedAt === null,
    email: email !== null,
    chat: chat !== undefined && chat.state !== 'blocked' && stoppedAt === null,
    // Nobody is answered by a recording.
    voicemail: false,
  };
  const ways = CHANNELS.filter((channel) => open[channel]);
  return last && open[last] ? [last, ...ways.filter((channel) => channel !== last)] : ways;
}
