import { USUAL_LINKS } from '@/core/link/shorten';
import { codeLinks, keepCodes } from '@/services/links/make-links';
import { fillAll, noteItems } from '@/services/items/fill-items';
import { mediaPlan } from '@/services/media/files';
import { linkPlan } from '@/services/links/plan';
import { group } from 'd3-array';
import type { ReasonCode } from '@/core/clearance/reasons';
import { block } from '@/core/clearance/reasons';
import type { Channel } from '@/core/message/channel';
import type { Command } from '@/core/sequence/advance';
import type { Message } from '@/core/sequence/document';
import { toIso } from '@/core/shared/instant';
import { parseTemplate } from '@/core/text/template';
import { insertTexts, type NewText } from '@/db/delivery/texts';
import { reachedByChat, readyTemplates } from '@/db/chat/used';
import { insertChats } from '@/db/chat/chats';
import { insertVoicemails } from '@/db/voicemail/voicemails';
import { insertMails } from '@/db/email/mails';
import { toJson } from '@/db/kit/json';
import type { Scope } from '@/db/kit/scope';
import { callBackOf, postponeOf, type EnrolmentFull } from '@/db/sequences/enrolments';
import {
  copyOf,
  loadPersonFacts,
  loadProgramFacts,
  senderFor,
  templateValues,
  type Copy,
  type PersonFacts,
  type ProgramFacts,
  type Wording,
} from '@/services/clearance/clearance-facts';
import type { Context } from '@/services/kit/context';
import { templateWordings, wordingFor } from '@/services/clearance/chat-wordings';
import { chatBeside } from '@/services/delivery/new-chat';
import { mailToken } from '@/services/kit/mail-token';
import { firstNamesOf } from './names';
import { doDeeds, keepAnswers, type Others } from './deeds';
import type { People } from './facts';
import type { Running } from './versions';

/** A command for one enrolment. Lines passed over are written by the caller. */
export interface Told {
  one: EnrolmentFull;
  command: Exclude<Command, { do: 'passed' }>;
  sequence: Running;
}

/** A message that was blocked before it was ever queued. */
export interface Blocked {
  id: string;
  line: string;
  because: ReasonCode;
}

/** Does what the engine said, in bulk. Gives the messages that cannot be sent at all: their lines are passed over. */
export async function carryOut(
  ctx: Context,
  scope: Scope,
  told: readonly Told[],
  people: People,
  others: Others,
): Promise<Blocked[]> {
  const now = new Date(ctx.now());
  const callBack = told.filter(({ command }) => command.do === 'call-back').map(({ one }) => one.id);
  await callBackOf(scope, callBack, now, 'the sequence ended for them');
  for (const { one, command } of told)
    if (command.do === 'postpone') await postponeOf(scope, one.id, new Date(command.until));
  await keepAnswers(
    ctx,
    scope,
    told.flatMap(({ one, command }) =>
      command.do === 'keep-answer' ? [{ personId: one.personId, field: command.field }] : [],
    ),
  );
  await doDeeds(
    ctx,
    scope,
    told.flatMap(({ one, command }) =>
      command.do === 'deed' ? [{ one, line: command.line, deed: command.deed }] : [],
    ),
    people,
    others,
  );
  const messages = told.flatMap(({ one, command, sequence }) =>
    command.do === 'message' ? [{ one, asked: command, sequence, channel: channelOf(command.message) }] : [],
  );
  const blocked: Blocked[] = [];
  for (const together of group(
    await withChats(scope, messages),
    ({ sequence, channel }) => `${sequence.document.program} ${channel}`,
  ).values())
    blocked.push(...(await queueMessages(ctx, scope, together, people)));
  return blocked;
}

