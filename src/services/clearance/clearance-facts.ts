import { widerAskText } from '@/core/text/wording';
import { shorten, withLinkBelow, type LinkPlan, type Shortened, type ShortLink } from '@/core/link/shorten';
import { linkReason, withPage, type LinkReason, type MediaPlan } from '@/core/media/carriage';
import { hash } from 'node:crypto';
import type {
  ChatSender,
  ClearanceInput,
  ClearancePerson,
  ClearanceProgram,
  PastText,
} from '@/core/clearance/input';
import type { MessageKind } from '@/core/message/kinds';
import { HoursTable } from '@/core/clearance/hours';
import type { Channel } from '@/core/message/channel';
import { countryOf } from '@/core/phone/number';
import { ANY_HOUR, SHIPPED_RULES } from '@/core/clearance/rules';
import { chooseSender, type SenderNumber } from '@/core/clearance/sender';
import { asPerson, NO_CONSENT, type Consent } from '@/core/consent/ledger';
import { showOwnValue } from '@/core/people/values';
import { placeOf } from '@/core/phone/place';
import { promiseFor, type Promised } from '@/core/program/promise';
import { HOURS_STRETCH, meet, type Timing } from '@/core/broadcast/timing';
import { DAY, type Millis } from '@/core/shared/instant';
import { remember } from '@/core/shared/remember';
import { Prices } from '@/core/credits/prices';
import { Purse, type DayLimit } from '@/core/credits/purse';
import { addDays, dayOf, startOf } from '@/core/audience/days';
import { capWhile } from '@/core/numbers/rest';
import { spentSince } from '@/db/credits/ledger';
import { measure } from '@/core/text/measure';
import type { Alphabet } from '@/core/text/measure';
import type { Template, TemplateValues } from '@/core/text/template';
import type { ProgramWording } from '@/core/text/wording';
import { accountFacts, type AccountFactRow } from '@/db/chat/chats';
import { voicemailFacts, type VoicemailFactRow } from '@/db/voicemail/voicemails';
import { USUAL_VOICEMAIL_PRICE } from '@/core/voicemail/account';
import { begins, CONVERSATION } from '@/core/chat/window';
import type { Clearance } from '@/core/clearance/clear';
import { USUAL_PRICES, type Category } from '@/core/chat/network';
import type { WordingState } from '@/core/chat/wording-life';
import { Program, ProgramPromise } from '@/db/programs/entities';
import { Workspace } from '@/db/access/entities';
import {
  pastTexts,
  personFacts,
  programSenders,
  type PersonFactRow,
  type SenderFactRow,
} from '@/db/clearance/clearance-facts';
import type { Scope } from '@/db/kit/scope';
import { wordingOf } from '@/services/programs/wording';

/** What clearance needs to know about a program, once for all its people. */
export interface ProgramFacts {
  channel: Channel;
  workspace: Workspace;
  program: Program;
  clearanceProgram: ClearanceProgram;
  /** What was promised from when on; empty: it never changed. */
  promises: readonly Promised[];
  /** The program's pool. */
  pool: SenderNumber[];
  /** Those of it that this leaves from. */
  senders: SenderNumber[];
  /** Every number of the workspace: an answer leaves from the one that was written to. */
  allSenders: SenderNumber[];
  hours: HoursTable;
  /** How much longer than usual a hold may last. */
  stretch: Millis;
  wording: ProgramWording;
  /** Accounts it can leave from, the first connected first; asked of chat only. */
  accounts: readonly AccountFactRow[];
  /** Who leaves voicemails, asked of voicemail only; null: nobody does. */
  voicemail: VoicemailFactRow | null;
  prices: Prices;
  /** What the day that is asked of may cost. */
  days: readonly DayLimit[];
}

/** What there is to be spent on it. */
export const purseOf = ({ workspace, days }: ProgramFacts): Purse =>
  new Purse(Number(workspace.creditBalance), days);

