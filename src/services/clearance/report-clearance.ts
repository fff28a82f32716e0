import { decidingReason } from '@/core/clearance/clear';
import type { ReasonCode } from '@/core/clearance/reasons';
import { ReportBuilder, type ClearanceReport } from '@/core/clearance/report';
import type { Millis } from '@/core/shared/instant';
import { ExampleFinder, type ExampleCopy, type Examples } from '@/core/broadcast/examples';
import { ok, type Result } from '@/core/shared/result';
import { CostBuilder, type CostSpread } from '@/core/text/cost';
import { findLinks } from '@/core/link/find';
import { USUAL_LINKS, type LinkChoice } from '@/core/link/shorten';
import { readTarget, TARGET_WORDS } from '@/core/link/target';
import { readSource } from '@/core/wording/reading';
import { readUntilRegistered } from '@/db/registration/forecasts';
import { linkPlan } from '@/services/links/plan';
import { fillItems } from '@/services/items/fill-items';
import { mediaPlan } from '@/services/media/files';
import type { LinkReason } from '@/core/media/carriage';
import type { Finding } from '@/core/wording/finding';
import { swapLookAlikes, swapsIn, type SwapOffer } from '@/core/text/swaps';
import { parseTemplate } from '@/core/text/template';
import type { Scope } from '@/db/kit/scope';
import { cutPage, membersAmong } from '@/db/audience/audience';
import { scheduledBefore } from '@/db/sends/broadcasts';
import { countPeople, giveRoom } from '@/db/audience/cut';
import { Breath } from '@/services/kit/breath';
import type { Watch } from '@/services/kit/watch';
import { SoFar, type DraftSample, type DraftStep } from './so-far';
import { audienceContext, cutOf, planCondition, readCondition } from '@/services/audience/audience';
import {
  clearBeside,
  clearAudience,
  countMeant,
  copyFor,
  type Ahead,
  type Cleared,
  type GoingBeside,
  type Sending,
} from './clear-audience';
import type { Channel } from '@/core/message/channel';
import { COMPANION_OF, type Companion } from '@/core/broadcast/companion';
import { INSTEAD_OF, type Instead, type InsteadChannel } from '@/core/broadcast/instead';
import { ChatForecast, type ChatOutlook } from './chat-forecast';
import { templateWordings, wordingFor } from './chat-wordings';
import { htmlPart } from '@/core/mail/compose';
import { letterOf, wordingOf } from '@/core/broadcast/wordings';
import {
  forSend,
  loadProgramFacts,
  type Copy,
  type ProgramFacts,
  type Wording,
  numberIsNew,
} from './clearance-facts';
import { LegFinder, type LeavingPlan } from '@/core/broadcast/leaving';
import { addLeg, planDraft, sendersOf, type DraftSender } from './draft-plan';
import { AT_ONCE, type Timing } from '@/core/broadcast/timing';
import { findInWording, type WordingQuestion } from '@/services/templates/check-wording';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';
import { invalid, type Refusal } from '@/services/kit/validation';

export interface DraftQuestion {
  program: string;
  /** Left out: by text. */
  channel?: Channel;
  /** Of an e-mail. */
  subject?: string;
  body: string;
  /** Of a chat message: the template whose wordings count instead of `body`. */
  template?: string | null;
  /** Where it has several wordings, all of them; `subject` and `body` are the one that is looked at. */
  wordings?: readonly { subject: string | null; body: string }[];
  /** When it would be sent. */
  at: Millis;
  /** When it is asked; left out: then. */
  now?: Millis;
  senderName: string | null;
  /** The person whose copy is shown; null: the first of the audience. */
  personId: string | null;
  /** When and from where it would leave; left out: at once. */
  timing?: Timing;
  /** Files that go along; left out: none. */
  media?: readonly string[];
  /** A letter for who cannot be texted; left out or null: none. */
  instead?: Instead | null;
  /** What is told to each before or after it; left out or null: nothing. */
  companion?: Companion | null;
  /** How its links are made; left out: as is usual. */
  links?: LinkChoice;
  /** The draft it is, which is not compared with itself. */
  broadcastId?: string | null;
  /** A condition as JSON text; null: everybody of the program. */
  audience?: string | null;
}

/** What would be told before or after a broadcast to those it reaches. */
export interface CompanionOutlook {
  /** Who is told: cleared, or held until they may be. */
  people: number;
  /** Who may not be told so. */
  blocked: number;
  credits: number;
}