/** By chat goes what has a template for it, to whoever agreed to chat, as long as the network takes the template. */
async function withChats(scope: Scope, messages: readonly Queued[]): Promise<Queued[]> {
  const templateOf = ({ asked: { message } }: Queued) => (message.do === 'text' ? message.chat : undefined);
  const asked = messages.filter((message) => templateOf(message) !== undefined);
  if (asked.length === 0) return [...messages];
  const ready = await readyTemplates(scope, [...new Set(asked.map((message) => templateOf(message)!))]);
  const chatting = new Set<string>();
  for (const [program, those] of group(asked, ({ sequence }) => sequence.document.program))
    for (const id of await reachedByChat(
      scope,
      program,
      those.map(({ one }) => one.personId),
    ))
      chatting.add(`${program} ${id}`);
  return messages.map((message) =>
    ready.has(templateOf(message) ?? '') &&
    chatting.has(`${message.sequence.document.program} ${message.one.personId}`)
      ? { ...message, channel: 'chat' as const }
      : message,
  );
}

export const channelOf = (message: Message): Channel =>
  message.do === 'email' || message.do === 'voicemail' ? message.do : 'sms';

interface Queued {
  one: EnrolmentFull;
  asked: Extract<Command, { do: 'message' }>;
  sequence: Running;
  channel: Channel;
}

async function queueMessages(
  ctx: Context,
  scope: Scope,
  messages: readonly Queued[],
  people: People,
): Promise<Blocked[]> {
  const [{ sequence, channel }] = messages as [Queued];
  const facts = await loadProgramFacts(scope, sequence.document.program, ctx.now(), channel);
  if (!facts) throw new Error(`Program ${sequence.document.program} of a sequence is missing`);
  const persons = await loadPersonFacts(scope, facts, [...new Set(messages.map(({ one }) => one.personId))]);
  const names = await firstNamesOf(
    scope,
    messages.map(({ one }) => people.where(one.personId)?.owner_id ?? null),
  );
  const said = new Map<Message, Said>();
  const chats = new Map<Message, (person: PersonFacts) => Wording>();
  for (const { asked } of messages) {
    if (said.has(asked.message)) continue;
    said.set(asked.message, await sayingOf(scope, facts, asked.message));
    if (channel === 'chat' && asked.message.do === 'text')
      chats.set(asked.message, wordingFor((await templateWordings(scope, asked.message.chat!))!));
  }
  const made = messages.map((message) => {
    const person = persons.get(message.one.personId)!;
    const owner = people.where(person.id)?.owner_id;
    const values = templateValues(person.row, facts, (owner && names.get(owner)) ?? null);
    const wording = chats.get(message.asked.message)?.(person) ?? said.get(message.asked.message)!.wording;
    const copy = copyOf(facts, wording, values, person);
    const { body, codes } = codeLinks(ctx, copy);
    return { message, copy, codes, row: rowOf(ctx, message, person, { ...copy, text: body }, facts) };
  });
  await insertTexts(
    scope,
    made.map(({ row }) => row),
  );
  const named = made.filter(({ message }) => said.get(message.asked.message)!.namesItems);
  for (const [step, [first]] of group(named, ({ row }) => row.from!.step))
    await noteItems(scope, { sendId: first!.message.one.sequenceId, stepId: step }, [
      first!.message.asked.message.body,
    ]);
  const bySequence = group(made, ({ message }) => message.one.sequenceId);
  for (const [sequenceId, those] of bySequence)
    await keepCodes(
      ctx,
      scope,
      sequenceId,
      those.map(({ row, codes }) => ({ messageId: row.id, codes })),
    );
  if (channel === 'chat')
    await insertChats(
      scope,
      made.flatMap(({ row, copy }) => chatBeside(row.id, copy)),
    );
  if (channel === 'voicemail')
    await insertVoicemails(
      scope,
      made.flatMap(({ row, copy }) =>
        copy.recording === null ? [] : [{ messageId: row.id, recordingId: copy.recording }],
      ),
    );
  if (channel === 'email')
    await insertMails(
      scope,
      made.map(({ row, copy }) => ({
        ...{ messageId: row.id, token: mailToken(ctx), subject: copy.subject ?? '', answers: null },
      })),
    );
  return made.flatMap(({ message, copy, row }) => {
    const because = row.notBefore === null ? blockOf(row.address, copy, channel) : null;
    return because === null ? [] : [{ id: message.one.id, line: message.asked.line, because: because.code }];
  });
}