/** What a text costs that leaves from such a number for such an address: for each part, or as a picture message. */
export const priceOf = (
  { prices, allSenders }: Pick<ProgramFacts, 'prices' | 'allSenders'>,
  { address, senderId, pictures }: { address: string | null; senderId: string | null; pictures: boolean },
): number => {
  const what = pictures ? 'picture' : 'text';
  if (prices.plain) return prices.of({ what, country: null, kind: null, carrier: null });
  const sender = allSenders.find(({ id }) => id === senderId);
  return prices.of({
    ...{ what, country: (address && countryOf(address)) || null },
    ...{ kind: sender?.kind ?? null, carrier: sender?.carrier ?? null },
  });
};

export interface PersonFacts {
  id: string;
  /** Where a message to them goes; null: they cannot be reached on the channel. */
  address: string | null;
  row: PersonFactRow;
  person: ClearancePerson;
  consent: Consent;
  memberElsewhere: boolean;
  assignedSenderId: string | null;
}

/** One that rested carries more by the day. */
const capOf = ({ daily_cap: cap, back_at: back, usual_a_day: usual }: SenderFactRow, at: Millis) =>
  back === null ? cap : capWhile({ backAt: back.getTime(), usual: usual ?? 0, cap }, at);

const shippedHours = new HoursTable(SHIPPED_RULES);
const anyHour = new HoursTable(ANY_HOUR);

/** The hours of the law on each channel. A program's own hours count on all of them. */
const HOURS: Record<Channel, (workspace: Workspace) => HoursTable> = {
  sms: ({ rules }) => (rules ? new HoursTable(rules) : shippedHours),
  email: () => anyHour,
  chat: ({ rules }) => (rules ? new HoursTable(rules) : shippedHours),
  // A voicemail is a call: the rules name calls and texts together.
  voicemail: ({ rules }) => (rules ? new HoursTable(rules) : shippedHours),
};

/** What goes by chat may take some days, since a network lets us begin with so many people a day. */
const BEGIN_STRETCH: Millis = 5 * DAY;

export async function loadProgramFacts(
  scope: Scope,
  programId: string,
  at: Millis,
  channel: Channel = 'sms',
): Promise<ProgramFacts | null> {
  const program = await scope.em.findOne(Program, { id: programId });
  if (!program) return null;
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const rows = await programSenders(scope, programId, new Date(at - DAY));
  const inPool = new Set(rows.filter((row) => row.in_program).map(({ id }) => id));
  const allSenders = rows.map((row) => ({
    id: row.id,
    number: row.number,
    kind: row.kind,
    sms: row.sms,
    mms: row.mms,
    voice: row.voice,
    registration: row.registration,
    dailyCap: capOf(row, at),
    partsPerSecond: row.parts_per_second,
    sentToday: row.sent_today,
    carrier: row.carrier_id,
    resting: row.resting,
  }));
  const pool = allSenders.filter(({ id }) => inPool.has(id));
  return forChannel(
    scope,
    {
      workspace,
      program,
      clearanceProgram: clearanceProgram(program),
      promises: await loadPromises(scope, programId),
      pool,
      senders: pool,
      allSenders,
      wording: wordingOf(workspace, program),
      prices: pricesOf(workspace),
      days: await dayLimits(scope, workspace, program, at),
    },
    channel,
    at,
  );
}

/** What is the same on every channel of a program. */
type AnyChannel = Omit<ProgramFacts, 'channel' | 'hours' | 'stretch' | 'accounts' | 'voicemail'>;

/** The same program on a channel. */
export async function forChannel(
  scope: Scope,
  facts: AnyChannel,
  channel: Channel,
  at: Millis,
): Promise<ProgramFacts> {
  const accounts = channel === 'chat' ? await accountFacts(scope, new Date(at - CONVERSATION)) : [];
  return {
    ...facts,
    channel,
    hours: HOURS[channel](facts.workspace),
    stretch: accounts.some((account) => account.begin_limit !== null) ? BEGIN_STRETCH : 0,
    accounts,
    voicemail: channel === 'voicemail' ? await voicemailFacts(scope) : null,
  };
}