/** An address in a draft. */
export interface DraftLink {
  text: string;
  /** It becomes a short one. */
  short: boolean;
  /** Why it leads nowhere. */
  problem: string | null;
}

export interface DraftReport {
  report: ClearanceReport;
  /** Over people who are cleared or held: what the send will cost. */
  cost: CostSpread;
  /** Who gets a link instead of the files that go along, by why. */
  byLink: Partial<Record<LinkReason, number>>;
  /** Who is told first that another number comes, since the one they know rests: a text each, beside the cost. */
  toldFirst: number;
  /** Who is reached by the other channel, because they are not by this one; null: there is none. */
  letters: number | null;
  /** What is told to each before or after it, of those who are not blocked; null: nothing is. */
  companion: CompanionOutlook | null;
  /** Over everybody who is cleared or held, by whatever channel; what is told beside it is not among it. */
  credits: number;
  /** What going by chat means; null: it does not. */
  chat: ChatOutlook | null;
  creditsLeft: number;
  /** How it reads for one person. */
  sample: DraftSample | null;
  /** Whose copies are worth looking at. */
  examples: Examples;
  /** When how many would leave, holds included. */
  leaving: LeavingPlan;
  /** The numbers of the program, and what each would carry. */
  senders: DraftSender[];
  swaps: SwapOffer | null;
  /** The addresses in the text, as they are written. */
  links: DraftLink[];
  /** What there is to say about the wording, the heaviest first. */
  findings: Finding[];
  /** Of several wordings those that must be mended, the first is 0. */
  open: number[];
}

/** Everything a draft leads to, worked out by the engines that will send it. `watch`: somebody waits for it. */
export async function reportClearance(
  scope: Scope,
  question: DraftQuestion,
  watch: Watch<DraftStep> | null = null,
): Promise<Result<DraftReport, Refusal>> {
  const draft = await readDraft(scope, question);
  if (!draft.ok) return draft;
  const soFar = watch && new SoFar(watch, () => countMeant(scope, draft.value.sending));
  const { sending, shown, beside } = draft.value;
  const { facts } = sending;
  const legs = new LegFinder();
  // Parts, alphabets and look-alikes are a text's.
  const texts = facts.channel === 'sms';
  const builder = new ReportBuilder();
  // Slice by slice, as they are cleared: no audience is so large that somebody else's page waits for it.
  const costs = new CostBuilder();
  const swapped = texts ? await swappedWording(scope, question.body, shown) : null;
  const chats = new ChatForecast(facts);
  const byLink: DraftReport['byLink'] = {};
  let [letters, toldFirst, credits] = [0, 0, 0];
  const told: CompanionOutlook = { people: 0, blocked: 0, credits: 0 };
  let [partsBefore, partsAfter] = [0, 0];
  const examples = new ExampleFinder(question.personId, `${question.at} ${question.personId}`);
  let sample: Cleared | null = null;
  const breath = new Breath();
  for await (const slice of clearAudience(scope, sending)) {
    if (breath.isDue()) await breath.take();
    if (beside) await addTold(told, scope, sending, beside, slice);
    for (const cleared of slice) {
      if (cleared.clearance.verdict !== 'blocked') credits += cleared.copy.credits;
      builder.add(cleared.clearance);
      const letter = cleared.channel !== facts.channel && cleared.clearance.verdict !== 'blocked';
      if (letter) letters += 1;
      if (
        cleared.channel === 'sms' &&
        cleared.clearance.verdict !== 'blocked' &&
        numberIsNew(facts, cleared.person, cleared.clearance.senderId)
      )
        toldFirst += 1;
      chats.add(cleared);
      if (cleared.channel === 'sms' && cleared.clearance.verdict !== 'blocked') addCost(costs, cleared.copy);
      if (cleared.copy.mediaLink && cleared.clearance.verdict !== 'blocked')
        byLink[cleared.copy.mediaLink] = (byLink[cleared.copy.mediaLink] ?? 0) + 1;
      if (swapped && !letter && cleared.clearance.verdict !== 'blocked') {
        partsBefore += question.wordings ? copyFor(sending, shown, cleared.person).parts : cleared.copy.parts;
        partsAfter += copyFor(sending, swapped, cleared.person).parts;
      }
      if (cleared.clearance.verdict !== 'blocked') examples.add(exampleOf(cleared));
      addLeg(legs, letter ? (sending.instead?.facts ?? facts) : facts, question.at, cleared);
      if (cleared.person.id === question.personId || (!sample && cleared.clearance.verdict !== 'blocked'))
        sample = cleared;
    }
    await soFar?.after(() => ({ report: builder.build(), sample: sample && sampleOf(draft.value, sample) }));
  }
  const cost = costs.build();
  const parts = Math.max(0, ...cost.groups.map((group) => group.parts));
  const leaving = planDraft(facts, legs.build(), question.at, question.timing);
  return ok({
    report: builder.build(),
    cost,
    ...{ credits, companion: beside && told },
    ...{ byLink, toldFirst, letters: sending.instead ? letters : null, chat: chats.build() },
    creditsLeft: facts.workspace.creditBalance,
    sample: sample && sampleOf(draft.value, sample),
    examples: examples.build(),
    leaving,
    senders: texts ? await withForecasts(scope, sendersOf(facts, leaving), question.now ?? question.at) : [],
    swaps: swapped && swapsFor(question.body, partsBefore, partsAfter),
    links: texts ? linksOf(question) : [],
    findings:
      // What a template or a recording says is checked where it is made.
      facts.channel === 'chat' || facts.channel === 'voicemail'
        ? []
        : await findInWording(scope, { ...wordingQuestion(facts, question), parts }),
    open: await openWordings(scope, facts, question),
  });
}

