import { NextResponse, type NextRequest } from 'next/server';

/**
 * What a page may load and run: its own files, and scripts that carry the nonce of this answer. Styles may stand in the
 * page: the text editor and charts write some. Source: Content Security Policy Level 3.
 */
const policyOf = (nonce: string): string =>
  [
    `default-src 'self'`,
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic'`,
    `style-src 'self' 'unsafe-inline'`,
    `img-src 'self' blob: data:`,
    `worker-src 'self' blob:`,
    // What was recorded is heard before it is kept.
    `media-src 'self' blob:`,
    `object-src 'none'`,
    `base-uri 'none'`,
    `form-action 'self'`,
    `frame-ancestors 'none'`,
  ].join('; ');

/** Every page gets a policy of its own. The framework finds the nonce in the request and puts it on its scripts. */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(crypto.randomUUID());
  const policy = policyOf(nonce);
  const headers = new Headers(request.headers);
  headers.set('content-security-policy', policy);
  const response = NextResponse.next({ request: { headers } });
  response.headers.set('content-security-policy', policy);
  return response;
}

/** Not the upload: what passes through here is held in memory and cut off at ten megabytes. */
export const config = {
  matcher: ['/((?!_next/|api/|internal/|live|health|l/|f/|p/|m/|people/imports/upload).*)'],
};