export const pricesOf = ({ prices, creditsPerPart, creditsPerPicture }: Workspace): Prices =>
  new Prices(prices, { text: creditsPerPart, picture: creditsPerPicture });

/** What may still be spent on the day an instant lies in, where that is limited. */
async function dayLimits(
  scope: Scope,
  workspace: Workspace,
  program: Program,
  at: Millis,
): Promise<DayLimit[]> {
  const limits = [
    { of: 'program' as const, limit: program.dailyCredits },
    { of: 'workspace' as const, limit: workspace.dailyCredits },
  ].filter((one): one is { of: DayLimit['of']; limit: number } => one.limit !== null);
  if (limits.length === 0) return [];
  const today = dayOf(at, workspace.zone);
  const spent = await spentSince(scope, new Date(startOf(today, workspace.zone)), program.id);
  const until = startOf(addDays(today, 1), workspace.zone);
  return limits.map(({ of, limit }) => ({ of, limit, left: limit - spent[of], until }));
}

/** The same for one send: inside its own hours, and from the numbers that were chosen for it. */
export const forSend = (facts: ProgramFacts, timing: Timing | null): ProgramFacts =>
  timing === null || (timing.hours === null && timing.senders === null)
    ? facts
    : {
        ...facts,
        clearanceProgram: {
          ...facts.clearanceProgram,
          hours: meet(facts.clearanceProgram.hours, timing.hours),
        },
        stretch: Math.max(facts.stretch, timing.hours ? HOURS_STRETCH : 0),
        senders: facts.pool.filter(({ id }) => timing.senders?.includes(id) ?? true),
      };

const loadPromises = async (scope: Scope, programId: string): Promise<Promised[]> =>
  (await scope.em.find(ProgramPromise, { programId }, { orderBy: { since: 'asc' } })).map(
    ({ since, count, period, binds }) => ({
      ...{ since: since.getTime(), binds },
      promise: count === null ? null : { count, period },
    }),
  );

export const clearanceProgram = (program: Program): ClearanceProgram => ({
  id: program.id,
  purpose: program.purpose,
  archived: program.archivedAt !== null,
  promise:
    program.promiseCount === null ? null : { count: program.promiseCount, period: program.promisePeriod },
  hours: program.ownHours,
});

/** People by id. `addresses` lies beside `ids`, for messages that were queued for one. */
export async function loadPersonFacts(
  scope: Scope,
  { program, channel, workspace }: Pick<ProgramFacts, 'program' | 'channel' | 'workspace'>,
  ids: readonly string[],
  addresses?: readonly (string | null)[],
): Promise<Map<string, PersonFacts>> {
  const asked = { programId: program.id, channel, ids, ...(addresses ? { addresses } : {}) };
  const rows = await personFacts(scope, asked);
  return new Map(rows.map((row) => [row.id, personFactsOf(row, workspace.country)]));
}

export function personFactsOf(row: PersonFactRow, country: string): PersonFacts {
  const place = placeOf({
    number: row.number,
    zone: row.zone,
    region: row.region,
    postalCode: row.postal_code,
  });
  return {
    id: row.id,
    address: row.address,
    row,
    person: {
      address:
        row.address === null
          ? null
          : {
              value: row.address,
              state: row.address_state!,
              lineType: row.line_type!,
              noVoicemail: row.no_voicemail === true,
            },
      place,
      country: (row.number && countryOf(row.number)) ?? country,
      unclearSince: row.unclear_since?.getTime() ?? null,
      unreadSince: row.unread_since?.getTime() ?? null,
      pausedUntil: row.paused_until?.getTime() ?? null,
      lastWroteAt: row.last_wrote_at?.getTime() ?? null,
    },
    consent: consentOf(row),
    memberElsewhere: row.member_elsewhere,
    assignedSenderId: row.assigned_sender,
  };
}

