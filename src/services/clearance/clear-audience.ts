import { clear, type Clearance } from '@/core/clearance/clear';
import { localInstant } from '@/core/broadcast/timing';
import { mayGetInstead } from '@/core/broadcast/instead';
import type { PastText } from '@/core/clearance/input';
import { Purse } from '@/core/credits/purse';
import type { Channel } from '@/core/message/channel';
import type { Millis } from '@/core/shared/instant';
import { audiencePage, countAudience } from '@/db/audience/audience';
import type { Scope } from '@/db/kit/scope';
import { Breath } from '@/services/kit/breath';
import { quietly } from '@/services/kit/quietly';
import {
  BeginCount,
  clearanceInput,
  copyOf,
  loadPast,
  loadPersonFacts,
  purseOf,
  templateValues,
  type Copy,
  type PersonFacts,
  type ProgramFacts,
  type Wording,
} from './clearance-facts';

/** One person of an audience with their copy of the text and its clearance. */
export interface Cleared {
  person: PersonFacts;
  copy: Copy;
  clearance: Clearance;
  /** By what it goes. */
  channel: Channel;
  /** When it was asked of: later than of others where they live further west. */
  at: Millis;
}

/** What goes by another channel: to who cannot be reached, or before or after it. */
export interface GoingBeside {
  facts: ProgramFacts;
  wording: Wording;
}

/** A broadcast that goes before: who of some people it means. */
export interface Ahead {
  at: Millis;
  programId: string;
  meant(scope: Scope, ids: readonly string[]): Promise<readonly string[]>;
}

export interface Sending {
  facts: ProgramFacts;
  wording: Wording;
  /** Where there are several: which one somebody gets. */
  wordingOf?: (person: PersonFacts) => Wording;
  /** What goes to who cannot be reached; left out: nothing. */
  instead?: GoingBeside | null;
  /** First name of who sends, for the merge field. */
  senderName: string | null;
  at: Millis;
  /** What the clock shows where each of them lives, not before `at`; null or left out: `at`. */
  local?: string | null;
  /** Who is meant: a page of ids after one. Left out: everybody who ever joined the program. */
  page?: (scope: Scope, after: string, most: number) => Promise<string[]>;
  /** How many they are, where `page` says who. */
  headcount?: (scope: Scope) => Promise<number>;
  /** What will have gone before it, which counts against what was promised; left out: only what went. */
  ahead?: readonly Ahead[];
  /** Who of a page gets it now; left out: all. */
  only?: (ids: readonly string[]) => Promise<readonly string[]>;
}

const SLICE = 1_000;

/**
 * A program's audience, slice by slice in the order of person ids, each person with their clearance. The report
 * while writing, the preparation of a broadcast and the lists behind a reason all come from here.
 */
export async function* clearAudience(scope: Scope, sending: Sending, after = ''): AsyncGenerator<Cleared[]> {
  const purse = purseOf(sending.facts);
  const begun = new BeginCount();
  // While one slice is cleared, the copies of the next are written, and the database looks up the two after that: a query
  // that is asked for only once something else is worked out would wait behind what is being written down.
  const following = async (before: Promise<PersonFacts[]>): Promise<PersonFacts[]> => {
    const last = (await before).at(-1);
    return last ? readSlice(scope, sending, last.id) : [];
  };
  let people = quietly(readSlice(scope, sending, after));
  let later = quietly(following(people));
  let next: Promise<Written> | null = null;
  try {
    for (;;) {
      const slice = await next;
      const found = await people;
      next = null;
      if (found.length > 0) {
        people = later;
        later = quietly(following(people));
        next = quietly(writeSlice(scope, sending, found));
      }
      if (slice) yield withInstead(scope, sending, await clearSlice(sending, slice, purse, begun));
      if (!next) return;
    }
  } finally {
    // Whoever stops half-way hears of no failure that comes later.
    await Promise.allSettled([people, later, next]);
  }
}

/** The next people who are meant, in the order of their ids; none: it was the last slice. */
async function readSlice(scope: Scope, sending: Sending, after: string): Promise<PersonFacts[]> {
  const asked = everybodyOf(sending);
  for (let cursor = after; ;) {
    const ids = await (sending.page ?? ((within, ...page) => audiencePage(within, asked, ...page)))(
      ...([scope, cursor, SLICE] as const),
    );
    if (ids.length === 0) return [];
    cursor = ids[ids.length - 1]!;
    const meant = (await sending.only?.(ids)) ?? ids;
    if (meant.length > 0) return inOrder(await loadPersonFacts(scope, sending.facts, meant));
  }
}

