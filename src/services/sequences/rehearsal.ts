import { clear } from '@/core/clearance/clear';
import type { Reason } from '@/core/clearance/reasons';
import { enter } from '@/core/sequence/advance';
import { everyLine, isMessage, type Message, type SequenceDocument } from '@/core/sequence/document';
import { begin, END_WORDS, PASS_WORDS, type PassReason } from '@/core/sequence/enrolment';
import { rehearse, type Asked, type Pretended, type Stage, type Verdict } from '@/core/sequence/rehearse';
import { REASON_WORDS, isReasonCode } from '@/core/clearance/reasons';
import { MINUTE, parseInstant, toIso, type Millis } from '@/core/shared/instant';
import { ok, type Result } from '@/core/shared/result';
import { dayNumberAt } from '@/core/shared/zone';
import { NO_CONSENT } from '@/core/consent/ledger';
import { isZone, placeOf } from '@/core/phone/place';
import { Workspace } from '@/db/access/entities';
import type { Scope } from '@/db/kit/scope';
import { reachedByChat, readyTemplates } from '@/db/chat/used';
import { Person } from '@/db/people/entities';
import { Sequence } from '@/db/sequences/entities';
import type { PastText } from '@/core/clearance/input';
import {
  clearanceInput,
  copyOf,
  loadPast,
  loadPersonFacts,
  loadProgramFacts,
  purseOf,
  templateValues,
  type Wording,
  type Copy,
  type PersonFacts,
  type ProgramFacts,
} from '@/services/clearance/clearance-facts';
import { templateWordings, wordingFor } from '@/services/clearance/chat-wordings';
import type { Context } from '@/services/kit/context';
import { invalid, notFound, type Refusal } from '@/services/kit/validation';
import { fillAll } from '@/services/items/fill-items';
import { channelOf, wordingWithFiles } from './carry-out';
import { loadPeople, type People } from './facts';
import type { RehearsalInput } from './inputs';
import { readDocument } from './sequences';
import { ready } from './versions';
import { findProgram, NO_PROGRAM } from '@/services/programs/find-program';

/** One line of the itinerary as it is shown. */
export interface ItineraryLine {
  at: string;
  /** Where the person lives; 1 is the day it begins there. */
  day: number;
  line: string;
  what: string;
  verdict: 'sent' | 'done' | 'passed-over' | 'waits';
  /** Codes of clearance or of the engine; empty where nothing stood in the way. */
  reasons: { code: string; means: string }[];
  body?: string;
  subject?: string;
  parts?: number;
  credits?: number;
  /** It was held before it went. */
  held_minutes?: number;
  /** The hours of the sequence put it off. */
  put_off_minutes?: number;
  answer?: boolean;
  /** A text that goes as a chat message, since they agreed to chat and the network takes its template. */
  by?: 'chat';
}

type Stop = Omit<ItineraryLine, 'day'>;

export interface Rehearsal {
  itinerary: ItineraryLine[];
  ended: { at: string; why: string; means: string } | null;
  /** It would go on, or waits for somebody. */
  goes_on: boolean;
}

/** What may be pretended, as it comes. */
export const PRETENDED = ['reply', 'click', 'redeem', 'opt-out', 'moves'] as const;
type PretendedKind = (typeof PRETENDED)[number];

/** Plays a sequence for one person with the engines of the live run. Nothing is written, and nothing leaves. */
export async function rehearseSequence(
  ctx: Context,
  scope: Scope,
  input: RehearsalInput,
): Promise<Result<Rehearsal, Refusal>> {
  const document = await documentOf(scope, input);
  if (!document.ok) return document;
  const program = await findProgram(scope, document.value.program);
  if (!program) return invalid('document', `document: ${NO_PROGRAM}`);
  const from = input.from ? parseInstant(input.from)! : ctx.now();
  const events = eventsOf(input);
  if (!events.ok) return events;
  const player = await Player.load(
    ctx,
    scope,
    await fillAll(scope, { ...document.value, program: program.id }),
    input.person ?? null,
  );
  if (!player)
    return input.person ? notFound('person') : invalid('document', 'document: its program is not here.');
  return ok(player.play(from, events.value, input.prompted ?? false));
}