/** Who of those a slice reaches would be told of it by the other channel. */
async function addTold(
  told: CompanionOutlook,
  scope: Scope,
  sending: Sending,
  beside: GoingBeside,
  slice: readonly Cleared[],
): Promise<void> {
  const reached = slice.filter(
    ({ clearance, channel }) => clearance.verdict !== 'blocked' && channel === sending.facts.channel,
  );
  const ids = reached.map(({ person }) => person.id);
  for (const { clearance, copy } of await clearBeside(scope, sending, beside, ids)) {
    if (clearance.verdict === 'blocked') told.blocked += 1;
    else {
      told.people += 1;
      told.credits += copy.credits;
    }
  }
}

/** Until when a number that may not send yet likely may, by what such reviews took. */
const withForecasts = (scope: Scope, senders: readonly DraftSender[], now: Millis): Promise<DraftSender[]> =>
  Promise.all(
    senders.map(async (sender) =>
      sender.registered
        ? sender
        : { ...sender, registeredBy: (await readUntilRegistered(scope, sender.id, now))?.likely ?? null },
    ),
  );

const addCost = (costs: CostBuilder, { media, credits, alphabet, parts, outside }: Copy): void =>
  media || !alphabet ? costs.addPicture(credits) : costs.add({ alphabet, parts, outside, credits });

const wordingQuestion = (
  { program, channel }: ProgramFacts,
  { body, at, broadcastId = null }: DraftQuestion,
): WordingQuestion => ({ source: body, program, channel, at, broadcastId });

async function openWordings(scope: Scope, facts: ProgramFacts, question: DraftQuestion): Promise<number[]> {
  const open: number[] = [];
  for (const [i, { body }] of (question.wordings ?? []).entries()) {
    const findings = await findInWording(scope, wordingQuestion(facts, { ...question, body }));
    if (findings.some(({ severity }) => severity === 'must')) open.push(i);
  }
  return open;
}

export interface Behind {
  personId: string;
  name: string;
  /** Where it goes; null: they cannot be reached. */
  address: string | null;
  until: Millis | null;
  evidence: Record<string, unknown>;
  /** What else applies to them, beside the reason that decides. */
  also: ReasonCode[];
}

/** The people behind one line of the report, at most `most`. `code` null: everybody with that verdict. */
export async function peopleBehind(
  scope: Scope,
  question: DraftQuestion,
  wanted: {
    verdict: 'cleared' | 'held' | 'blocked' | null;
    code: ReasonCode | null;
    /** A part of a name or an address; left out: whatever it is. */
    called?: string;
  },
  most: number,
  signal?: AbortSignal,
): Promise<Result<{ people: Behind[]; total: number }, Refusal>> {
  const draft = await readDraft(scope, question);
  if (!draft.ok) return draft;
  const people: Behind[] = [];
  let total = 0;
  for await (const slice of clearAudience(scope, draft.value.sending)) {
    signal?.throwIfAborted();
    for (const { person, clearance } of slice) {
      const deciding = decidingReason(clearance);
      const reason = wanted.code !== null && deciding?.code === wanted.code ? deciding : null;
      if (
        (wanted.code !== null && !reason) ||
        (wanted.verdict !== null && clearance.verdict !== wanted.verdict)
      )
        continue;
      const name = nameOf(person.row);
      if (!isCalled(wanted.called ?? '', name, person.address)) continue;
      total += 1;
      if (people.length < most)
        people.push({
          personId: person.id,
          name,
          address: person.address,
          until: reason?.until ?? clearance.until,
          evidence: reason?.evidence ?? {},
          also: reason
            ? clearance.reasons.filter(({ code }) => code !== reason.code).map(({ code }) => code)
            : [],
        });
    }
  }
  return ok({ people, total });
}

