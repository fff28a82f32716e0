import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { DAY, HOUR, MINUTE, toIso, type Millis } from '../shared/instant';
import { reachable } from '../shared/testing/reachable';
import { advance, enter, lotOf, place, type Facts, type Trigger } from './advance';
import { compile } from './compile';
import type { SequenceDocument } from './document';
import { begin, ENROLMENT_TRANSITIONS, type Enrolment } from './enrolment';
import { rehearse, type Pretended } from './rehearse';
import { document } from './testing/random';
import { at, CLEARED, facts, line, NOON, sequence, stage, text } from './testing/stage';

const start = (
  doc: SequenceDocument,
  more: { prompted?: boolean; notBefore?: Millis } = {},
  told: Facts = facts(),
) =>
  enter(
    compile(doc),
    begin('enr_1', { at: NOON, prompted: more.prompted ?? false, notBefore: more.notBefore ?? null }),
    NOON,
    told,
  );

/** The itinerary in words: when, what, and why not. */
function played(
  doc: SequenceDocument,
  pretended: Pretended[] = [],
  on = stage(),
  more: { prompted?: boolean; notBefore?: Millis } = {},
): string[] {
  const first = start(doc, more, on.facts(NOON));
  return rehearse(compile(doc), first, pretended, on).stops.map(({ at: when, command }) => {
    const day = toIso(when).slice(5, 16);
    switch (command.do) {
      case 'message':
        return `${day} ${command.message.body}${command.answer ? ' (answer)' : ''}`;
      case 'deed':
        return `${day} ${command.deed.do}`;
      case 'passed':
        return `${day} ${command.line} ${command.because ?? 'done'}`;
      case 'keep-answer':
        return `${day} keep ${command.field}`;
      default:
        return `${day} ${command.do}`;
    }
  });
}
const messages = (list: string[]) => list.filter((stop) => !stop.endsWith('done'));
const reply = (when: Millis): Pretended => ({ at: when, trigger: { on: 'act', act: 'reply' } });

const welcome = sequence([
  line('a', { at: 'once' }, text('Hello')),
  line('b', { at: 'after', minutes: 60, from: 'before' }, text('An hour later')),
  line('c', { at: 'day', day: 2, time: '09:40' }, text('Day two')),
  line('d', { at: 'day', day: 14, time: '10:00' }, text('Day fourteen')),
]);

describe('a sequence', () => {
  it('goes line by line, relative times from what left, days where the person lives', () =>
    expect(messages(played(welcome))).toEqual([
      '11-24T19:00 Hello',
      '11-24T20:00 An hour later',
      '11-25T16:40 Day two',
      '12-07T17:00 Day fourteen',
    ]));

  it('held over a night never brings two together: what is counted from it waits with it', () => {
    const night = at('2026-11-25T09:00:00-07:00');
    const held = stage({}, (_, now) =>
      now < night ? { verdict: 'held', until: night, because: 'quiet-hours' } : CLEARED,
    );
    expect(messages(played(welcome, [], held))).toEqual([
      '11-25T16:00 Hello',
      '11-25T17:00 An hour later',
      // Its moment passed while the one before waited: at once, as its author chose.
      '11-25T17:00 Day two',
      '12-07T17:00 Day fourteen',
    ]);
  });

  it('passes over what its author does not want late', () => {
    const late = at('2026-11-26T09:00:00-07:00');
    const doc = sequence(
      welcome.lines.map((one) => (one.id === 'c' ? { ...one, late: 'skip' as const } : one)),
    );
    const held = stage({}, (_, now) =>
      now < late ? { verdict: 'held', until: late, because: 'quiet-hours' } : CLEARED,
    );
    expect(played(doc, [], held)).toContain('11-26T17:00 c late');
  });

  it('passes over a message that is blocked for good, with its reason, and goes on', () => {
    const blocked = stage({}, ({ line: id }) =>
      id === 'b' ? { verdict: 'blocked', until: null, because: 'same-text' } : CLEARED,
    );
    expect(messages(played(welcome, [], blocked))).toEqual([
      '11-24T19:00 Hello',
      '11-24T20:00 b same-text',
      '11-25T16:40 Day two',
      '12-07T17:00 Day fourteen',
    ]);
  });

  it('answers somebody’s own act at any hour; what follows keeps the hours', () => {
    const hours = { days: [1, 2, 3, 4, 5], from: '09:00', to: '17:00', holidays: [], apart_minutes: 0 };
    const night = { ...welcome, hours: { ...hours, days: [3] } };
    expect(messages(played(night, [], stage(), { prompted: true }))).toEqual([
      '11-24T19:00 Hello (answer)',
      '11-25T16:00 An hour later',
      '11-25T16:40 Day two',
      '12-09T16:00 Day fourteen',
    ]);
    expect(messages(played(night))[0]).toBe('11-25T16:00 Hello');
  });

  it('keeps its messages apart', () => {
    const hours = {
      days: [1, 2, 3, 4, 5, 6, 7],
      from: '00:00',
      to: '24:00',
      holidays: [],
      apart_minutes: 2 * 1_440,
    };
    expect(messages(played({ ...welcome, hours })).map((stop) => stop.slice(0, 11))).toEqual([
      '11-24T19:00',
      '11-26T19:00',
      '11-28T19:00',
      '12-07T17:00',
    ]);
  });

  it('waits out its grace, and nothing is lost by it', () =>
    expect(messages(played(welcome, [], stage(), { notBefore: NOON + 5 * MINUTE })).slice(0, 2)).toEqual([
      '11-24T19:05 Hello',
      '11-24T20:05 An hour later',
    ]));
});

