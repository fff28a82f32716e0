'use client';
import { useId } from 'react';

const DAYS = ['SU', 'MO', 'TU', 'WE', 'TH', 'FR', 'SA'];
const DAY_WORDS = ['Sunday', 'Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday'];
const NTH_WORDS = ['first', 'second', 'third', 'fourth', 'fifth'];

const OWN = 'own';

/** Rules that fit the day it is first sent on. @param local `2026-12-05T10:00`; empty: no day is chosen */
function rulesFor(local: string): [rule: string, words: string][] {
  const day = new Date(`${local.slice(0, 10)}T00:00Z`);
  if (Number.isNaN(day.getTime()))
    return [
      ['FREQ=DAILY', 'every day'],
      ['FREQ=WEEKLY', 'every week'],
      ['FREQ=MONTHLY', 'every month'],
    ];
  const weekday = day.getUTCDay();
  const nth = Math.ceil(day.getUTCDate() / 7);
  return [
    ['FREQ=DAILY', 'every day'],
    [`FREQ=WEEKLY;BYDAY=${DAYS[weekday]}`, `every ${DAY_WORDS[weekday]}`],
    [`FREQ=WEEKLY;INTERVAL=2;BYDAY=${DAYS[weekday]}`, `every second ${DAY_WORDS[weekday]}`],
    [
      `FREQ=MONTHLY;BYDAY=${nth}${DAYS[weekday]}`,
      `every ${NTH_WORDS[nth - 1]} ${DAY_WORDS[weekday]} of the month`,
    ],
    ['FREQ=MONTHLY', `on day ${day.getUTCDate()} of every month`],
  ];
}

/** Whether it is sent again, by a rule. */
export function RepeatFields({ rule, local, set }: { rule: string; local: string; set(rule: string): void }) {
  const id = useId();
  const rules = rulesFor(local);
  const known = rule === '' || rules.some(([one]) => one === rule);
  return (
    <div className="mt-2 flex flex-wrap items-center gap-x-3 gap-y-2">
      <label htmlFor={id}>Again</label>
      <select
        id={id}
        className="input w-auto!"
        value={known ? rule : OWN}
        onChange={(event) => set(event.target.value === OWN ? 'FREQ=WEEKLY;COUNT=4' : event.target.value)}
      >
        <option value="">no, once</option>
        {rules.map(([one, words]) => (
          <option key={one} value={one}>
            {words}
          </option>
        ))}
        <option value={OWN}>by a rule of iCalendar</option>
      </select>
      {!known && (
        <input
          aria-label="Rule of iCalendar"
          className="input w-80!"
          value={rule}
          maxLength={300}
          onChange={(event) => set(event.target.value)}
        />
      )}
      {rule !== '' && (
        <span className="text-sm text-soft">
          each time checked as new; whoever got these very words gets them no second time
        </span>
      )}
    </div>
  );
}
