import { isGroup, branches, groupKind } from '../audience/condition';
import { DAY, type Millis } from '../shared/instant';
import { parseTemplate } from '../text/template';
import { enter, type Facts } from './advance';
import { compile } from './compile';
import { everyLine, isMessage, type Column, type Line, type SequenceDocument } from './document';
import { begin } from './enrolment';
import { freely } from './ahead';
import { rehearse } from './rehearse';

/** What a document refers to, as it stands in the workspace. Ids that are not among them are gone. */
export interface KnownThings {
  program: {
    purpose: 'marketing' | 'recurring' | 'utility' | 'inquiry';
    promise: { count: number; period: 'week' | 'month' } | null;
    archived: boolean;
  } | null;
  business: string;
  ids: ReadonlySet<string>;
  fields: ReadonlySet<string>;
  /** Merge fields that may be empty. */
  roles: ReadonlySet<string>;
  /** Sequences that begin when one of these happens: their id, and what begins them. */
  others: readonly {
    id: string;
    name: string;
    begins: SequenceDocument['begins'];
    lines: SequenceDocument['lines'];
  }[];
}

export interface Warning {
  code: WarningCode;
  /** `must`: it cannot be published so. */
  weight: 'must' | 'should';
  /** Where; null: the whole. */
  line: string | null;
  message: string;
}

export type WarningCode =
  | 'no-beginning'
  | 'nobody-enters'
  | 'no-lines'
  | 'never-reached'
  | 'fork-gap'
  | 'fork-overlap'
  | 'waits-in-vain'
  | 'often'
  | 'over-promise'
  | 'first-without-name'
  | 'first-without-stop'
  | 'inquiry-marketing'
  | 'hour-not-allowed'
  | 'loop'
  | 'no-fallback'
  | 'gone'
  | 'program-archived';

/**
 * What may go wrong with a document, each with its place and a mending. `self` is the id of the sequence itself, so that
 * those that begin one another are found.
 */
export function checkSequence(
  document: SequenceDocument,
  known: KnownThings,
  self: string | null,
): Warning[] {
  return [
    ...beginningWarnings(document),
    ...reachWarnings(document.lines),
    ...forkWarnings(document),
    ...goneWarnings(document, known),
    ...messageWarnings(document, known),
    ...frequencyWarnings(document, known),
    ...loopWarnings(document, known, self),
  ];
}

const warning = (
  code: WarningCode,
  weight: Warning['weight'],
  line: string | null,
  message: string,
): Warning => ({ code, weight, line, message });

function beginningWarnings({ begins, only, lines }: SequenceDocument): Warning[] {
  const found: Warning[] = [];
  if (lines.length === 0)
    found.push(warning('no-lines', 'must', null, 'Nothing happens in it yet. Write a first line.'));
  if (begins.length === 0)
    found.push(
      warning(
        'no-beginning',
        'should',
        null,
        'Nothing begins it: people come in by hand or by a batch only. Say what begins it, or leave it so.',
      ),
    );
  if (only && isGroup(only) && groupKind(only) === 'any' && branches(only).length === 0)
    found.push(
      warning(
        'nobody-enters',
        'must',
        null,
        'Nobody meets the condition: "any of" nothing. Add a condition or take it away.',
      ),
    );
  return found;
}

/** Lines after an end, or after a fork all of whose columns end. */
function reachWarnings(lines: readonly Line[]): Warning[] {
  const found: Warning[] = [];
  let over: string | null = null;
  for (const line of lines) {
    if (over !== null) {
      found.push(
        warning('never-reached', 'should', line.id, `Nobody comes here: ${over}. Move it up or take it out.`),
      );
      break;
    }
    if (line.off) continue;
    if (line.what.do === 'end') over = 'the line before ends it';
    if (line.what.do !== 'fork') continue;
    const { columns } = line.what;
    for (const column of columns) found.push(...reachWarnings(column.lines));
    const catches =
      columns.some(({ if: test }) => test.test === 'else') || shares(columns) >= 100 || opposites(columns);
    if (catches && columns.every(leadsOut)) over = 'every column before ends';
  }
  return found;
}

const leadsOut = (column: Column): boolean =>
  column.then === 'end' || column.lines.some((line) => line.what.do === 'end' && !line.off);

