import { NextResponse, type NextRequest } from 'next/server';

/**
 * No id, name or search in this application holds a null character, and PostgreSQL refuses one in a text: an
 * address with one leads nowhere, rather than to an error. The API answers for itself.
 */
export function proxy(request: NextRequest): NextResponse {
  const { pathname, search } = request.nextUrl;
  return /%00|\0/.test(pathname + search)
    ? NextResponse.rewrite(new URL('/nowhere', request.url))
    : NextResponse.next();
}

export const config = { matcher: ['/((?!_next/|api/).*)'] };