async function documentOf(
  scope: Scope,
  { sequence, document }: RehearsalInput,
): Promise<Result<SequenceDocument, Refusal>> {
  if (document !== undefined) return readDocument(document);
  if (sequence === undefined)
    return invalid('sequence', 'sequence: give the id of a sequence, or a document.');
  const row = await scope.em.findOne(Sequence, { id: sequence });
  return row ? ok(row.draft) : notFound('sequence');
}

interface Event {
  at: Millis;
  kind: PretendedKind;
  zone: string | null;
}

function eventsOf({ events = [] }: RehearsalInput): Result<Event[], Refusal> {
  const read: Event[] = [];
  for (const [i, { at, kind, zone }] of events.entries()) {
    const instant = typeof at === 'string' ? parseInstant(at) : null;
    if (instant === null) return invalid(`events.${i}.at`, `events.${i}.at: must be an instant in ISO 8601.`);
    const known = PRETENDED.find((one) => one === kind);
    if (!known)
      return invalid(`events.${i}.kind`, `events.${i}.kind: must be one of: ${PRETENDED.join(', ')}.`);
    if (known === 'moves' && !(typeof zone === 'string' && isZone(zone)))
      return invalid(`events.${i}.zone`, `events.${i}.zone: must be a time zone, such as America/New_York.`);
    read.push({ at: instant, kind: known, zone: known === 'moves' ? (zone as string) : null });
  }
  return ok(read);
}

const TRIGGERS: Record<PretendedKind, Pretended['trigger']> = {
  reply: { on: 'act', act: 'reply' },
  click: { on: 'act', act: 'click' },
  redeem: { on: 'act', act: 'redeem' },
  'opt-out': { on: 'end', why: 'opted-out' },
  moves: { on: 'changed', what: null },
};

/** A person, real or made up, in front of a document. */
class Player {
  private constructor(
    readonly document: SequenceDocument,
    readonly programs: ReadonlyMap<string, ProgramFacts>,
    readonly persons: ReadonlyMap<string, PersonFacts>,
    readonly past: readonly PastText[],
    readonly people: People,
    readonly personId: string,
    /** What each message of the document says. */
    readonly wordings: ReadonlyMap<Message, Wording>,
    /** Of these, the texts that go to them by chat. */
    readonly byChat: ReadonlySet<Message>,
  ) {}

  static async load(
    ctx: Context,
    scope: Scope,
    document: SequenceDocument,
    personId: string | null,
  ): Promise<Player | null> {
    const now = ctx.now();
    const programs = new Map<string, ProgramFacts>();
    const persons = new Map<string, PersonFacts>();
    for (const channel of ['sms', 'email', 'voicemail'] as const) {
      const facts = await loadProgramFacts(scope, document.program, now, channel);
      if (!facts) return null;
      programs.set(channel, facts);
      const person =
        personId === null
          ? await madeUp(scope, channel)
          : (await loadPersonFacts(scope, facts, [personId])).get(personId);
      if (!person) return null;
      persons.set(channel, person);
    }
    const id = personId ?? '';
    const past =
      personId === null
        ? []
        : ((await loadPast(scope, [{ personId, bodyHash: null }], now)).get(personId) ?? []);
    const people = await loadPeople(scope, personId === null ? [] : [personId], true, now);
    const wordings = new Map<Message, Wording>();
    const byChat = await chatsTo(scope, document, personId);
    for (const { what } of everyLine(document.lines)) {
      if (!isMessage(what)) continue;
      const chat = byChat.get(what);
      wordings.set(what, chat ?? (await wordingWithFiles(scope, programs.get(channelOf(what))!, what)));
    }
    if (byChat.size > 0) {
      const facts = await loadProgramFacts(scope, document.program, now, 'chat');
      const person = facts && (await loadPersonFacts(scope, facts, [id])).get(id);
      if (!facts || !person) return null;
      programs.set('chat', facts);
      persons.set('chat', person);
    }
    return new Player(document, programs, persons, past, people, id, wordings, new Set(byChat.keys()));
  }