const isCalled = (called: string, name: string, address: string | null): boolean =>
  `${name} ${address ?? ''}`.toLowerCase().includes(called.trim().toLowerCase());

interface Read {
  sending: Sending;
  /** The wording that is looked at. */
  shown: Wording;
  /** What is told before or after it. */
  beside: GoingBeside | null;
}

async function readDraft(
  scope: Scope,
  {
    program: wanted,
    channel = 'sms',
    subject,
    body,
    at,
    senderName,
    audience,
    links = USUAL_LINKS,
    timing = AT_ONCE,
    wordings,
    broadcastId = null,
    media = [],
    instead = null,
    companion = null,
    template = null,
  }: DraftQuestion,
): Promise<Result<Read, Refusal>> {
  const program = await findProgram(scope, wanted);
  if (!program) return invalid('program', NO_PROGRAM);
  const byLanguage = channel === 'chat' ? await templateWordings(scope, template ?? '') : null;
  if (channel === 'chat' && !byLanguage) return invalid('chat_template', 'chat_template: choose a template.');
  const wording = byLanguage ? ok(byLanguage[0]!.wording) : await readWording(scope, body, subject);
  if (!wording.ok) return wording;
  const facts = forSend((await loadProgramFacts(scope, program.id, at, channel))!, timing);
  const files = channel === 'sms' ? await mediaPlan(scope, facts.workspace, media) : null;
  const plan = {
    ...(channel === 'sms' ? { links: linkPlan(facts.workspace, links, '') } : {}),
    ...(files ? { media: files } : {}),
  };
  const shown = { ...wording.value, ...plan };
  const all: Wording[] = [];
  for (const [i, one] of (wordings ?? []).entries()) {
    const read = await readWording(scope, one.body, one.subject ?? undefined);
    if (!read.ok) return inWording(read.reason, i);
    all.push({ ...read.value, ...plan });
  }
  const letter = await readBeside(scope, facts, instead, INSTEAD_OF[channel], { at, timing });
  if (!letter.ok) return letter;
  const told = await readBeside(scope, facts, companion, COMPANION_OF[channel], { at, timing });
  if (!told.ok) return told;
  const beside = told.value;
  const sending: Sending = {
    ...{ facts, wording: shown, senderName, at, local: timing.local },
    ahead: await goingBefore(scope, at, broadcastId),
    instead: letter.value,
    wordingOf: byLanguage
      ? wordingFor(byLanguage)
      : ({ id }) => all[wordingOf(broadcastId ?? '', id, all.length)] ?? shown,
  };
  if (!audience) return ok({ sending, shown, beside });
  const condition = readCondition(audience);
  if (!condition.ok) return condition;
  const cutPlan = planCondition(condition.value, await audienceContext(scope, at));
  if (!cutPlan.ok) return cutPlan;
  await giveRoom(scope);
  const cut = cutOf(cutPlan.value, '');
  return ok({
    sending: {
      ...sending,
      page: (within, after, most) => cutPage(within, cut, after, most),
      headcount: (within) => countPeople(within, cut),
    },
    ...{ shown, beside },
  });
}

/** Scheduled broadcasts that use up what was promised before this one's turn comes. */
async function goingBefore(scope: Scope, at: Millis, except: string | null): Promise<Ahead[]> {
  const rows = await scheduledBefore(scope, new Date(at), except);
  if (rows.length === 0) return [];
  const context = await audienceContext(scope, at);
  return rows.flatMap(({ program_id: programId, channel, send_at, audience }) => {
    const plan = audience && planCondition(audience, context);
    // What cannot be asked any more will mean nobody either.
    if (plan && !plan.ok) return [];
    const cut = plan && cutOf(plan.value, '');
    return [
      {
        ...{ at: send_at.getTime(), programId },
        meant: (within: Scope, ids: readonly string[]) =>
          membersAmong(within, { ids, programId, channel, cut }),
      },
    ];
  });
}

