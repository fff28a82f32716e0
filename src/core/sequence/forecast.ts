import { DAY, type Millis } from '../shared/instant';
import type { Facts } from './advance';
import { enter } from './advance';
import { freely, messagesAhead } from './ahead';
import type { Compiled } from './compile';
import { begin, type Enrolment } from './enrolment';
import { rehearse } from './rehearse';

/** What a sequence will send on one of the next days. */
export interface DayAhead {
  /** 0 is today. */
  day: number;
  messages: number;
}

const DAYS = 30;

/**
 * What it will send on each of the next thirty days: to those who are in it, if nothing happens to them, and to as many
 * as usually come. `weight`: how many people each of `sample` stands for. `perDay`: how many come in a day.
 */
export function forecast(
  sequence: Compiled,
  sample: readonly { enrolment: Enrolment; facts: Facts }[],
  { weight, perDay, newcomer, now }: { weight: number; perDay: number; newcomer: Facts; now: Millis },
): DayAhead[] {
  const days = new Array<number>(DAYS).fill(0);
  const add = (at: Millis, people: number) => {
    const day = Math.floor((at - now) / DAY);
    if (day >= 0 && day < DAYS) days[day]! += people;
  };
  const until = now + DAYS * DAY;
  for (const { enrolment, facts } of sample)
    for (const { at } of messagesAhead(sequence, enrolment, now, facts, until)) add(at, weight);
  // Who comes tomorrow gets what somebody gets who comes today, a day later.
  const one = begin('forecast', { at: now, prompted: true, notBefore: null });
  const { stops } = rehearse(sequence, enter(sequence, one, now, newcomer), [], freely(newcomer), until);
  for (const { at, command } of stops)
    if (command.do === 'message') for (let day = 0; day < DAYS; day++) add(at + day * DAY, perDay);
  return days.map((messages, day) => ({ day, messages: Math.round(messages) }));
}