/** What a line says to everybody at this moment. */
interface Said {
  wording: Wording;
  namesItems: boolean;
}

async function sayingOf(scope: Scope, facts: ProgramFacts, message: Message): Promise<Said> {
  const filled = await fillAll(scope, message);
  return { wording: await wordingWithFiles(scope, facts, filled), namesItems: filled !== message };
}

/** The wording of a line with its short links, and its files where some go along. */
export async function wordingWithFiles(
  scope: Scope,
  facts: ProgramFacts,
  message: Message,
  /** False: links stay as they are, so that nobody seems to have come by them. */
  counts = true,
): Promise<Wording> {
  const wording = counts ? linkedWording(facts, message) : wordingOf(message);
  const files = message.do === 'text' ? await mediaPlan(scope, facts.workspace, message.media ?? null) : null;
  return files ? { ...wording, media: files } : wording;
}

/** What each line says is read once; versions never change. */
const wordings = new WeakMap<Message, Wording>();

function wordingOf(message: Message): Wording {
  const known = wordings.get(message);
  if (known) return known;
  const body = parseTemplate(message.body);
  const subject = message.do === 'email' ? parseTemplate(message.subject) : null;
  if (!body.ok || (subject && !subject.ok)) throw new Error('A line of a sequence cannot be read any more');
  const wording = {
    ...{ body: body.value, subject: subject?.ok ? subject.value : null },
    ...(message.do === 'voicemail' ? { recording: message.recording } : {}),
  };
  wordings.set(message, wording);
  return wording;
}

/** The same with its addresses as short ones, where the channel is a text. */
const linkedWording = ({ channel, workspace }: ProgramFacts, message: Message): Wording =>
  channel === 'sms'
    ? { ...wordingOf(message), links: linkPlan(workspace, USUAL_LINKS, '') }
    : wordingOf(message);

const MISSING = {
  sms: 'number-missing',
  email: 'email-missing',
  chat: 'chat-missing',
  voicemail: 'number-missing',
} as const;

/** What can be said before delivery asks: there is nowhere to send it, or a field is empty. */
export function blockOf(address: string, copy: Copy, channel: Channel) {
  if (address === '') return block(MISSING[channel]);
  return copy.emptyFields.length > 0 ? block('empty-field', { fields: [...copy.emptyFields] }) : null;
}

function rowOf(
  ctx: Context,
  { one, asked }: Queued,
  person: PersonFacts,
  copy: Copy,
  facts: ProgramFacts,
): NewText {
  const { channel } = facts;
  const at = new Date(ctx.now());
  const address = person.address ?? '';
  const blocked = blockOf(address, copy, channel);
  return {
    id: ctx.id('txt'),
    ...{
      personId: person.id,
      programId: facts.program.id,
      sendId: one.sequenceId,
      inReplyTo: null,
      channel,
      address,
    },
    from: { enrolmentId: one.id, step: `${one.sequenceId}.${asked.line}` },
    kind: asked.answer ? 'sequence-answer' : 'sequence',
    senderId: senderFor(facts, person),
    ...{
      body: copy.text,
      bodyHash: copy.bodyHash,
      alphabet: copy.alphabet,
      parts: copy.parts,
      credits: copy.credits,
      media: copy.media,
    },
    notBefore: blocked ? null : at,
    clearance: blocked
      ? toJson({ at: toIso(ctx.now()), verdict: 'blocked', until: null, reasons: [blocked], senderId: null })
      : null,
    ...{ createdBy: null, createdAt: at },
  };
}
