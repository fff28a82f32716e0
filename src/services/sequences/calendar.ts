import ical from 'ical-generator';
import { DEED_WORDS } from '@/core/sequence/words';
import { cutText } from '@/core/shared/clean-text';
import type { AheadView } from './ahead';

/** What is ahead of somebody as a calendar (RFC 5545). */
export function aheadCalendar(ahead: readonly AheadView[]): string {
  const calendar = ical({ name: 'Ahead', prodId: { company: 'Steady Wren', product: 'Ahead' } });
  for (const { at, name, what, words, enrolment_id: enrolment, line, message_id: message } of ahead)
    calendar.createEvent({
      id: message ?? `${enrolment}.${line}`,
      ...{ start: new Date(at), end: new Date(Date.parse(at) + 60_000) },
      summary: `${DEED_WORDS[what as keyof typeof DEED_WORDS] ?? what}: ${cutText(words, 80)}`,
      description: `${name}\n\n${words}`,
    });
  return calendar.toString();
}
