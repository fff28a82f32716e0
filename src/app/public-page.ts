import { readLimited } from './read-limited';
import { cleanText } from '@/core/shared/clean-text';

/**
 * What a page for anybody may load: its own styles, one script of ours, pictures of ours. A form may stand in a frame of
 * any site, since it knows nobody: what is sent by it is proved by text. Source: Content Security Policy Level 3.
 */
const policyOf = (framed: boolean): string =>
  [
    `default-src 'none'`,
    `style-src 'unsafe-inline'`,
    `script-src 'self'`,
    `img-src 'self'`,
    `connect-src 'self'`,
    `form-action 'self'`,
    `base-uri 'none'`,
    `frame-ancestors ${framed ? '*' : `'none'`}`,
  ].join('; ');

/** What goes along with a page for anybody. */
export const publicHeaders = ({ framed }: { framed: boolean }): Record<string, string> => ({
  ...{ 'content-type': 'text/html; charset=utf-8', 'cache-control': 'no-store' },
  ...{ 'content-security-policy': policyOf(framed), 'referrer-policy': 'strict-origin' },
  ...{ 'x-content-type-options': 'nosniff' },
});

/** A page of ours for anybody. */
export const publicPage = (html: string, status: number, framed: { framed: boolean }): Response =>
  new Response(html, { status, headers: publicHeaders(framed) });

export const NO_SUCH_PAGE =
  '<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>Not here</title><main><h1>There is no such page</h1><p>Check the address, or ask whoever gave it to you.</p></main></html>';

export const noSuchPage = (): Response => publicPage(NO_SUCH_PAGE, 404, { framed: true });

/** Far more than any form of ours holds. */
export const LARGEST_FORM = 32 * 1024;
const MOST_VALUES = 200;

/** How a form of a page is sent. */
export const isForm = (type: string | null | undefined): boolean =>
  type?.startsWith('application/x-www-form-urlencoded') ?? false;

/** What was typed into a form, by name; several choices of one name are one line each. Null: it is none, or too large. */
export async function typedInto(request: Request): Promise<Record<string, string> | null> {
  if (!isForm(request.headers.get('content-type'))) return null;
  const body = await readLimited(request, LARGEST_FORM);
  return body && typedOf(body);
}

/** The same of a body. */
export function typedOf(body: Buffer): Record<string, string> {
  const typed: Record<string, string> = Object.create(null) as Record<string, string>;
  for (const [name, value] of [...new URLSearchParams(body.toString('utf8'))].slice(0, MOST_VALUES))
    typed[name] = name in typed ? `${typed[name]}\n${cleanText(value)}` : cleanText(value);
  return typed;
}