const shares = (columns: readonly Column[]): number =>
  columns.reduce((sum, { if: test }) => sum + (test.test === 'share' ? test.percent : 0), 0);

/** Two columns of which one always holds: did, and did not. */
const opposites = (columns: readonly Column[]): boolean =>
  columns.some(({ if: one }) =>
    columns.some(
      ({ if: other }) =>
        one.test === 'did' && other.test === 'did' && one.act === other.act && one.has !== other.has,
    ),
  );

function forkWarnings({ lines }: SequenceDocument): Warning[] {
  const found: Warning[] = [];
  let waited: Line[] = [];
  for (const line of everyLine(lines)) {
    if (line.when.at === 'until') waited.push(line);
    if (line.what.do !== 'fork') {
      if (isMessage(line.what)) waited = [];
      continue;
    }
    found.push(...columnWarnings(line, line.what.columns));
    for (const { if: test } of line.what.columns)
      if (test.test === 'did' && !waited.some(({ when }) => when.at === 'until' && when.act === test.act))
        found.push(
          warning(
            'waits-in-vain',
            'should',
            line.id,
            `It asks whether they did something since the last message, and no line gives them time for it. Let this line wait: as soon as they do, at the latest after some days.`,
          ),
        );
  }
  return found;
}

function columnWarnings(line: Line, columns: readonly Column[]): Warning[] {
  const found: Warning[] = [];
  const say = (code: WarningCode, weight: Warning['weight'], message: string) =>
    found.push(warning(code, weight, line.id, message));
  const kinds = new Set(columns.map(({ if: test }) => (test.test === 'share' ? 'share' : 'test')));
  const elseAt = columns.findIndex(({ if: test }) => test.test === 'else');
  if (elseAt >= 0 && elseAt < columns.length - 1)
    say(
      'fork-overlap',
      'must',
      'The column for everybody else stands before another, which nobody comes to. Move it to the end.',
    );
  if (shares(columns) > 100)
    say('fork-overlap', 'must', `The shares make ${shares(columns)} of a hundred. Make them at most 100.`);
  if (kinds.size > 1 && elseAt < 0)
    say(
      'fork-overlap',
      'should',
      'Shares and conditions stand side by side: the first that fits is taken. Use one or the other.',
    );
  const tests = columns.map(({ if: test }) => JSON.stringify(test));
  if (kinds.size === 1 && !kinds.has('share') && new Set(tests).size < tests.length)
    say('fork-overlap', 'must', 'Two columns ask the same: the second is never taken. Change one.');
  const covered = elseAt >= 0 || shares(columns) >= 100 || opposites(columns);
  if (!covered)
    say(
      'fork-gap',
      'should',
      'Whoever fits no column passes the fork over. Add a column for everybody else, or leave it so.',
    );
  return found;
}

/** What is referred to and is not here any more. */
function goneWarnings(document: SequenceDocument, known: KnownThings): Warning[] {
  const found: Warning[] = [];
  const want = (id: string | null, line: string | null, what: string) => {
    if (id !== null && !known.ids.has(id))
      found.push(warning('gone', 'must', line, `The ${what} it uses is gone. Choose another.`));
  };
  const field = (name: string, line: string | null) => {
    if (!known.fields.has(name))
      found.push(
        warning('gone', 'must', line, `The field it uses (${name}) is gone or put away. Choose another.`),
      );
  };
  if (!known.program) found.push(warning('gone', 'must', null, 'Its program is gone. Choose another.'));
  if (known.program?.archived)
    found.push(
      warning(
        'program-archived',
        'must',
        null,
        'Its program is archived: nothing would be sent. Choose another, or bring it back.',
      ),
    );
  for (const begins of document.begins) {
    if (begins.on === 'joined') want(begins.program, null, 'program of a beginning');
    if (begins.on === 'tag' || begins.on === 'list') want(begins.label, null, `${begins.on} of a beginning`);
    if (begins.on === 'stage') want(begins.stage, null, 'stage of a beginning');
    if (begins.on === 'ended') want(begins.sequence, null, 'sequence of a beginning');
    if (begins.on === 'inquiry') want(begins.source ?? null, null, 'source of a beginning');
    if (begins.on === 'date' || begins.on === 'field') field(begins.field, null);
  }
  const cause = document.ends.map(({ when }) => when);
  for (const when of cause) {
    if (when.on === 'stage') want(when.stage, null, 'stage that ends it');
    if (when.on === 'tag' || when.on === 'list') want(when.label, null, `${when.on} that ends it`);
    if (when.on === 'field' || when.on === 'date') field(when.field, null);
  }
  for (const { id, when, what } of everyLine(document.lines)) {
    if (when.at === 'date') field(when.field, id);
    if ('label' in what) want(what.label, id, what.do === 'list' || what.do === 'unlist' ? 'list' : 'tag');
    if (what.do === 'stage') want(what.stage, id, 'stage');
    if (what.do === 'owner') want(what.account, id, 'teammate');
    if (what.do === 'begin' || what.do === 'stop') want(what.sequence, id, 'sequence');
    if (what.do === 'field' || what.do === 'ask') field(what.field, id);
    const assignee = what.do === 'task' ? what.for : what.do === 'tell' ? what.to : null;
    if (assignee?.to === 'account') want(assignee.account, id, 'teammate');
    if (assignee?.to === 'turn' && !known.roles.has(assignee.role))
      found.push(warning('gone', 'must', id, `Nobody here is a ${assignee.role}. Choose who it is for.`));
  }
  return found;
}