  play(from: Millis, events: readonly Event[], prompted: boolean): Rehearsal {
    const sequence = ready(this.document);
    const sent: PastText[] = [];
    const zoneAt = (at: Millis) =>
      [...events].reverse().find((one) => one.kind === 'moves' && one.at <= at)?.zone ?? null;
    const wrote = (at: Millis) =>
      Math.max(
        0,
        ...events.filter((one) => one.kind === 'reply' && one.at <= at).map((one) => one.at),
        prompted ? from : 0,
      );
    const copies = new Map<string, Copy>();
    const reasons = new Map<string, readonly Reason[]>();
    const stage: Stage = {
      facts: (at) => {
        const facts = this.people.facts(this.personId);
        return { ...facts, zone: zoneAt(at) ?? facts.zone };
      },
      clear: (asked, at) => {
        const { copy, clearance } = this.#clear(asked, at, [...this.past, ...sent], {
          wrote: wrote(at),
          zone: zoneAt(at),
        });
        copies.set(asked.line, copy);
        if (clearance.verdict !== 'cleared' || !reasons.has(asked.line))
          reasons.set(asked.line, clearance.reasons);
        if (clearance.verdict === 'cleared')
          sent.push({
            at,
            programId: this.document.program,
            kind: asked.answer ? 'sequence-answer' : 'sequence',
            bodyHash: copy.bodyHash,
          });
        return verdictOf(clearance);
      },
    };
    const first = enter(
      sequence,
      begin('rehearsal', { at: from, prompted, notBefore: null }),
      from,
      stage.facts(from),
    );
    const pretended = events.map(({ at, kind }) => ({ at, trigger: TRIGGERS[kind] }));
    const played = rehearse(sequence, first, pretended, stage);
    const lines = played.stops.flatMap(({ at, command, heldFor, putOff }): Stop[] => {
      const byHours = putOff === undefined ? {} : { put_off_minutes: Math.round(putOff / MINUTE) };
      if (command.do === 'message') {
        const why = reasons.get(command.line) ?? [];
        return [{ ...this.#messageLine(at, command, copies.get(command.line)!, why, heldFor), ...byHours }];
      }
      if (command.do === 'passed')
        return passedLine(at, sequence.lines.get(command.line)?.line.what.do ?? '', command, reasons);
      if (command.do === 'deed')
        return [
          {
            at: toIso(at),
            line: command.line,
            what: command.deed.do,
            verdict: 'done',
            reasons: [],
            ...byHours,
          },
        ];
      return [];
    });
    if (played.stuck) {
      const { line, message } = played.stuck;
      lines.push({
        at: toIso(from),
        line,
        what: message.do,
        verdict: 'waits',
        reasons: wordsOf(reasons.get(line) ?? []),
      });
    }
    const dayOf = (at: Millis): number => dayNumberAt(stage.facts(at).zone, at);
    const over = played.enrolment.ended;
    return {
      itinerary: lines.map((line) => ({ ...line, day: dayOf(Date.parse(line.at)) - dayOf(from) + 1 })),
      ended: over && { at: toIso(over.at), why: over.why, means: END_WORDS[over.why] },
      goes_on: played.goesOn || played.stuck !== null,
    };
  }

  #clear(asked: Asked, at: Millis, past: readonly PastText[], now: { wrote: Millis; zone: string | null }) {
    const channel = this.byChat.has(asked.message) ? 'chat' : channelOf(asked.message);
    const facts = this.programs.get(channel)!;
    const person = this.persons.get(channel)!;
    const wording = this.wordings.get(asked.message)!;
    const copy = copyOf(facts, wording, templateValues(person.row, facts, null), person);
    const place = now.zone ? { ...person.person.place, zones: [now.zone] } : person.person.place;
    const lastWroteAt = Math.max(now.wrote, person.person.lastWroteAt ?? 0) || null;
    const input = clearanceInput(
      facts,
      { ...person, person: { ...person.person, place, lastWroteAt } },
      {
        kind: asked.answer ? 'sequence-answer' : 'sequence',
        at,
        copy,
        past,
        purse: purseOf(facts),
      },
    );
    // It is asked again at every hold: how long it waits is counted from when it was queued.
    return { copy, clearance: clear({ ...input, began: at }, facts.hours) };
  }

  #messageLine(
    at: Millis,
    { line, message, answer }: Asked,
    copy: Copy,
    reasons: readonly Reason[],
    heldFor = 0,
  ): Stop {
    return {
      ...{
        at: toIso(at),
        line,
        what: message.do,
        verdict: 'sent',
        reasons: heldFor > 0 ? wordsOf(reasons) : [],
      },
      ...{ body: copy.text, ...(copy.subject === null ? {} : { subject: copy.subject }) },
      ...{ parts: copy.parts, credits: copy.credits },
      ...(heldFor > 0 ? { held_minutes: Math.round(heldFor / MINUTE) } : {}),
      ...(answer ? { answer: true } : {}),
      ...(this.byChat.has(message) ? { by: 'chat' as const } : {}),
    };
  }
}

