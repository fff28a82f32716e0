import { displayNumber } from '@/core/phone/number';
import { findRows, type Found } from '@/db/kit/find';
import type { Scope } from '@/services/kit/scope';
import { ROOMS } from './rooms';

const KINDS = ROOMS.flatMap(({ finds = [] }) => finds);

/** So many digits may be a part of a number. */
const OF_A_NUMBER = 3;

/** Whatever a room has that is called so, and this teammate may see. */
export async function findAnything(scope: Scope, viewer: string, typed: string): Promise<Found[]> {
  const digits = typed.replace(/\D/g, '');
  const found = await findRows(scope, KINDS, {
    search: typed.replace(/[\\%_]/g, (char) => `\\${char}`),
    digits: digits.length >= OF_A_NUMBER ? digits : '',
    viewer,
  });
  return found.map((one) => (/^\+\d+$/.test(one.label) ? { ...one, label: displayNumber(one.label) } : one));
}