/** What their address told the program, unless they left it since by another, or left everything: a program that came later too. */
function consentOf(row: PersonFactRow): Consent {
  const own: Consent = row.consent_state
    ? {
        state: row.consent_state,
        method: row.consent_method,
        since: row.consent_since?.getTime() ?? null,
        eventId: row.consent_event,
        wasIn: row.consent_state === 'in',
      }
    : NO_CONSENT;
  const out = { state: 'out' as const, wasIn: own.wasIn };
  const left: Consent | null = row.left_since && {
    ...{ ...out, since: row.left_since.getTime(), method: row.left_method, eventId: row.left_event },
  };
  if (own.state === 'out') return own;
  if (left && asPerson(own, left).state === 'out') return left;
  return row.stopped_at ? { ...out, since: row.stopped_at.getTime(), method: 'reply', eventId: null } : own;
}

/** Merge values of one person. `sender` is who sends; the business stands in where nobody does. */
export function templateValues(
  person: PersonFactRow,
  facts: ProgramFacts,
  senderName: string | null,
): TemplateValues {
  const own = Object.entries(person.fields).map(
    ([name, value]) => [`person.fields.${name}`, showOwnValue(value)] as const,
  );
  return {
    'person.first_name': person.first_name,
    'person.last_name': person.last_name,
    'person.email': person.email,
    'person.postal_code': person.postal_code,
    'program.name': facts.program.name,
    'business.name': facts.workspace.business,
    'sender.first_name': senderName,
    'inquiry.kind': person.asked?.kind,
    'inquiry.words': person.asked?.words,
    'inquiry.source': person.asked?.source,
    'program.ask': widerAskText(facts.wording),
    ...Object.fromEntries(own),
  };
}

export const hashBody = (body: string): string =>
  hash('sha256', body.normalize('NFC').trim(), 'base64url').slice(0, 22);

/** A person's copy of a message with its cost. */
export interface Copy {
  text: string;
  /** Of an e-mail. */
  subject: string | null;
  bodyHash: string;
  /** Of a text. */
  alphabet: Alphabet | null;
  parts: number;
  credits: number;
  /** The characters of a text that make it UCS-2. */
  outside: readonly string[];
  emptyFields: string[];
  /** Fields that are empty, with a fallback or without. */
  blanks: number;
  /** Addresses in the text that become short ones, their codes still to be made. */
  links: readonly ShortLink[];
  /** The files it carries as a picture message; null: it is words. */
  media: readonly string[] | null;
  /** Why the files it should carry are a link in it; null: they are not. */
  mediaLink: LinkReason | null;
  /** What a chat message leaves by; null: it is no chat message. */
  chat: ChatCopy | null;
  /** The recording a voicemail plays, by id; null: it is no voicemail. */
  recording: string | null;
}

/** The account and the template of a chat message, filled in. */
export interface ChatCopy {
  accountId: string | null;
  category: Category | 'conversation';
  template: { wordingId: string; state: WordingState; filled: Record<string, string> } | null;
}

/** What is written, to be filled in for each person. */
export interface Wording {
  body: Template;
  /** Of an e-mail. */
  subject: Template | null;
  /** How its addresses are made short; left out: they stay as they are. */
  links?: LinkPlan;
  /** Files that go along; left out: none. */
  media?: MediaPlan;
  /** Of a chat message: the template it goes by. */
  chat?: TemplateWording;
  /** Of a voicemail: the recording it plays. */
  recording?: string;
}

/** A template in one language, as it is filled in for each person. */
export interface TemplateWording {
  accountId: string;
  wordingId: string;
  category: Category;
  state: WordingState;
  /** The body, filled in, with what stands above and below it. */
  whole(body: string): string;
  fill(values: TemplateValues): Record<string, string>;
}

/** Whether files can go to somebody as they are: by the number that would write to them, and by what their phone took before. */
function pictureWays({ senders }: ProgramFacts, person: PersonFacts, from: string | null = null) {
  const choice = chooseSender(senders, person.assignedSenderId, person.address ?? '');
  const sender = senders.find(({ id }) => id === from) ?? (choice.ok ? choice.sender : null);
  return { numberCan: sender?.mms === true, phoneCan: person.row.no_pictures !== true };
}

