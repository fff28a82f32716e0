import { log } from '@/log/log';
import type { ConsentEvidence } from '@/core/consent/ledger';
import { parseChatId } from '@/core/chat/chat-id';
import { splitName } from '@/core/question/read-name';
import { interpret, type Interpretation } from '@/core/reply/interpret';
import { cleanText, cutText } from '@/core/shared/clean-text';
import type { ChatAccount } from '@/db/chat/entities';
import { MINUTE } from '@/core/shared/instant';
import { noteWrote } from '@/db/chat/chats';
import { consentsByAddress } from '@/db/consent/consent';
import { announce, cancelQueued } from '@/db/delivery/texts';
import { insertInbound } from '@/db/inbox/inbound';
import type { Scope } from '@/db/kit/scope';
import { addressWorks, setAddress, whoHas } from '@/db/people/addresses';
import { lockPersonByChat } from '@/db/people/by-chat';
import { lockPerson } from '@/db/people/locks';
import { Workspace } from '@/db/access/entities';
import { chatNetwork } from '@/gateways/chat/network';
import type { ArrivedChat } from '@/gateways/chat/told';
import { recordConsents } from '@/services/consent/record-consent';
import { carryDecision } from '@/services/inbox/carry-decision';
import { savePerson } from '@/services/inbox/receive-text';
import { decide, standingOf, type Via } from '@/services/inbox/standing';
import type { Context } from '@/services/kit/context';
import { chatHosts } from '@/services/kit/settings';
import { storeMade } from '@/services/media/files';
import { makeMedia } from '@/services/media/make-media';
import { MediaFile } from '@/db/media/entities';
import { unsuppress } from '@/services/people/suppression';

/** How somebody is kept who is known by what a network calls them. */
async function chatIdOf(scope: Scope, from: string): Promise<{ chatId: string; number: string | null }> {
  const { country } = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const read = parseChatId(from, country);
  const chatId = read.ok ? read.value : from;
  return { chatId, number: chatId.startsWith('+') ? chatId : null };
}

/**
 * Takes a chat message from a person, in the transaction of what follows from it: it is read as a text is, so that keywords,
 * STOP, HELP and YES mean what they mean by text. The window is open from now on.
 */
export async function receiveChat(
  ctx: Context,
  scope: Scope,
  account: ChatAccount,
  arrived: ArrivedChat,
  files: readonly FetchedFile[] = [],
): Promise<void> {
  const { chatId, number } = await chatIdOf(scope, arrived.from);
  const at = arrived.at;
  const name = splitName(arrived.profile.name);
  const person = await lockPersonByChat(scope, {
    ...{ id: ctx.id('per'), chatId, number, source: `chat to ${account.name}`, at },
    ...{
      firstName: name?.first_name ?? null,
      lastName: name?.last_name ?? null,
      language: arrived.profile.language,
    },
  });
  await noteWrote(scope, { accountId: account.id, address: chatId, at });
  const via: Via = { channel: 'chat', accountId: account.id };
  const standing = await standingOf(scope, person, via, chatId);
  const body = cutText(arrived.text, LONGEST);
  const interpretation = meaningOf(arrived, interpret(body, standing));
  const inboundId = ctx.id('inb');
  const stored = await insertInbound(scope, {
    ...{ id: inboundId, personId: person.id, channel: 'chat', subject: null, senderId: null, from: chatId },
    ...{
      carrierId: arrived.id,
      fingerprint: null,
      body,
      interpretation,
      afterTextId: standing.after?.id ?? null,
      at,
    },
    ...{ chatAccountId: account.id, button: arrived.button?.words ?? null },
  });
  if (!stored) return;
  if (files.length > 0) await keepFiles(ctx, scope, arrived, files);
  // Read late, they may have changed their mind since; ending something it always may.
  const late = ctx.now() - at.getTime() > LATE;
  const text = { at: at.getTime(), begins: late ? ('unless-they-wrote-since' as const) : ('yes' as const) };
  const decision = await decide(scope, { text, person, interpretation, standing });
  const evidence: ConsentEvidence = {
    ...{
      said: cutText(body, 500),
      rule: interpretation.rule,
      source: `chat to ${account.name}`,
      inboundTextId: inboundId,
    },
    ...(standing.after ? { afterTextId: standing.after.id } : {}),
  };
  await carryDecision(ctx, scope, {
    ...{ person, from: chatId, via, inboundId, interpretation, decision, standing, evidence, at: text.at },
  });
  if (decision.consents.some(({ kind }) => kind === 'opted-in')) await unsuppress(scope, chatId);
  await addressWorks(scope, 'chat', chatId);
  await savePerson(scope, person, decision, text.at);
  await announce(scope, decision.answers.length > 0);
}

