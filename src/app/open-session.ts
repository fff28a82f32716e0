import { cookies, headers } from 'next/headers';
import type { Origin } from '@/services/access/sessions';
import { ADDRESS_HEADER } from './address-header';
import { COOKIE } from './session';

/** Where a password is tried from: the web process writes where the request came from, whatever it said itself. */
export async function originOf(): Promise<Origin> {
  const sent = await headers();
  return { address: sent.get(ADDRESS_HEADER) ?? 'local', userAgent: sent.get('user-agent') ?? '' };
}

/** Keeps the token of a session with the browser. */
export async function keepSession(token: string): Promise<void> {
  (await cookies()).set(COOKIE, token, {
    httpOnly: true,
    sameSite: 'lax',
    path: '/',
    maxAge: 14 * 86_400,
    secure: process.env.WREN_SECURE_COOKIES === '1',
  });
}