/**
 * Words that are sent as they stand, with the files that go along: as a picture message from the number it leaves from, as
 * they are by chat, else with a link to them below.
 */
export function copyWithFiles(
  facts: ProgramFacts,
  person: PersonFacts,
  media: MediaPlan | null,
  { text, from, accountId }: { text: string; from: string | null; accountId: string | null },
): Copy {
  if (!media) return sizedCopy(facts, text, accountId);
  if (facts.channel === 'chat') return { ...sizedCopy(facts, text, accountId), media: media.ids };
  const asPicture = facts.channel === 'sms' && linkReason(media, pictureWays(facts, person, from)) === null;
  return asPicture
    ? {
        ...sizedCopy(facts, text, accountId),
        ...sizeOfPicture(facts.workspace.creditsPerPicture),
        media: media.ids,
      }
    : sizedCopy(facts, withPage(text, media), accountId);
}

export function copyOf(
  facts: ProgramFacts,
  wording: Wording,
  values: TemplateValues,
  /** To whom it goes; null: that is not known, it costs what is usual and files go as a link. */
  to: PersonFacts | null = null,
): Copy {
  const rendered = wording.body.render(values);
  const { media, links: plan } = wording;
  const mediaLink = media && to ? linkReason(media, pictureWays(facts, to)) : null;
  const { words, bodyHash } = saidBy(wording)(rendered.text);
  const { text, links } = mediaLink ? withFilesBelow(words, media!, plan) : words;
  const subject = wording.subject?.render(values) ?? null;
  const pictures = media && to && !mediaLink;
  // No number is chosen for every copy of a large audience where all of them cost the same.
  const price = to && !facts.prices.plain ? priceFor(facts, to) : USUAL_PRICE;
  return {
    text,
    links,
    media: pictures ? media.ids : null,
    mediaLink,
    subject: subject && subject.text.replace(/\s+/g, ' ').trim(),
    bodyHash,
    emptyFields: [...new Set([...rendered.empty, ...(subject?.empty ?? [])])],
    blanks: rendered.blanks + (subject?.blanks ?? 0),
    ...(pictures
      ? sizeOfPicture(price(facts, true))
      : SIZES[facts.channel](text, facts, wording.chat, price)),
    chat: facts.channel === 'chat' ? chatCopy(facts, wording.chat, values) : null,
    recording: wording.recording ?? null,
  };
}

interface Said {
  /** Its addresses as short ones. */
  words: Shortened;
  bodyHash: string;
}

/** What a wording says, filled in: many of a large audience have the same first name. */
function saidBy(wording: Wording): (filled: string) => Said {
  const known = SAID.get(wording);
  if (known) return known;
  const { chat, links: plan } = wording;
  const said = remember(1_000, (filled): Said => {
    const whole = chat ? chat.whole(filled) : filled;
    return { words: plan ? shorten(whole, plan) : { text: whole, links: [] }, bodyHash: hashBody(filled) };
  });
  SAID.set(wording, said);
  return said;
}

const SAID = new WeakMap<Wording, (filled: string) => Said>();

const chatCopy = (
  { accounts }: SizeFacts,
  template: TemplateWording | undefined,
  values: TemplateValues,
): ChatCopy =>
  template
    ? {
        ...{ accountId: template.accountId, category: template.category },
        template: { wordingId: template.wordingId, state: template.state, filled: template.fill(values) },
      }
    : { accountId: accounts[0]?.id ?? null, category: 'conversation', template: null };

const withFilesBelow = (words: Pick<Copy, 'text' | 'links'>, media: MediaPlan, plan: LinkPlan | undefined) =>
  plan?.short
    ? withLinkBelow(words, media.page, plan.base)
    : { text: withPage(words.text, media), links: words.links };

/** A picture message is one, however long its words. */
const sizeOfPicture = (credits: number) => ({ ...{ alphabet: null, parts: 1, credits, outside: [] } });

