import { guessColumns, plainHeader } from '../import/columns';
import type { OwnField } from '../people/values';
import { MOST_POINTERS, OF_PERSON, type InquiryTarget, type MappingRule } from './mapping';
import { leavesOf, nameIn, type Tree } from './tree';

/** A value that came, in all that came, and where it could go. */
export interface Proposal {
  pointer: string;
  /** What it is called there. */
  name: string;
  /** The newest values, each once. */
  values: string[];
  /** Null: nothing is proposed. */
  to: InquiryTarget | null;
  /** In words; empty: nothing is proposed. */
  because: string;
}

const MOST_VALUES = 3;

/** Names of what an inquiry says beside who asks, and how its values look. */
const BY_NAME: readonly [pattern: RegExp, to: InquiryTarget][] = [
  [
    /\b(?:consent|agree(?:d|ment)?|opt ?in|sms ok|may text|marketing|einwilligung|zustimmung|consentement|consentimiento)\b/,
    'agreed',
  ],
  [
    /\b(?:message|comments?|question|notes?|inquiry|enquiry|details|remarks|mensaje|nachricht|body)\b/,
    'words',
  ],
  [
    /\b(?:kind|type|category|interest(?:ed)?(?: in)?|topic|occasion|service|event type|visit type|reason)\b/,
    'kind',
  ],
  [
    /^(?:id|uuid|guid|lead id|inquiry id|enquiry id|submission id|message id|reference|ref|event id)$/,
    'sender_id',
  ],
];

/** Of the kind of a phone, an address or an answer, not of what somebody asks. */
const TYPE_OF_A_FIELD = /(?:phone|mail|tel|address|answer|field)s?\/(?:[^/]*\/)?type$/i;

/** Whose number or address it is, if not theirs who ask. */
const OF_OTHERS =
  /\b(?:agents?|brokers?|realtors?|hosts?|owners?|sellers?|landlords?|offices?|branch|stores?|locations?|assigned|recipients?|sent to|our)\b/;

/** A sentence of consent that a box sends as its value. */
const CONSENTS = /^(?:yes, )?i (?:agree|consent)\b.*\b(?:texts?|sms|messages?)\b/i;

/** Addresses that portals and forms write from. */
const A_MACHINE =
  /^(?:no-?reply|do-?not-?reply|donotreply|notifications?|notify|leads?|inquir(?:y|ies)|enquir(?:y|ies)|alerts?|forms?|mailer|system|automated|robot|bounces?|postmaster|mailer-daemon)\b/i;

/** Under these, `name` is what is asked about, not who asks. */
const ABOUT_THINGS =
  /listing|property|venue|tour|event|product|campaign|source|portal|site|company|business|page|form|office/;

/**
 * Proposes where each value goes, by what it is called and by what its values look like; each target once, so that what
 * stands first counts. `samples`: the newest first.
 */
