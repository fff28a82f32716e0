import { Link } from '@/ui/kit/link';
import type { Condition } from '@/core/audience/condition';
import { displayNumber } from '@/core/phone/number';

export interface NamedPerson {
  /** What they are called by when no name is known. */
  address: string | null;
  first_name: string | null;
  last_name: string | null;
}

/** A person's name, else their number as people write it, else their e-mail address. */
export const personName = ({ first_name, last_name, address }: NamedPerson): string =>
  [first_name, last_name].filter(Boolean).join(' ') || displayNumber(address) || 'nobody known';

export function PersonLink({ id, person }: { id: string; person: NamedPerson }) {
  return (
    <Link href={`/people/${id}`} className="link [overflow-wrap:anywhere]">
      {personName(person)}
    </Link>
  );
}

/** The address of the people who meet a condition. */
const cutHref = (condition: Condition): string =>
  `/people?cut=${encodeURIComponent(JSON.stringify(condition))}`;

/** Those who are in a program, or who left it. */
export const membersHref = (program: string, state: 'in' | 'out'): string =>
  cutHref({ all: [{ ask: 'consent', program, state, has: true }] });