/** The texts of a document that go to somebody by chat, with what they say there; somebody made up is texted. */
async function chatsTo(
  scope: Scope,
  document: SequenceDocument,
  personId: string | null,
): Promise<Map<Message, Wording>> {
  const chats = new Map<Message, Wording>();
  const texts = [...everyLine(document.lines)].flatMap(({ what }) =>
    what.do === 'text' && what.chat !== undefined ? [{ what, template: what.chat }] : [],
  );
  if (personId === null || texts.length === 0) return chats;
  if ((await reachedByChat(scope, document.program, [personId])).length === 0) return chats;
  const ready = await readyTemplates(scope, [...new Set(texts.map(({ template }) => template))]);
  const { language } = await scope.em.findOneOrFail(Person, { id: personId });
  for (const { what, template } of texts) {
    const wordings = ready.has(template) ? await templateWordings(scope, template) : null;
    if (wordings) chats.set(what, wordingFor(wordings)({ row: { language } }));
  }
  return chats;
}

const verdictOf = ({ verdict, until, reasons }: ReturnType<typeof clear>): Verdict => ({
  ...{ verdict, until },
  because: reasons.find(({ effect }) => effect === (verdict === 'blocked' ? 'block' : 'hold'))?.code ?? null,
});

const wordsOf = (reasons: readonly Reason[]) =>
  reasons.map(({ code }) => ({ code, means: REASON_WORDS[code].short }));

/** Lines that were done show by what they did; those that were passed over, and forks, by themselves. */
function passedLine(
  at: Millis,
  what: string,
  { line, because }: { line: string; because: string | PassReason | null },
  reasons: ReadonlyMap<string, readonly Reason[]>,
): Stop[] {
  if (because === null)
    return what === 'fork' || what === 'end'
      ? [{ at: toIso(at), line, what, verdict: 'done', reasons: [] }]
      : [];
  const clearance = reasons.get(line);
  return [
    {
      ...{ at: toIso(at), line, what, verdict: 'passed-over' },
      reasons:
        clearance && isReasonCode(because)
          ? wordsOf(clearance)
          : [{ code: because, means: meaningOf(because) }],
    },
  ];
}

export const meaningOf = (because: string): string =>
  isReasonCode(because) ? REASON_WORDS[because].short : (PASS_WORDS[because as PassReason] ?? because);

/** Somebody who agreed to everything and lives where the workspace is. */
async function madeUp(scope: Scope, channel: 'sms' | 'email' | 'voicemail'): Promise<PersonFacts> {
  const workspace = await scope.em.findOneOrFail(Workspace, { id: scope.workspaceId });
  const address = channel === 'email' ? 'somebody@example.org' : '+13035550100';
  const nothing = {
    unclear_since: null,
    unread_since: null,
    paused_until: null,
    last_wrote_at: null,
    assigned_sender: null,
  };
  return {
    ...{ id: '', address },
    row: {
      ...{
        id: '',
        number: '+13035550100',
        address,
        first_name: 'Ana',
        asked: { kind: 'visit', words: 'Is Friday evening free?', source: 'our website' },
        last_name: 'Example',
        email: 'somebody@example.org',
      },
      ...{
        region: null,
        postal_code: null,
        zone: workspace.zone,
        line_type: 'mobile',
        address_state: 'in-service',
        fields: {},
      },
      ...{
        consent_state: null,
        consent_method: null,
        consent_since: null,
        consent_event: null,
        member_elsewhere: false,
      },
      ...nothing,
    } as PersonFacts['row'],
    person: {
      address: { value: address, lineType: 'mobile', state: 'in-service' },
      ...{ country: workspace.country, place: placeOf({ number: null, zone: workspace.zone }) },
      ...{ unclearSince: null, unreadSince: null, pausedUntil: null, lastWroteAt: null },
    },
    consent: { ...NO_CONSENT, state: 'in', method: 'form', since: 0, wasIn: true },
    ...{ memberElsewhere: false, assignedSenderId: null },
  };
}
