import type { Channel } from '../message/channel';
import { assertNever } from '../shared/result';
import type { Millis } from '../shared/instant';
import type { AskedConsent, Target } from './condition';
import { dayOf } from './days';
import { DATE_VALUE, NUMBER_VALUE } from './fields';
import { fold } from './fold';
import { GOT_STATES, type Plan, type ValuePlan, type ValueTest } from './plan';

/** Everything that can be asked of one person, in plain data. */
export interface PersonRecord {
  /** By field name. Null or missing: empty. Instants are milliseconds, several values a list. */
  values: Readonly<Record<string, string | readonly string[] | Millis | null>>;
  labels: ReadonlySet<string>;
  /** State by channel and program, and since when it is so; missing: never asked. */
  consents: Readonly<Record<Channel, ReadonlyMap<string, RecordedConsent>>>;
  texts: readonly RecordedText[];
  replies: readonly { meaning: string; after: TextOrigin | null; at: Millis }[];
  engagements: readonly { act: 'clicked' | 'redeemed'; of: TextOrigin | null; at: Millis }[];
  /** Times somebody left a program, whatever came after. */
  leavings: readonly { program: string; at: Millis }[];
  imports: ReadonlySet<string>;
  batches: ReadonlySet<string>;
  vouchers: readonly RecordedVoucher[];
}

export interface RecordedConsent {
  state: Exclude<AskedConsent, 'never'>;
  since: Millis;
}

export interface RecordedVoucher {
  offer: string;
  usesLeft: number;
  /** Null: it has no end, or was not received yet. */
  expiresAt: Millis | null;
  used: boolean;
}

export interface TextOrigin {
  broadcast: string | null;
  step: string | null;
  /** Items it named. */
  about: readonly string[];
  program: string;
}

export interface RecordedText extends TextOrigin {
  state: string;
  failure: string | null;
  /** When it was handed to the carrier; null: it never was. */
  at: Millis | null;
}

/** Whether a person is meant. The meaning of every condition; the SQL compiler must give the same people. */
export function evaluate(plan: Plan, person: PersonRecord): boolean {
  switch (plan.op) {
    case 'and':
      return plan.of.every((one) => evaluate(one, person));
    case 'or':
      return plan.of.some((one) => evaluate(one, person));
    case 'not':
      return !evaluate(plan.of, person);
    case 'value':
      return holds(plan, person);
    case 'label':
      return person.labels.has(plan.id);
    case 'consent':
      return isConsent(person.consents[plan.channel].get(plan.program), plan);
    case 'sent':
      return person.texts.some(
        (text) =>
          plan.states.includes(text.state) &&
          (plan.failure === null || text.failure === plan.failure) &&
          isOf(text, plan.of) &&
          isSince(text.at, plan.since),
      );
    case 'replied':
      return person.replies.some(
        ({ meaning, after, at }) =>
          plan.meanings.includes(meaning) && isOf(after, plan.of) && isSince(at, plan.since),
      );
    case 'engaged':
      return person.engagements.some(
        ({ act, of, at }) => act === plan.act && isOf(of, plan.of) && isSince(at, plan.since),
      );
    case 'left':
      return person.leavings.some(
        ({ program, at }) => (plan.program === null || program === plan.program) && isSince(at, plan.since),
      );
    case 'texts':
      return (
        person.texts.filter(
          ({ program, state, at }) =>
            (GOT_STATES as readonly string[]).includes(state) &&
            (plan.program === null || program === plan.program) &&
            at !== null &&
            at >= plan.since,
        ).length >= plan.least
      );
    case 'origin':
      return (plan.of === 'import' ? person.imports : person.batches).has(plan.id);
    case 'voucher':
      return person.vouchers.some((one) => one.offer === plan.offer && isVoucher(one, plan));
    default:
      return assertNever(plan);
  }
}

function isVoucher(
  { usesLeft, expiresAt, used }: RecordedVoucher,
  { state, now, until }: Extract<Plan, { op: 'voucher' }>,
): boolean {
  const over = expiresAt !== null && expiresAt <= now;
  switch (state) {
    case 'got':
      return true;
    case 'used':
      return used;
    case 'valid':
      return usesLeft > 0 && !over;
    case 'ending':
      return usesLeft > 0 && !over && expiresAt !== null && expiresAt <= until!;
    case 'ended':
      return over && !used;
  }
}

const isConsent = (
  recorded: RecordedConsent | undefined,
  { state, since }: Extract<Plan, { op: 'consent' }>,
): boolean => (recorded ? recorded.state === state && isSince(recorded.since, since) : state === 'never');

const isSince = (at: Millis | null, since: Millis | null): boolean =>
  since === null || (at !== null && at >= since);

/** An empty target asks about any text, even a reply that followed none. */
function isOf(origin: TextOrigin | null, { broadcast, step, program, item }: Target): boolean {
  if (!broadcast && !step && !program && !item) return true;
  if (!origin) return false;
  return (
    (!broadcast || origin.broadcast === broadcast) &&
    (!step || origin.step === step) &&
    (!program || origin.program === program) &&
    (!item || origin.about.includes(item))
  );
}

function holds({ field, kind, test }: ValuePlan, { values }: PersonRecord): boolean {
  const value = values[field] ?? null;
  if (value === null || value === '') return false;
  if (typeof value === 'number') return instantHolds(value, test);
  if (typeof value !== 'string') return value.some((one) => one !== '' && textHolds(one, test));
  if (kind === 'date' && !DATE_VALUE.test(value)) return false;
  if (kind === 'number' && !NUMBER_VALUE.test(value)) return false;
  return textHolds(value, test);
}

function instantHolds(at: Millis, test: ValueTest): boolean {
  if ('present' in test) return true;
  if ('instants' in test) return within(at, test.instants) && at !== test.instants[1];
  return 'monthDays' in test && test.monthDays.includes(dayOf(at, test.zone).slice(5));
}

function textHolds(value: string, test: ValueTest): boolean {
  if ('present' in test) return true;
  if ('is' in test) return test.is.includes(fold(value));
  if ('contains' in test) return fold(value).includes(test.contains);
  if ('starts' in test) return fold(value).startsWith(test.starts);
  if ('numbers' in test) return within(Number(value), test.numbers);
  if ('days' in test) return within(value, test.days);
  return 'monthDays' in test && test.monthDays.includes(value.slice(5));
}

const within = <T extends number | string>(value: T, [from, to]: [T | null, T | null]): boolean =>
  (from === null || value >= from) && (to === null || value <= to);
