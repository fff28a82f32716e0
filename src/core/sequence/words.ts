import { DAY, HOUR, type Millis } from '../shared/instant';
import { enter, type Facts } from './advance';
import { freely } from './ahead';
import { compile } from './compile';
import type { Act, Begin, Column, EndingCause, SequenceDocument, What, When } from './document';
import { begin } from './enrolment';
import { rehearse } from './rehearse';

/** Names of what a document refers to by id. */
export type Names = ReadonlyMap<string, string>;

const GONE = 'something gone';
const nameOf = (names: Names, id: string): string => names.get(id) ?? GONE;

/** A span as it is said: `1 h`, `2 days`, `90 min`. */
export function spanWords(minutes: number): string {
  if (minutes > 0 && minutes % 1_440 === 0) return minutes === 1_440 ? '1 day' : `${minutes / 1_440} days`;
  if (minutes > 0 && minutes % 60 === 0) return `${minutes / 60} h`;
  return `${minutes} min`;
}

const ACT_WORDS: Record<Act, string> = {
  reply: 'they reply',
  click: 'they follow a link',
  redeem: 'they use a voucher',
  'fill-in': 'they fill in the form',
};

const WEEKDAYS = ['', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];

/** Weekdays as they are said: `Tue to Thu`, `Mon, Fri`. */
export function weekdayWords(days: readonly number[]): string {
  const sorted = [...days].sort((a, b) => a - b);
  const run = sorted.length > 2 && sorted.at(-1)! - sorted[0]! === sorted.length - 1;
  return run
    ? `${WEEKDAYS[sorted[0]!]} to ${WEEKDAYS[sorted.at(-1)!]}`
    : sorted.map((day) => WEEKDAYS[day]).join(', ');
}

const fieldWords = (names: Names, field: string): string => names.get(field) ?? field.replace(/^own\./, '');

const daysAround = (days: number): string =>
  days === 0
    ? 'on'
    : `${Math.abs(days)} ${Math.abs(days) === 1 ? 'day' : 'days'} ${days < 0 ? 'before' : 'after'}`;

/** When a line comes, as it stands in the gutter. */
export function whenWords(when: When, names: Names): string {
  switch (when.at) {
    case 'once':
      return 'at once';
    case 'after':
      return when.from === 'before'
        ? `+${spanWords(when.minutes)}`
        : `${spanWords(when.minutes)} after the start`;
    case 'day':
      return `day ${when.day} ${when.time}`;
    case 'weekday':
      return `next ${weekdayWords(when.days)} ${when.time}`;
    case 'date':
      return `${daysAround(when.days)} ${fieldWords(names, when.field)} ${when.time}`;
    case 'until':
      return `until ${ACT_WORDS[when.act]}, at most ${spanWords(when.minutes)}`;
  }
}

/** What a line does, in a word. */
export const DEED_WORDS: Record<What['do'], string> = {
  ...{
    text: 'text',
    email: 'e-mail',
    ask: 'question by text',
    voicemail: 'voicemail',
    task: 'task',
    tell: 'notice to a teammate',
  },
  ...{
    webhook: 'tell other systems',
    tag: 'tag',
    untag: 'take tag off',
    list: 'put on list',
    unlist: 'take off list',
  },
  ...{
    stage: 'stage',
    owner: 'owner',
    field: 'set field',
    begin: 'begin sequence',
    stop: 'end another sequence',
  },
  ...{ end: 'end here', fork: 'fork' },
};

/** What it says or is about, beside the word. */
export function whatWords(what: What, names: Names): string {
  switch (what.do) {
    case 'text':
    case 'ask':
    case 'voicemail':
      return what.body;
    case 'email':
      return what.subject;
    case 'task':
      return what.title;
    case 'tell':
    case 'webhook':
      return what.words;
    case 'tag':
    case 'untag':
    case 'list':
    case 'unlist':
      return nameOf(names, what.label);
    case 'stage':
      return what.stage === null ? 'none' : nameOf(names, what.stage);
    case 'owner':
      return what.account === null ? 'nobody' : nameOf(names, what.account);
    case 'field':
      return `${fieldWords(names, what.field)}: ${what.value}`;
    case 'begin':
    case 'stop':
      return nameOf(names, what.sequence);
    case 'end':
    case 'fork':
      return '';
  }
}

