import { guessColumns } from '../import/columns';
import type { OwnField } from '../people/values';
import type { InquiryTarget, MappingRule } from './mapping';
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
  [/\b(?:consent|agree(?:d|ment)?|opt ?in|sms ok|may text|marketing)\b/, 'agreed'],
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

const plain = (name: string): string =>
  name
    .replace(/([a-z])([A-Z])/g, '$1 $2')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();

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
  const pointers = labelled ? all.filter((pointer) => !pointer.startsWith('/from/')) : all;
  const table = rows.map((row) => pointers.map((pointer) => row.get(pointer) ?? ''));
  // A value is called by its own name; `phone` under `contact` is a phone, `name` under `listing` is no person's.
  const names = pointers.map((pointer) => (isAboutThing(pointer) ? '' : calledAs(nameIn(pointer))));
  const byName = guessColumns(names, table, own);
  const byContent = guessColumns(null, table, own);
  const taken = new Set<InquiryTarget>();
  return pointers.map((pointer, i) => {
    const values = [...new Set(table.map((row) => row[i]!).filter((value) => value !== ''))];
    const name = nameIn(pointer) || pointer;
    const named = inquiryTarget(pointer, values);
    const guessed = targetOf(byName[i]!.to);
    // What is called a number and looks like none stays out; a letter's own lines are named by place alone.
    const to = guessed ?? named;
    const free =
      to !== null && (!taken.has(to) || to === 'further') && !/^\/lines\/|^\/cells\//.test(pointer);
    if (free) taken.add(to);
    return {
      ...{ pointer, name, values: values.slice(0, MOST_VALUES) },
      to: free ? to : null,
      because: !free ? '' : reasonOf(name, guessed !== null && byContent[i]!.to === guessed, named === to),
    };
  });
}

const reasonOf = (name: string, looks: boolean, called: boolean): string =>
  called ? `it is called “${name}”` : looks ? 'its values look so' : `it is called “${name}”`;

/** `your-name` and `visitor_phone` are name and phone. */
const calledAs = (name: string): string =>
  name.replace(/^(?:your|my|contact|customer|guest|visitor|lead|person|user)[\s_-]+(?=\S)/i, '');

/** Only what an inquiry can have is proposed. */
const targetOf = (to: string): InquiryTarget | null =>
  ['skip', 'new', 'tags', 'lists', 'stage', 'owner', 'zone'].includes(to) ? null : (to as InquiryTarget);

const isAboutThing = (pointer: string): boolean =>
  ABOUT_THINGS.test(pointer.split('/').slice(1, -1).join(' ').toLowerCase()) && !/phone|mail/i.test(pointer);

const LONG = 40;

function inquiryTarget(pointer: string, values: readonly string[]): InquiryTarget | null {
  const words = plain(nameIn(pointer));
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
    if (to !== null && !rules.has(to)) rules.set(to, { to, from: [pointer] });
  return [...rules.values()];
};
