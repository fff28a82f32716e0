import Link from 'next/link';
import { displayNumber } from '@/core/phone/number';

export interface NamedPerson {
  number: string;
  first_name: string | null;
  last_name: string | null;
}

/** A person's name, else their number as people write it. */
export const personName = ({ first_name, last_name, number }: NamedPerson): string =>
  [first_name, last_name].filter(Boolean).join(' ') || displayNumber(number);

export function PersonLink({ id, person }: { id: string; person: NamedPerson }) {
  return (
    <Link href={`/people/${id}`} className="link [overflow-wrap:anywhere]">
      {personName(person)}
    </Link>
  );
}