const everybodyOf = ({ facts, instead }: Sending) => ({
  programId: facts.program.id,
  channels: [facts.channel, ...(instead ? [instead.facts.channel] : [])],
});

/** How many are gone through from the beginning to the end. */
export const countMeant = (scope: Scope, sending: Sending): Promise<number> =>
  sending.headcount ? sending.headcount(scope) : countAudience(scope, everybodyOf(sending));

const inOrder = (people: ReadonlyMap<string, PersonFacts>): PersonFacts[] =>
  [...people.values()].sort((a, b) => (a.id < b.id ? -1 : 1));

/** Whoever cannot be reached and may be by the other channel is; of the others it stays known why they get nothing. */
async function withInstead(scope: Scope, sending: Sending, slice: Cleared[]): Promise<Cleared[]> {
  if (!sending.instead) return slice;
  const asked = slice.filter(({ clearance }) => mayGetInstead(clearance)).map(({ person }) => person.id);
  const letters = await clearBeside(scope, sending, sending.instead, asked);
  const going = new Map(
    letters
      .filter(({ clearance }) => clearance.verdict !== 'blocked')
      .map((letter) => [letter.person.id, letter]),
  );
  return slice.map((one) => going.get(one.person.id) ?? one);
}

/** Some people of a slice, cleared for what goes by another channel. */
export async function clearBeside(
  scope: Scope,
  { wordingOf: _, ...sending }: Sending,
  beside: GoingBeside,
  ids: readonly string[],
): Promise<Cleared[]> {
  if (ids.length === 0) return [];
  const people = inOrder(await loadPersonFacts(scope, beside.facts, ids));
  const way = { ...sending, ...beside };
  return clearSlice(way, await writeSlice(scope, way, people), Purse.endless(), new BeginCount());
}

/** Somebody's copy of one wording. */
export const copyFor = ({ facts, senderName }: Sending, wording: Wording, person: PersonFacts): Copy =>
  copyOf(facts, wording, templateValues(person.row, facts, senderName), person);

/** A slice with everything its clearance needs to know. */
interface Written {
  people: readonly PersonFacts[];
  copies: readonly Copy[];
  past: ReadonlyMap<string, PastText[]>;
}

async function writeSlice(scope: Scope, sending: Sending, people: readonly PersonFacts[]): Promise<Written> {
  // A slice is worked on person by person, with a breath now and then: other pages do not wait for a large audience.
  const breath = new Breath();
  const copies: Copy[] = [];
  for (const person of people) {
    copies.push(copyFor(sending, sending.wordingOf?.(person) ?? sending.wording, person));
    if (breath.isDue()) await breath.take();
  }
  const past = await loadPast(
    scope,
    people.map((person, i) => ({ personId: person.id, bodyHash: copies[i]!.bodyHash })),
    sending.at,
  );
  await addAhead(scope, sending, people, past);
  return { people, copies, past };
}

async function clearSlice(
  sending: Sending,
  { people, copies, past }: Written,
  purse: Purse,
  begun: BeginCount,
): Promise<Cleared[]> {
  const { facts } = sending;
  const breath = new Breath();
  const instantOf = theirInstant(sending);
  const slice: Cleared[] = [];
  for (const [i, person] of people.entries()) {
    const copy = copies[i]!;
    const theirs = instantOf(person.person.place.zones);
    const input = clearanceInput(facts, person, {
      kind: 'broadcast',
      at: theirs,
      copy,
      past: past.get(person.id) ?? [],
      purse,
      ahead: begun.ahead,
    });
    const clearance = clear(input, facts.hours);
    begun.note(input, clearance);
    if (clearance.verdict !== 'blocked') purse.take(copy.credits);
    slice.push({ person, copy, clearance, channel: facts.channel, at: theirs });
    if (breath.isDue()) await breath.take();
  }
  return slice;
}

/** What they will have got by then. */
async function addAhead(
  scope: Scope,
  { ahead = [] }: Sending,
  people: readonly PersonFacts[],
  past: Map<string, PastText[]>,
): Promise<void> {
  const ids = people.map(({ id }) => id);
  for (const { at, programId, meant } of ahead)
    for (const id of await meant(scope, ids)) {
      const text = { at, programId, kind: 'broadcast' as const, bodyHash: '' };
      past.set(id, [...(past.get(id) ?? []), text]);
    }
}

/** When somebody's hour comes, worked out once for all who live in the same zones. */
function theirInstant({ local, at }: Sending): (zones: readonly string[]) => Millis {
  if (!local) return () => at;
  const known = new Map<string, Millis>();
  return (zones) => {
    const key = zones.join();
    if (!known.has(key)) known.set(key, Math.max(at, localInstant(local, zones)));
    return known.get(key)!;
  };
}