/** What a part of somebody's text costs, or their picture message. */
type CopyPrice = (facts: Pick<ProgramFacts, 'prices'>, pictures: boolean) => number;

const USUAL_PRICE: CopyPrice = ({ prices }, pictures) =>
  prices.of({ what: pictures ? 'picture' : 'text', country: null, kind: null, carrier: null });

/** Of a person: by the number that would write to them, and where theirs is. */
const priceFor =
  (facts: ProgramFacts, person: PersonFacts): CopyPrice =>
  (_, pictures) =>
    priceOf(facts, { address: person.address, senderId: senderFor(facts, person), pictures });

/** Words that are sent as they stand. */
export const sizedCopy = (
  facts: SizeFacts,
  text: string,
  /** Of a chat message: the account they wrote to. */
  accountId: string | null = null,
): Copy => ({
  ...{ text, subject: null, bodyHash: hashBody(text), emptyFields: [], blanks: 0, links: [] },
  ...{ media: null, mediaLink: null, recording: null },
  ...SIZES[facts.channel](text, facts),
  chat:
    facts.channel === 'chat'
      ? { accountId: accountId ?? facts.accounts[0]?.id ?? null, category: 'conversation', template: null }
      : null,
});

type SizeFacts = Pick<ProgramFacts, 'channel' | 'prices' | 'accounts' | 'voicemail'>;

/** How large a copy is on each channel, and what it costs. An e-mail is one, and costs no credits. */
const SIZES: Record<
  Channel,
  (
    text: string,
    facts: SizeFacts,
    template?: TemplateWording,
    price?: CopyPrice,
  ) => Pick<Copy, 'alphabet' | 'parts' | 'credits' | 'outside'>
> = {
  sms: (text, facts, _, price = USUAL_PRICE) => {
    const { alphabet, parts, outside } = measure(text);
    return { alphabet, parts, outside, credits: parts * price(facts, false) };
  },
  email: () => ({ alphabet: null, parts: 1, credits: 0, outside: [] }),
  // The account says what it costs, by what it is for.
  chat: (_, { accounts }, template) => {
    const account = accounts.find(({ id }) => id === template?.accountId) ?? accounts[0];
    const prices = account?.prices ?? USUAL_PRICES;
    return { alphabet: null, parts: 1, credits: prices[template?.category ?? 'conversation'], outside: [] };
  },
  voicemail: (_, { voicemail }) => ({
    ...{ alphabet: null, parts: 1, credits: voicemail?.price ?? USUAL_VOICEMAIL_PRICE, outside: [] },
  }),
};

/**
 * The number a text is queued for, so that it stands in that number's line by how urgent it is; clearance asks again when
 * it leaves. Null: none can send now, or the channel has none.
 */
export function senderFor({ channel, senders }: ProgramFacts, person: PersonFacts): string | null {
  if (channel !== 'sms') return null;
  const choice = chooseSender(senders, person.assignedSenderId, person.address ?? '');
  return choice.ok ? choice.sender.id : null;
}

/** Whether a message leaves from another number than the one they know, which rests: they are told so first. */
export const numberIsNew = (
  { allSenders }: Pick<ProgramFacts, 'allSenders'>,
  { assignedSenderId }: PersonFacts,
  senderId: string | null,
): boolean =>
  assignedSenderId !== null &&
  senderId !== null &&
  senderId !== assignedSenderId &&
  allSenders.some(({ id, resting }) => id === assignedSenderId && resting);

/** Past texts by person, for people and the wording each would get. */
export async function loadPast(
  scope: Scope,
  asked: readonly { personId: string; bodyHash: string | null }[],
  at: Millis,
  except: readonly string[] = [],
): Promise<Map<string, PastText[]>> {
  const rows = await pastTexts(scope, {
    ids: asked.map(({ personId }) => personId),
    hashes: asked.map(({ bodyHash }) => bodyHash),
    except,
    since: new Date(at - 31 * DAY),
  });
  const past = new Map<string, PastText[]>();
  for (const row of rows) {
    const list = past.get(row.person_id) ?? [];
    past.set(row.person_id, list);
    list.push({ at: row.at.getTime(), programId: row.program_id, kind: row.kind, bodyHash: row.body_hash });
  }
  return past;
}