function messageWarnings(document: SequenceDocument, known: KnownThings): Warning[] {
  const found: Warning[] = [];
  let first: Line | null = null;
  for (const line of everyLine(document.lines)) {
    if (!isMessage(line.what) || line.off) continue;
    const body = parseTemplate(line.what.body);
    const empty = body.ok
      ? body.value.fields.filter(({ name, fallback }) => fallback === null && name.startsWith('person.'))
      : [];
    if (empty.length > 0)
      found.push(
        warning(
          'no-fallback',
          'should',
          line.id,
          `Whoever has no ${empty[0]!.name.replace('person.', '').replaceAll('_', ' ')} is passed over. Say what stands in for it.`,
        ),
      );
    if ('time' in line.when) found.push(...hourWarnings(line, line.when.time));
    first ??= line;
  }
  if (first && isMessage(first.what)) {
    const words = first.what.body.toLowerCase();
    if (!words.includes(known.business.toLowerCase()) && !words.includes('business.name'))
      found.push(
        warning(
          'first-without-name',
          'should',
          first.id,
          `The first message does not say who writes. Put in ${known.business}.`,
        ),
      );
    if (first.what.do === 'text' && !/\bstop\b/i.test(words))
      found.push(
        warning(
          'first-without-stop',
          'should',
          first.id,
          'The first text does not say how to stop. Add “Reply STOP to stop.”',
        ),
      );
  }
  if (known.program?.purpose === 'inquiry') {
    const texts = [...everyLine(document.lines)].filter(({ what }) => isMessage(what) && what.do !== 'email');
    const asks = texts.some(({ what }) => isMessage(what) && what.body.includes('$program.ask'));
    const later = texts.filter(({ when }) => when.at !== 'once');
    if (later.length > 0 && !asks)
      found.push(
        warning(
          'inquiry-marketing',
          'should',
          later[0]!.id,
          'People who only inquired agreed to an answer, not to lasting marketing: after a week no text of this goes to them. Put “asks for their YES” into the first text, or follow up by e-mail or a task.',
        ),
      );
  }
  return found;
}

/** Source: 47 CFR 64.1200(c)(1). Nothing automatic arrives before eight or from nine in the evening on. */
const hourWarnings = (line: Line, time: string): Warning[] =>
  line.what.do !== 'email' && (time < '08:00' || time >= '21:00')
    ? [
        warning(
          'hour-not-allowed',
          'should',
          line.id,
          `No state allows a text at ${time}: it waits until the hours open. Choose an hour between 08:00 and 21:00.`,
        ),
      ]
    : [];

const SOMEWHERE: Facts = { zone: 'America/Denver', dateOf: () => null, holds: () => true };
const EXAMPLE: Millis = Date.UTC(2026, 0, 6, 17);