/** What goes by another channel. What is not written yet, or cannot go beside it, goes to nobody. */
async function readBeside(
  scope: Scope,
  { program }: ProgramFacts,
  written: Instead | Companion | null,
  may: readonly InsteadChannel[],
  { at, timing }: { at: Millis; timing: Timing },
): Promise<Result<GoingBeside | null, Refusal>> {
  const { channel: by = 'email' } = written ?? {};
  if (written === null || !may.includes(by) || written.body.trim() === '') return ok(null);
  const wording = await readWording(scope, written.body, by === 'email' ? written.subject : undefined);
  if (!wording.ok) return wording;
  const facts = forSend((await loadProgramFacts(scope, program.id, at, by))!, timing);
  const links = by === 'sms' ? { links: linkPlan(facts.workspace, USUAL_LINKS, '') } : {};
  return ok({ facts, wording: { ...wording.value, ...links } });
}

/** Says in which of several wordings it is. */
const inWording = ({ problems, ...reason }: Refusal, i: number): Result<never, Refusal> => ({
  ok: false,
  reason: {
    ...reason,
    problems: problems.map(({ field, message }) => ({
      field,
      message: message.replace(/^\w+:/, `Wording ${letterOf(i)}:`),
    })),
  },
});

/** A subject may still be missing while somebody writes. */
async function readWording(
  scope: Scope,
  body: string,
  subject: string | undefined,
): Promise<Result<Wording, Refusal>> {
  const read = parseTemplate(await fillItems(scope, body));
  if (!read.ok) return invalid('body', `body: ${read.reason[0]!.message}`);
  const line = subject ? parseTemplate(await fillItems(scope, subject)) : null;
  if (line && !line.ok) return invalid('subject', `subject: ${line.reason[0]!.message}`);
  return ok({ body: read.value, subject: line?.value ?? null });
}

/** The wording with its look-alikes swapped; null: there are none in it. What people's own values hold stays. */
async function swappedWording(scope: Scope, source: string, shown: Wording): Promise<Wording | null> {
  const text = swapLookAlikes(source);
  const read = text === source ? null : parseTemplate(await fillItems(scope, text));
  return read?.ok ? { ...shown, body: read.value } : null;
}

/** What the swaps save over all who get it; null: nothing. They are made in the source. */
const swapsFor = (source: string, partsBefore: number, partsAfter: number): SwapOffer | null =>
  partsAfter < partsBefore
    ? { swaps: swapsIn(source), text: swapLookAlikes(source), partsBefore, partsAfter }
    : null;

const linksOf = ({ body, links = USUAL_LINKS }: DraftQuestion): DraftLink[] => {
  const found = findLinks(readSource(body).text).filter(({ scheme }) => /^https?$/.test(scheme ?? 'https'));
  return [...new Set(found.map(({ text }) => text))].map((text) => {
    const target = readTarget(text);
    return {
      ...{ text, short: links.short && !links.plain.includes(text) && target.ok },
      problem: target.ok ? null : TARGET_WORDS[target.reason],
    };
  });
};

const exampleOf = ({ person, copy: { text, credits, blanks } }: Cleared): ExampleCopy => ({
  ...{ personId: person.id, name: nameOf(person.row), text, credits, blanks },
});

/** A letter as programs for mail show it. */
const htmlOf = ({ workspace, program }: ProgramFacts, { subject, text }: Copy): string =>
  htmlPart({
    ...{ subject: subject ?? '', body: text },
    footer: {
      ...{ business: workspace.business, postalAddress: workspace.postalAddress },
      ...{ program: program.name, unsubscribeUrl: '#' },
    },
  });

/** By the wording that is looked at, whichever they would get; of a chat by the one in their language. */
function sampleOf(
  { sending, shown }: Read,
  { person, copy: theirs, clearance, channel }: Cleared,
): DraftSample {
  const { facts } = sending;
  const copy = channel === facts.channel && channel !== 'chat' ? copyFor(sending, shown, person) : theirs;
  return {
    html: channel === 'email' ? htmlOf(facts, copy) : null,
    personId: person.id,
    name: nameOf(person.row),
    subject: copy.subject,
    text: copy.text,
    parts: copy.parts,
    alphabet: copy.alphabet,
    media: copy.media,
    verdict: clearance.verdict,
  };
}

/** A person's name, or their number when none is known. */
export const nameOf = (row: {
  first_name: string | null;
  last_name: string | null;
  number: string | null;
  email?: string | null;
}): string => {
  const { first_name: first, last_name: last } = row;
  const name = first && last ? `${first} ${last}` : first || last;
  return name || row.number || row.email || 'nobody known';
};
