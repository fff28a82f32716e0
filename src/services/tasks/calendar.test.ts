import ICAL from 'ical.js';
import { expect, it } from 'vitest';
import { calendarOf } from './calendar';

it('tasks are events that another library reads, at the very instant they are due', () => {
  const due = new Date('2026-11-24T17:30:00Z');
  const task = {
    ...{
      id: 'tsk_1',
      title: 'Call',
      about: 'Łucja; “Nowak”, 🔭',
      state: 'open' as const,
      note: 'After five,\nnot before',
      source: 'hand' as const,
    },
    ...{
      person_id: 'per_1',
      account_id: null,
      account: null,
      due_at: due,
      created_at: due,
      settled_at: null,
    },
    ...{ sequence_id: null, sequence: null },
  };
  const text = calendarOf('Tasks', [task], (id) => `https://wren.test/people/${id}`);
  const calendar = new ICAL.Component(ICAL.parse(text) as never);
  const event = new ICAL.Event(calendar.getFirstSubcomponent('vevent')!);
  expect(event.summary).toBe('Call: Łucja; “Nowak”, 🔭');
  expect(event.description).toBe('After five,\nnot before');
  expect(event.startDate.toJSDate()).toEqual(due);
  expect(event.uid).toBe('tsk_1');
});
