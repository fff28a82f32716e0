import { CHANNEL_WORDS } from '../message/channel';
import { FAILURE_WORDS } from '../delivery/failure';
import { assertNever } from '../shared/result';
import {
  branches,
  groupKind,
  isGroup,
  type AskedConsent,
  type AskedVoucher,
  type Condition,
  type ConsentLeaf,
  type FieldLeaf,
  type Leaf,
  type Target,
} from './condition';
import type { KnownThings } from './check';
import { TEST_WORDS } from './fields';

/** A condition read back: “People in Clear Sky Alerts, in Colorado and who did not get Saturn week”. */
export function sentenceOf(condition: Condition, known: KnownThings): string {
  if (isGroup(condition) && branches(condition).length === 0)
    return groupKind(condition) === 'any' ? 'Nobody' : 'Everybody';
  const group = isGroup(condition) ? condition : { all: [condition] };
  const opening = groupKind(group) === 'none' ? 'Everybody but people ' : 'People ';
  return opening + phrase(group, known, true);
}

/** What one leaf says, as a phrase that follows “people”. */
export const phraseOf = (leaf: Leaf, known: KnownThings): string => leafPhrase(leaf, known);

function phrase(condition: Condition, known: KnownThings, top = false): string {
  if (!isGroup(condition)) return leafPhrase(condition, known);
  const kind = groupKind(condition);
  const phrases = branches(condition).map((branch) => phrase(branch, known));
  if (phrases.length === 0) return kind === 'any' ? 'who are nobody' : 'of any kind';
  if (kind === 'none') return top ? join(phrases, 'or') : `not (${join(phrases, 'or')})`;
  const joined = kind === 'all' ? join(phrases, 'and') : join(phrases, 'or');
  return top || phrases.length === 1 ? joined : `(${joined})`;
}

const join = (parts: readonly string[], word: 'and' | 'or'): string =>
  parts.length < 2 ? parts.join('') : `${parts.slice(0, -1).join(', ')} ${word} ${parts.at(-1)}`;

function leafPhrase(leaf: Leaf, known: KnownThings): string {
  const name = (id: string) => known.names.get(id) ?? 'something gone';
  switch (leaf.ask) {
    case 'field':
      return fieldPhrase(leaf, known);
    case 'tag':
      return `${leaf.has ? 'with' : 'without'} the tag ${name(leaf.id)}`;
    case 'list':
      return `${leaf.has ? '' : 'not '}on the list ${name(leaf.id)}`;
    case 'segment':
      return `${leaf.has ? '' : 'not '}in the segment ${name(leaf.id)}`;
    case 'import':
      return `${leaf.has ? '' : 'not '}from the import ${name(leaf.id)}`;
    case 'batch':
      return `${leaf.has ? '' : 'not '}in the batch ${name(leaf.id)}`;
    case 'voucher':
      return `${VOUCHER_PHRASES[leaf.state](leaf.has, leaf.days ?? 2)} of “${name(leaf.id)}”`;
    case 'consent':
      return `${consentPhrase(leaf, name(leaf.program))}${leaf.channel ? ` ${CHANNEL_WORDS[leaf.channel].by}` : ''}`;
    case 'sent':
      return `who ${sentVerb(leaf)} ${targetPhrase(leaf.of, name)}${lastDays(leaf.days)}`;
    case 'did':
      return `who ${actVerb(leaf)}${Object.keys(leaf.of).length > 0 ? ` ${ACT_TO[leaf.act]} ${targetPhrase(leaf.of, name)}` : ''}${lastDays(leaf.days)}`;
    case 'texts':
      return `who got ${leaf.test.replace('-', ' ')} ${leaf.count} ${leaf.count === 1 ? 'text' : 'texts'}${leaf.program ? ` of ${name(leaf.program)}` : ''}${lastDays(leaf.days)}`;
    default:
      return assertNever(leaf);
  }
}

const VOUCHER_PHRASES: Record<AskedVoucher, (has: boolean, days: number) => string> = {
  got: (has) => `who ${has ? 'got' : 'did not get'} a voucher`,
  valid: (has) => `${has ? 'with' : 'without'} a valid voucher`,
  ending: (has, days) =>
    `${has ? 'with' : 'without'} a voucher that ends within ${days === 1 ? 'a day' : `${days} days`}`,
  ended: (has) => `who ${has ? 'let' : 'did not let'} a voucher end`,
  used: (has) => `who ${has ? 'used' : 'did not use'} a voucher`,
};