/** A program with what it promised this person. */
const programFor = (
  { clearanceProgram: program, promises }: ProgramFacts,
  { state, since }: Consent,
): ClearanceProgram => {
  if (promises.length === 0) return program;
  // Whoever is in it, nobody knows since when, was in it first.
  return { ...program, promise: promiseFor(promises, state === 'in' ? (since ?? -Infinity) : null) };
};

/** The question clearance answers, put together. */
export function clearanceInput(
  facts: ProgramFacts,
  person: PersonFacts,
  options: {
    kind: MessageKind;
    at: Millis;
    copy: Copy | null;
    past: readonly PastText[];
    purse: Purse;
    answerFrom?: string | null;
    /** For a message that is queued: since when its send runs, and for which address it was made. */
    queued?: { began: Millis; address: string };
    /** By account: who stands before this one with a conversation to begin; left out: nobody. */
    ahead?: ReadonlyMap<string, number>;
  },
): ClearanceInput {
  const { kind, at, copy, past, purse, answerFrom, queued, ahead } = options;
  const answering = facts.allSenders.filter(({ id }) => id === answerFrom);
  return {
    kind,
    channel: facts.channel,
    at,
    person: person.person,
    program: programFor(facts, person.consent),
    consent: person.consent,
    memberElsewhere: person.memberElsewhere,
    past,
    text: copy && {
      bodyHash: copy.bodyHash,
      parts: copy.parts,
      emptyFields: copy.emptyFields,
      credits: copy.credits,
      pictures: copy.media !== null,
    },
    senders: answering.length > 0 ? answering : facts.senders,
    assignedSenderId: person.assignedSenderId,
    purse,
    weeklyCap: facts.workspace.weeklyCap,
    began: queued?.began ?? null,
    stretch: facts.stretch,
    queuedFor: queued?.address ?? null,
    mail: { from: facts.workspace.mailFrom, postalAddress: facts.workspace.postalAddress },
    chat: facts.channel === 'chat' ? chatSender(facts, person, copy?.chat ?? null, ahead) : null,
    voicemail:
      facts.channel === 'voicemail'
        ? { account: facts.voicemail?.state ?? null, callable: facts.pool.some(({ voice }) => voice) }
        : null,
  };
}

/** The account a chat message leaves from, and how it stands with this person. Where the wording is not known yet, a template is meant. */
function chatSender(
  { accounts }: ProgramFacts,
  { row: { windows } }: PersonFacts,
  chat: ChatCopy | null,
  ahead: ReadonlyMap<string, number> | undefined,
): ChatSender {
  const account = accounts.find(({ id }) => id === chat?.accountId) ?? (chat?.accountId ? null : accounts[0]);
  const window = account && windows?.[account.id];
  const instant = (text: string | null | undefined) => (text ? Date.parse(text) : null);
  const limit = account?.begin_limit ?? null;
  return {
    account: account ? { id: account.id, state: account.state } : null,
    ...{ wroteAt: instant(window?.wrote), begunAt: instant(window?.begun), beginLimit: limit },
    beginsLeft: limit === null ? Infinity : Math.max(0, limit - account!.begun),
    ahead: (account && ahead?.get(account.id)) ?? 0,
    template: chat === null ? 'approved' : (chat.template?.state ?? null),
  };
}

/** Counts the conversations that messages begin, as they are cleared one after the other. */
export class BeginCount {
  readonly ahead = new Map<string, number>();

  note({ chat, at }: ClearanceInput, { verdict }: Pick<Clearance, 'verdict'>): void {
    if (!chat?.account || chat.template === null || verdict === 'blocked' || !begins(chat, at)) return;
    this.ahead.set(chat.account.id, (this.ahead.get(chat.account.id) ?? 0) + 1);
  }
}