/** What is read so much later than it was written was held up. */
const LATE = 5 * MINUTE;

/** Longer ones are cut: nobody answers a page of text with more. */
const LONGEST = 20_000;

/** The button that leaves is an opt-out, whatever stands on it. */
const meaningOf = ({ button }: ArrivedChat, read: Interpretation): Interpretation =>
  button?.leaves
    ? {
        ...read,
        meaning: 'opt-out',
        rule: 'button',
        evidence: button.words,
        keyword: null,
        nearKeyword: null,
      }
    : read;

/** They told the network that they want to hear nothing: an opt-out of the channel, of every program. */
export async function leaveByBlock(
  ctx: Context,
  scope: Scope,
  account: ChatAccount,
  from: string,
  at: Date,
): Promise<void> {
  const { chatId } = await chatIdOf(scope, from);
  const [id] = await whoHas(scope, 'chat', chatId);
  const person = id === undefined ? null : await lockPerson(scope, id);
  if (!person) return;
  await setAddress(scope, { kind: 'chat', value: chatId, state: 'blocked' });
  await cancelQueued(scope, person.id, at, { channels: ['chat'] }, 'blocked us');
  const open = (await consentsByAddress(scope, person.id)).filter(
    ({ channel, state }) => channel === 'chat' && (state === 'in' || state === 'asked'),
  );
  const said = { channel: 'chat', address: chatId, kind: 'opted-out', method: 'carrier' } as const;
  const evidence = { source: `blocked ${account.name} in the chat`, rule: 'block' };
  await recordConsents(
    ctx,
    scope,
    person.id,
    open.map(({ programId }) => ({ ...said, programId, evidence })),
  );
  await announce(scope, false);
}

/** The block is over; what they had agreed to is not back by that. */
export async function takeBack(scope: Scope, from: string): Promise<void> {
  const { chatId } = await chatIdOf(scope, from);
  await addressWorks(scope, 'chat', chatId);
}

export interface FetchedFile {
  name: string;
  bytes: Buffer;
}

/** Files go with the message under the network’s id of it; one that cannot be read is left out, its words count. */
async function keepFiles(
  ctx: Context,
  scope: Scope,
  { id }: ArrivedChat,
  files: readonly FetchedFile[],
): Promise<void> {
  const arrivedAs = cleanText(id);
  if ((await scope.em.count(MediaFile, { arrivedAs })) > 0) return;
  for (const { name, bytes } of files) {
    const made = await makeMedia(bytes);
    if (!made.ok) continue;
    await storeMade(ctx, scope, made.value, {
      ...{ name: cutText(cleanText(name), 120) || 'file', alt: '', arrivedAs, madeBy: null },
    });
  }
}

/** Fetched outside of any transaction. One the network does not give is left out. */
export async function fetchFiles(account: ChatAccount, { files }: ArrivedChat): Promise<FetchedFile[]> {
  const network = chatNetwork(chatHosts());
  const fetched: FetchedFile[] = [];
  for (const { id, name } of files) {
    const bytes = await network.file(account, id);
    if (bytes) fetched.push({ name, bytes });
    else log.warn({ account: account.id }, 'A file of a chat message could not be fetched.');
  }
  return fetched;
}
