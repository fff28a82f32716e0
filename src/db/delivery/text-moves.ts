import { statesBefore, TEXT_STATES, type TextEvent } from '@/core/delivery/lifecycle';

/*
 * Delivery changes rows known by their ids, many at a time, in tables of which the planner knows little: one
 * that was empty a minute ago, or one that has suddenly ten thousand texts queued where it remembers none. So
 * nothing beside the id may look like a shorter way to few rows: a state is told by what it must not be, and
 * equality of the rest by the function behind the operator, which no index answers.
 */

/** The states an event may find: what a statement changes is what the transition table allows. */
export const finds = (event: TextEvent): string => {
  const before = statesBefore(event);
  return `t.state not in (${TEXT_STATES.filter((state) => !before.includes(state))
    .map((state) => `'${state}'`)
    .join(', ')})`;
};

/** Whether the send a message (`t`) belongs to goes `on`, `waits` or is `over`. A message that belongs to none goes on. */
export const ITS_SEND = `coalesce((select s.goes from send s where s.id = t.send_id), 'on')`;

/** Of a text that is not to leave before somebody says so: nobody knows when. */
export const WAITS = `'infinity'::timestamptz`;

/** `turn_at` of a message whose turn came, and that waits for what is told to the same person before or after it. */
export const FOR_COMPANION = `'infinity'::timestamptz`;

export const HERE = `texteq(t.workspace_id, :workspace)`;

/** Texts (`t`) that a worker is sending, or was when it ended: `d` is the departure. */
export const ON_THE_WAY = `departure d cross join lateral unnest(d.texts) as u (id) cross join lateral (
  select * from message where id = u.id and texteq(state, 'submitting') offset 0) as t`;