describe('a reply', () => {
  const waits = sequence([
    line('a', { at: 'once' }, text('Which evening?')),
    line(
      'w',
      { at: 'until', act: 'reply', minutes: 2 * 1_440 },
      {
        do: 'fork',
        columns: [
          {
            id: 'yes',
            name: 'wrote',
            if: { test: 'did', act: 'reply', has: true },
            lines: [line('y', { at: 'once' }, text('Good!'))],
            then: 'end',
          },
          {
            id: 'no',
            name: 'quiet',
            if: { test: 'else' },
            lines: [line('n', { at: 'once' }, text('Still there?'))],
            then: 'rejoin',
          },
        ],
      },
    ),
    line('z', { at: 'after', minutes: 1_440, from: 'before' }, text('Later')),
  ]);

  it('that is waited for is answered at once, and ends its column', () =>
    expect(messages(played(waits, [reply(NOON + HOUR)]))).toEqual([
      '11-24T19:00 Which evening?',
      '11-24T20:00 Good! (answer)',
    ]));

  it('that does not come within its limit takes the other column, and rejoins', () =>
    expect(messages(played(waits))).toEqual([
      '11-24T19:00 Which evening?',
      '11-26T19:00 Still there?',
      '11-27T19:00 Later',
    ]));

  it('ends it where it is said so, calls back what has not left, and does what follows', () => {
    const doc = {
      ...welcome,
      ends: [
        {
          when: { on: 'reply' as const },
          then: [{ do: 'tell' as const, words: 'Wrote', to: { to: 'owner' as const } }],
        },
      ],
    };
    expect(messages(played(doc, [reply(NOON + 2 * HOUR)]))).toEqual([
      '11-24T19:00 Hello',
      '11-24T20:00 An hour later',
      '11-24T21:00 tell',
    ]);
    const held = stage({}, () => ({ verdict: 'held', until: NOON + 9 * HOUR, because: 'quiet-hours' }));
    expect(messages(played(doc, [reply(NOON + HOUR)], held))).toEqual([
      '11-24T20:00 call-back',
      '11-24T20:00 tell',
    ]);
  });

  it('answers the question that was asked last', () => {
    const doc = sequence([
      line('q', { at: 'once' }, { do: 'ask', body: 'Your planet?', field: 'own.planet' }),
      line('w', { at: 'until', act: 'reply', minutes: 600 }, text('Thanks')),
    ]);
    expect(messages(played(doc, [reply(NOON + HOUR), reply(NOON + 2 * HOUR)]))).toEqual([
      '11-24T19:00 Your planet?',
      '11-24T20:00 keep own.planet',
      '11-24T20:00 Thanks (answer)',
    ]);
  });
});