export function proposeMapping(samples: readonly Tree[], own: readonly OwnField[]): Proposal[] {
  const rows = samples.map((tree) => new Map(leavesOf(tree).map(({ pointer, value }) => [pointer, value])));
  const all = [...new Set(rows.flatMap((row) => [...row.keys()]))];
  // Who sent a letter with labels is the portal; of one without it is whoever asks.
  const labelled = all.some((pointer) => pointer.startsWith('/labels/'));
  // A machine that writes of others is nobody who asks.
  const machine = rows.some((row) => A_MACHINE.test(row.get('/from/address') ?? ''));
  const pointers = labelled || machine ? all.filter((pointer) => !pointer.startsWith('/from/')) : all;
  const taken = new Map<InquiryTarget, string[]>();
  // What never comes together may be the same thing in two shapes: whichever comes is read.
  const isTaken = (to: InquiryTarget, pointer: string) =>
    (taken.get(to) ?? []).some((other) => rows.some((row) => row.has(pointer) && row.has(other)));
  const found = pointers.map((pointer) => {
    const values = [...new Set(rows.map((row) => row.get(pointer) ?? '').filter((value) => value !== ''))];
    return { pointer, values, ...guess(pointer, values, own) };
  });
  return withoutOthers(found).map(({ pointer, values, to, because }): Proposal => {
    const name = nameIn(pointer) || pointer;
    const shown = { pointer, name, values: values.slice(0, MOST_VALUES) };
    // Of two numbers in one inquiry the second is a further one; of anything else the first counts.
    const goes =
      to === null || !isTaken(to, pointer) ? to : to === 'number' || to === 'email' ? 'further' : null;
    if (goes === null || /^\/lines\/|^\/cells\//.test(pointer)) return { ...shown, to: null, because: '' };
    taken.set(goes, [...(taken.get(goes) ?? []), pointer]);
    return { ...shown, to: goes, because };
  });
}

/** Beside the number, or the address, of who asks, that of an agent or an office is none of theirs. */
function withoutOthers<F extends { pointer: string; to: InquiryTarget | null; because: string }>(
  found: readonly F[],
): F[] {
  const isOfOthers = ({ pointer }: F) => OF_OTHERS.test(plainHeader(pointer));
  const theirs = new Set(found.filter((one) => !isOfOthers(one)).map(({ to }) => to));
  return found.map((one) =>
    (one.to === 'number' || one.to === 'email') && theirs.has(one.to) && isOfOthers(one)
      ? { ...one, to: null, because: '' }
      : one,
  );
}

/** Where a value could go by what it is called, else by how it looks; with the reason in words. */
function guess(
  pointer: string,
  values: readonly string[],
  own: readonly OwnField[],
): { to: InquiryTarget | null; because: string } {
  const name = nameIn(pointer) || pointer;
  // All that somebody wrote, be it only a number.
  if (pointer === '/words') return { to: 'words', because: `it is called “${name}”` };
  const rows = values.map((value) => [value]);
  // `phone` under `contact` is a phone; `name` under `listing` is no person's.
  const called = isAboutThing(pointer) ? '' : nameIn(pointer);
  const looks = targetOf(guessColumns(null, rows, own)[0]?.to ?? 'skip');
  const to = targetOf(guessColumns([called], rows, own)[0]?.to ?? 'skip') ?? inquiryTarget(pointer, values);
  return { to, because: to !== null && to === looks ? 'its values look so' : `it is called “${name}”` };
}

/** Only what an inquiry can have is proposed; a time zone is told by where somebody lives. */
const targetOf = (to: string): InquiryTarget | null =>
  to.startsWith('own.') || PROPOSED.has(to) ? (to as InquiryTarget) : null;

const PROPOSED: ReadonlySet<string> = new Set(OF_PERSON.filter((to) => to !== 'zone'));

const isAboutThing = (pointer: string): boolean =>
  ABOUT_THINGS.test(pointer.split('/').slice(1, -1).join(' ').toLowerCase()) &&
  !/phone|mail|(?:first|last|given|family|full)[ _-]?name/i.test(pointer);

const LONG = 40;

function inquiryTarget(pointer: string, values: readonly string[]): InquiryTarget | null {
  if (TYPE_OF_A_FIELD.test(pointer)) return null;
  if (values.length > 0 && values.every((value) => CONSENTS.test(value))) return 'agreed';
  const words = plainHeader(nameIn(pointer));
  const named = BY_NAME.find(([pattern]) => pattern.test(words))?.[1] ?? null;
  // Long words under no name that is known are what somebody wrote.
  if (
    named === null &&
    values.some((value) => value.length > LONG && /\s\S+\s/.test(value)) &&
    !/url|link|agent/.test(words)
  )
    return 'words';
  return named;
}

/** A mapping to begin with: what is proposed. */
export const rulesOf = (proposals: readonly Proposal[]): MappingRule[] => {
  const rules = new Map<InquiryTarget, MappingRule>();
  for (const { to, pointer } of proposals)
    if (to !== null)
      rules.set(to, { to, from: [...(rules.get(to)?.from ?? []), pointer].slice(0, MOST_POINTERS) });
  return [...rules.values()];
};