const CONSENT_PHRASES: Record<AskedConsent, (program: string, has: boolean) => string> = {
  in: (program, has) => `${has ? '' : 'not '}in ${program}`,
  out: (program, has) => `who ${has ? 'left' : 'did not leave'} ${program}`,
  asked: (program, has) => `who ${has ? 'are' : 'are not'} asked to confirm ${program}`,
  lapsed: (program, has) => `whose consent to ${program} ${has ? 'has' : 'has not'} lapsed`,
  never: (program, has) => `who ${has ? 'never' : 'at some time'} joined ${program}`,
};

/** The same of what came to be so within some days. */
const CAME_TO_BE: Record<Exclude<AskedConsent, 'never'>, (program: string, has: boolean) => string> = {
  in: (program, has) => `who ${has ? 'joined' : 'did not join'} ${program}`,
  out: CONSENT_PHRASES.out,
  asked: (program, has) => `who ${has ? 'were' : 'were not'} asked to confirm ${program}`,
  lapsed: (program, has) => `whose consent to ${program} ${has ? 'lapsed' : 'did not lapse'}`,
};

const consentPhrase = ({ state, has, days }: ConsentLeaf, program: string): string =>
  days === undefined || state === 'never'
    ? CONSENT_PHRASES[state](program, has)
    : `${CAME_TO_BE[state](program, has)}${lastDays(days)}`;

const lastDays = (days: number | undefined): string =>
  days === undefined ? '' : days === 0 ? ' today' : ` in the last ${days === 1 ? 'day' : `${days} days`}`;

function sentVerb({ has, outcome, failure }: Extract<Leaf, { ask: 'sent' }>): string {
  if (outcome === 'failed')
    return `${has ? 'missed' : 'did not miss'}${failure ? ` (${FAILURE_WORDS[failure]})` : ''}`;
  const verb = outcome === 'got' ? ['got', 'did not get'] : ['had delivered', 'did not have delivered'];
  return has ? verb[0]! : verb[1]!;
}

const ACT_VERBS: Record<Extract<Leaf, { ask: 'did' }>['act'], [did: string, didNot: string]> = {
  replied: ['replied', 'did not reply'],
  clicked: ['clicked', 'did not click'],
  redeemed: ['redeemed a voucher', 'did not redeem a voucher'],
  'opted-out': ['opted out', 'did not opt out'],
};
const ACT_TO = { replied: 'to', clicked: 'in', redeemed: 'of', 'opted-out': 'after' } as const;

const actVerb = ({ act, has }: Extract<Leaf, { ask: 'did' }>): string => ACT_VERBS[act][has ? 0 : 1];

function targetPhrase(of: Target, name: (id: string) => string): string {
  if (of.broadcast) return `“${name(of.broadcast)}”`;
  if (of.sequence) return `the sequence “${name(of.sequence)}”`;
  if (of.step) return `the line “${name(of.step)}”`;
  if (of.item) return `a text about “${name(of.item)}”`;
  return of.program ? `a text of ${name(of.program)}` : 'any text';
}

function fieldPhrase(leaf: FieldLeaf, { fields }: KnownThings): string {
  const field = fields.get(leaf.field);
  const label = field?.label ?? leaf.field;
  const shown = (value: string) => field?.options?.find((option) => option.value === value)?.label ?? value;
  if (leaf.field === 'place' && leaf.test === 'is') return `in ${shown(leaf.value)}`;
  const words = TEST_WORDS[leaf.test] ?? leaf.test;
  if ('from' in leaf) return `whose ${label} ${words} ${leaf.from} and ${leaf.to}`;
  if ('days' in leaf)
    return `whose ${label} ${words} ${leaf.days === 1 ? (leaf.test === 'anniversary' ? '1 day' : 'day') : `${leaf.days} days`}`;
  if ('values' in leaf) return `whose ${label} ${words} ${join(leaf.values.map(shown), 'or')}`;
  return 'value' in leaf ? `whose ${label} ${words} ${shown(leaf.value)}` : `whose ${label} ${words}`;
}