/** Who takes a column. */
export function columnWords({ if: test, name }: Column): string {
  switch (test.test) {
    case 'known':
      return name;
    case 'did':
      return `${ACT_WORDS[test.act]}${test.has ? '' : ': no'}`;
    case 'share':
      return `${test.percent} of a hundred`;
    case 'else':
      return 'everybody else';
  }
}

/** What begins it, as it is said. */
export function beginWords(begins: Begin, names: Names): string {
  switch (begins.on) {
    case 'joined':
      return [
        `joins ${nameOf(names, begins.program)}`,
        begins.keyword && `by ${begins.keyword.toUpperCase()}`,
        begins.method && `by ${begins.method}`,
      ]
        .filter(Boolean)
        .join(' ');
    case 'tag':
      return `is tagged ${nameOf(names, begins.label)}`;
    case 'list':
      return `comes on the list ${nameOf(names, begins.label)}`;
    case 'stage':
      return `reaches the stage ${nameOf(names, begins.stage)}`;
    case 'replied':
      return `writes ${begins.words.map((word) => `“${word}”`).join(' or ')}`;
    case 'clicked':
      return 'follows a link';
    case 'redeemed':
      return 'uses a voucher';
    case 'expiring':
      return 'has a voucher that ends in two days';
    case 'field':
      return `${fieldWords(names, begins.field)} changes`;
    case 'date':
      return `${daysAround(begins.days)} ${fieldWords(names, begins.field)}${begins.yearly ? ', every year' : ''}, ${begins.time}`;
    case 'ended':
      return `comes out of ${nameOf(names, begins.sequence)}`;
    case 'inquiry':
      return [
        'asks something',
        begins.kind && `of the kind “${begins.kind}”`,
        begins.source && `through ${nameOf(names, begins.source)}`,
      ]
        .filter(Boolean)
        .join(' ');
    case 'request':
      return 'is sent in by the API';
  }
}

/** What ends it early, as it is said. */
export function endingWords(when: EndingCause, names: Names): string {
  switch (when.on) {
    case 'reply':
      return 'they reply';
    case 'stage':
      return `they reach the stage ${nameOf(names, when.stage)}`;
    case 'tag':
    case 'list':
      return `they get ${nameOf(names, when.label)}`;
    case 'field':
      return `${fieldWords(names, when.field)} ${when.value === null ? 'changes' : `is ${when.value}`}`;
    case 'date':
      return `the day of ${fieldWords(names, when.field)} is over`;
  }
}

const SOMEBODY: Facts = { zone: 'America/Denver', dateOf: () => null, holds: () => true };

/** On which day of the sequence each line comes for somebody to whom nothing happens, every column walked; 1 is the first. */
export function daysOf(document: SequenceDocument): ReadonlyMap<string, number> {
  const start: Millis = Date.UTC(2026, 0, 6, 17);
  const days = new Map<string, number>();
  const walk = (lines: SequenceDocument['lines'], from: number) => {
    // A fork is passed over here, and each of its columns walked by itself from the day on which it comes.
    const plain = lines.map((line) =>
      line.what.do === 'fork' ? { ...line, what: { do: 'webhook' as const, words: 'fork' } } : line,
    );
    const compiled = compile({ ...document, lines: plain, ends: [] });
    const at = start + (from - 1) * DAY;
    const one = { ...begin('days', { at: start, prompted: false, notBefore: at }), before: at };
    const { stops } = rehearse(compiled, enter(compiled, one, at, SOMEBODY), [], freely(SOMEBODY));
    for (const { at: when, command } of stops)
      if ('line' in command) days.set(command.line, Math.floor((when - start + 10 * HOUR) / DAY) + 1);
    for (const line of lines)
      if (line.what.do === 'fork')
        for (const column of line.what.columns) walk(column.lines, days.get(line.id) ?? from);
  };
  walk(document.lines, 1);
  return days;
}
