import ical from 'ical-generator';
import type { TaskRow } from '@/db/tasks/tasks';

/** Tasks as a calendar (RFC 5545): each as an event at the moment it is due, so that every calendar shows it. */
export function calendarOf(name: string, tasks: readonly TaskRow[], address: (id: string) => string): string {
  const calendar = ical({ name, prodId: { company: 'Steady Wren', product: 'Tasks' } });
  for (const { id, title, about, due_at: due, note, person_id: person } of tasks)
    calendar.createEvent({
      id,
      start: due,
      end: new Date(due.getTime() + 15 * 60_000),
      summary: about ? `${title}: ${about}` : title,
      ...(note ? { description: note } : {}),
      ...(person ? { url: address(person) } : {}),
    });
  return calendar.toString();
}