describe('by hand', () => {
  const told = (one: Enrolment, trigger: Trigger, now: Millis) =>
    advance(compile(welcome), one, trigger, now, facts());
  const waiting = (): Enrolment => {
    const first = start(welcome);
    return told(first.enrolment, { on: 'settled', line: 'a', left: true }, NOON).enrolment;
  };

  it('a line is skipped, somebody is held, taken out, and put in at a line', () => {
    const one = waiting();
    expect(one).toMatchObject({ state: 'waiting', line: 'b', due: NOON + HOUR });
    expect(told(one, { on: 'skip' }, NOON).enrolment).toMatchObject({ line: 'c' });
    expect(told(one, { on: 'hold', until: NOON + 3 * DAY }, NOON).enrolment.due).toBe(NOON + 3 * DAY);
    expect(told(one, { on: 'end', why: 'taken-out' }, NOON).enrolment).toMatchObject({
      state: 'ended',
      due: null,
    });
    expect(place(compile(welcome), one, 'd', NOON, facts()).enrolment).toMatchObject({
      line: 'd',
      state: 'waiting',
    });
  });

  it('what fell due elsewhere is behind them undone, as if it had been done when it was due', () => {
    const one = waiting();
    const { enrolment, commands } = told(one, { on: 'elsewhere' }, NOON + 3 * DAY);
    expect(commands).toEqual([
      { do: 'passed', line: 'b', because: 'elsewhere' },
      { do: 'passed', line: 'c', because: 'elsewhere' },
    ]);
    const done = ['b', 'c'].reduce(
      (at, line) =>
        told(told(at, { on: 'clock' }, at.due!).enrolment, { on: 'settled', line, left: true }, at.due!)
          .enrolment,
      one,
    );
    expect(enrolment).toEqual(done);
    expect(told(enrolment, { on: 'elsewhere' }, NOON + 3 * DAY)).toEqual({ enrolment, commands: [] });
  });

  it('a message on its way elsewhere is called back here, and what is counted from it comes later than there', () => {
    const sending = told(waiting(), { on: 'clock' }, NOON + HOUR).enrolment;
    expect(sending).toMatchObject({ state: 'sending', line: 'b' });
    const { enrolment, commands } = told(sending, { on: 'elsewhere' }, NOON + 3 * DAY);
    expect(commands).toEqual([
      { do: 'call-back' },
      { do: 'passed', line: 'b', because: 'elsewhere' },
      { do: 'passed', line: 'c', because: 'elsewhere' },
    ]);
    expect(enrolment).toMatchObject({ state: 'waiting', line: 'd', left: NOON + 3 * DAY });
  });

  it('what is over stays over, whatever it is told', () => {
    const over = told(waiting(), { on: 'end', why: 'taken-out' }, NOON).enrolment;
    for (const trigger of [
      { on: 'clock' },
      { on: 'skip' },
      { on: 'elsewhere' },
      { on: 'act', act: 'reply' },
    ] as Trigger[])
      expect(told(over, trigger, NOON + DAY)).toEqual({ enrolment: over, commands: [] });
  });

  it('the outcome of another line’s message changes nothing', () => {
    const one = start(welcome).enrolment;
    expect(told(one, { on: 'settled', line: 'b', left: true }, NOON).enrolment).toEqual(one);
  });

  it('every state of an enrolment is reached, and left unless it is the end', () => {
    expect([...reachable('waiting', ENROLMENT_TRANSITIONS)].sort()).toEqual(['ended', 'sending', 'waiting']);
    expect(Object.keys(ENROLMENT_TRANSITIONS.ended)).toEqual([]);
  });
});

it('shares are even, and the same for the same person', () => {
  const lots = Array.from({ length: 5_000 }, (_, i) => lotOf(`enr_${i} l3`));
  const below = lots.filter((lot) => lot < 30).length / lots.length;
  expect(below).toBeGreaterThan(0.26);
  expect(below).toBeLessThan(0.34);
  expect(lotOf('enr_7 l3')).toBe(lotOf('enr_7 l3'));
});

const acts = fc.array(
  fc.record({
    at: fc.integer({ min: NOON, max: NOON + 90 * DAY }),
    trigger: fc.oneof(
      fc.constantFrom<Pretended['trigger']>(
        { on: 'act', act: 'reply' },
        { on: 'act', act: 'click' },
        { on: 'changed', what: null },
      ),
      fc.constant<Pretended['trigger']>({ on: 'changed', what: { on: 'tag', label: 'lab_end' } }),
    ),
  }),
  { maxLength: 4 },
);
/** Holds and blocks by the hour and the line, always the same for the same question. */
const strict = stage(
  { dateOf: (field) => (field === 'own.visit' ? '2026-12-04' : '1990-11-30'), holds: () => true },
  ({ line: id }, now) => {
    const lot = lotOf(`${id} ${Math.floor(now / HOUR)}`);
    if (lot < 15) return { verdict: 'blocked', until: null, because: 'same-text' };
    return lot < 45 ? { verdict: 'held', until: now + (lot % 7) * HOUR, because: 'quiet-hours' } : CLEARED;
  },
);

