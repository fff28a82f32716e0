import { clean } from '../people/values';
import { readFileNumber } from './number-cell';
import { readCard } from './vcard';

/** What a code on a card says: a vCard, a `tel:` link, or a bare number. */
export interface Scanned {
  number: string;
  first_name: string;
  last_name: string;
  email: string;
}

/** Null: the code holds neither a card with a number nor a number. */
export function readCode(text: string, country = 'US'): Scanned | null {
  if (/BEGIN:VCARD/i.test(text)) {
    const cells = readCard(text.trim());
    if (!cells) return null;
    const [first = '', last = '', phone = '', email = ''] = cells;
    const number = readFileNumber(phone, country);
    return number.ok ? { number: number.value.number, first_name: first, last_name: last, email } : null;
  }
  const number = readFileNumber(clean(text).replace(/^(tel|sms|smsto):/i, ''), country);
  return number.ok ? { number: number.value.number, first_name: '', last_name: '', email: '' } : null;
}