/** How often it writes, on the longest way through it: each column is walked. */
function frequencyWarnings(document: SequenceDocument, known: KnownThings): Warning[] {
  const messages = [...ways(document.lines)].map((lines) =>
    timesOf({ ...document, lines, ends: [], only: null }),
  );
  const longest = messages.reduce((most, times) => (times.length > most.length ? times : most), []);
  const found: Warning[] = [];
  const within = (times: readonly Millis[], span: Millis) =>
    Math.max(0, ...times.map((from) => times.filter((at) => at >= from && at < from + span).length));
  const inMonth = within(longest, 30 * DAY);
  if (inMonth > 5)
    found.push(
      warning(
        'often',
        'should',
        null,
        `It writes ${inMonth} times within a month: more than about once a week, and people stop. Spread it out.`,
      ),
    );
  const promise = known.program?.promise;
  if (promise) {
    const count = within(longest, (promise.period === 'week' ? 7 : 30) * DAY);
    if (count > promise.count)
      found.push(
        warning(
          'over-promise',
          'should',
          null,
          `It writes ${count} times in a ${promise.period}; the program promises at most ${promise.count}. What is over waits until the ${promise.period} has room. Spread it out.`,
        ),
      );
  }
  return found;
}

const MOST_WAYS = 200;

/** Ways through the forks, as lists of lines without forks; at most so many. */
function ways(lines: readonly Line[]): Line[][] {
  let found: Line[][] = [[]];
  for (const line of lines) {
    if (line.what.do !== 'fork') found = found.map((way) => [...way, line]);
    else {
      const { columns } = line.what;
      const inside = columns.flatMap((column) => ways(column.lines));
      found = found.flatMap((way) => inside.map((column) => [...way, ...column]));
    }
    if (found.length > MOST_WAYS) found = found.slice(0, MOST_WAYS);
  }
  return found;
}

function timesOf(document: SequenceDocument): Millis[] {
  const compiled = compile(document);
  const one = begin('enr', { at: EXAMPLE, prompted: false, notBefore: null });
  const { stops } = rehearse(compiled, enter(compiled, one, EXAMPLE, SOMEWHERE), [], freely(SOMEWHERE));
  return stops.flatMap(({ at, command }) => (command.do === 'message' ? [at] : []));
}

/** Sequences that begin one another without a person's doing, over tags, lists and stages too. */
function loopWarnings(document: SequenceDocument, known: KnownThings, self: string | null): Warning[] {
  const nodes = new Map(known.others.map((other) => [other.id, other]));
  const me = self ?? 'this one';
  nodes.set(me, { id: me, name: document.name, begins: document.begins, lines: document.lines });
  const leadsTo = (from: Pick<SequenceDocument, 'begins' | 'lines'> & { id: string }): string[] =>
    [...nodes.values()].filter((to) => beginsBy(from, to)).map(({ id }) => id);
  const seen = new Set<string>();
  const stack = leadsTo(nodes.get(me)!);
  while (stack.length > 0) {
    const id = stack.pop()!;
    if (id === me) {
      const over = [...seen].map((one) => nodes.get(one)!.name);
      return [
        warning(
          'loop',
          'must',
          null,
          `It leads back into itself${over.length > 0 ? ` by way of ${over.join(', ')}` : ''}: people would go round for ever. Take out the line that begins it again.`,
        ),
      ];
    }
    if (seen.has(id)) continue;
    seen.add(id);
    stack.push(...leadsTo(nodes.get(id)!));
  }
  return [];
}

const beginsBy = (
  from: Pick<SequenceDocument, 'lines'> & { id: string },
  to: Pick<SequenceDocument, 'begins'> & { id: string },
): boolean =>
  [...everyLine(from.lines)].some(
    ({ what, off }) =>
      !off &&
      ((what.do === 'begin' && what.sequence === to.id) ||
        to.begins.some(
          (begins) =>
            ((begins.on === 'tag' || begins.on === 'list') &&
              what.do === begins.on &&
              what.label === begins.label) ||
            (begins.on === 'stage' && what.do === 'stage' && what.stage === begins.stage) ||
            (begins.on === 'field' && what.do === 'field' && what.field === begins.field),
        )),
  ) || to.begins.some((begins) => begins.on === 'ended' && begins.sequence === from.id);