/** To its very end: lines that each wait for a birthday lead further than a rehearsal looks. */
const whole = (doc: SequenceDocument, pretended: readonly Pretended[]) =>
  rehearse(compile(doc), start(doc, {}, strict.facts(NOON)), pretended, strict, Infinity);

describe('whatever the document and whatever happens', () => {
  it('nobody comes by a line twice, and everybody comes to an end', () =>
    fc.assert(
      fc.property(document, acts, (doc, pretended) => {
        const { stops, enrolment } = whole(doc, pretended);
        const passed = stops.flatMap(({ command }) => (command.do === 'passed' ? [command.line] : []));
        expect(new Set(passed).size).toBe(passed.length);
        expect(enrolment.state).toBe('ended');
      }),
      { numRuns: 400 },
    ));

  it('after an early end nothing automatic leaves', () =>
    fc.assert(
      fc.property(document, acts, (doc, pretended) => {
        const { stops, enrolment } = whole(doc, pretended);
        const over = enrolment.ended!.at;
        for (const { at: when, command } of stops)
          if (command.do === 'message') expect(when).toBeLessThanOrEqual(over);
      }),
      { numRuns: 300 },
    ));

  it('of what fell due elsewhere nothing is done, and what is next lies ahead or waits for them', () =>
    fc.assert(
      fc.property(document, fc.integer({ min: 0, max: 90 }), (doc, days) => {
        const one = start(doc, {}, strict.facts(NOON)).enrolment;
        const now = NOON + days * DAY;
        const { enrolment, commands } = advance(
          compile(doc),
          one,
          { on: 'elsewhere' },
          now,
          strict.facts(now),
        );
        expect(commands.filter(({ do: what }) => what !== 'passed' && what !== 'call-back')).toEqual([]);
        expect(enrolment.state).not.toBe('sending');
        if (enrolment.due !== null) expect(enrolment.due).toBeGreaterThan(now);
      }),
      { numRuns: 300 },
    ));

  it('told everything twice, late and again, it does the same once', () =>
    fc.assert(
      fc.property(document, acts, (doc, pretended) => {
        const once = whole(doc, pretended);
        // The live run: a worker that may die after each step and do it over, and that hears of everything twice.
        expect(live(doc, pretended)).toEqual(
          once.stops.flatMap(({ at: when, command }) =>
            command.do === 'message' ? [`${when} ${command.line}`] : [],
          ),
        );
      }),
      { numRuns: 300 },
    ));
});

/** Messages that left, as a worker would send them that repeats and forgets; each line of an enrolment leaves once. */
function live(doc: SequenceDocument, pretended: readonly Pretended[]): string[] {
  const compiled = compile(doc);
  const left: string[] = [];
  let row = start(doc, {}, strict.facts(NOON)).enrolment;
  const ahead = [...pretended].sort((a, b) => a.at - b.at);
  let message: { line: string; at: Millis } | null =
    row.state === 'sending' ? { line: row.line!, at: NOON } : null;
  let now = NOON;
  const tell = (trigger: Trigger) => {
    // Worked out once and lost, then again from what was stored.
    advance(compiled, row, trigger, now, strict.facts(now));
    const next = advance(compiled, row, trigger, now, strict.facts(now));
    row = next.enrolment;
    for (const command of next.commands) {
      if (command.do === 'call-back') message = null;
      if (command.do === 'message') message = { line: command.line, at: now };
    }
    if (trigger.on !== 'skip') {
      const again = advance(compiled, row, trigger, now, strict.facts(now));
      if (again.commands.length > 0)
        throw new Error(`Told ${trigger.on} twice, it did ${again.commands[0]!.do} again`);
    }
  };
  for (let i = 0; i < 5_000 && row.state !== 'ended'; i++) {
    const next = Math.min(message?.at ?? row.due ?? Infinity, ahead[0]?.at ?? Infinity);
    if (next === Infinity) break;
    now = Math.max(now, next);
    if (ahead[0] && ahead[0].at <= now) tell(ahead.shift()!.trigger);
    else if (message) {
      const { verdict, until, because } = strict.clear(
        { do: 'message', line: message.line, message: { do: 'text', body: '' }, answer: false },
        now,
      );
      if (verdict === 'held') message.at = Math.max(until!, now + MINUTE);
      else {
        const sent = message.line;
        message = null;
        if (verdict === 'cleared') left.push(`${now} ${sent}`);
        tell(
          verdict === 'cleared'
            ? { on: 'settled', line: sent, left: true }
            : { on: 'settled', line: sent, left: false, because: because! },
        );
      }
    } else tell({ on: 'clock' });
  }
  return left;
}
