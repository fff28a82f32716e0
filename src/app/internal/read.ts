import { may, type Permission } from '@/core/access/roles';
import type { Result } from '@/core/shared/result';
import { cleanText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { refusalOf } from '@/services/kit/database-refusal';
import { getContext } from '@/services/runtime';
import { withWorkspace } from '@/services/runtime';
import type { Scope } from '@/services/kit/scope';
import type { SignedIn } from '@/services/access/sessions';
import type { Refusal } from '@/services/kit/validation';
import { currentSession } from '../session';

const LARGEST = 64 * 1024;

/** A question a screen asks while somebody works on it: signed in, same site, JSON in and out. */
export async function answerScreen(
  request: Request,
  ask: (
    scope: Scope,
    session: SignedIn,
    now: number,
    body: Record<string, string | null>,
  ) => Promise<Result<object, Refusal>>,
  largest = LARGEST,
  permission: Permission = 'read',
): Promise<Response> {
  const session = await currentSession();
  if (!session || !may(session.role, permission))
    return Response.json({ message: 'Sign in again.' }, { status: 401 });
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const text = request.method === 'POST' ? await request.text() : '{}';
  if (text.length > largest) return Response.json({ message: 'That is too long.' }, { status: 413 });
  const body = parse(text);
  if (!body) return Response.json({ message: 'Send a JSON object.' }, { status: 400 });
  const now = (await getContext()).now();
  const result = await withWorkspace(session.workspaceId, (scope) => ask(scope, session, now, body)).catch(
    (error: unknown) => {
      const refusal = refusalOf(error);
      if (refusal) return refusal;
      throw error;
    },
  );
  if (result.ok) return Response.json(result.value);
  return Response.json(
    { message: result.reason.problems.map(({ message }) => message).join(' ') },
    { status: 422 },
  );
}

function parse(text: string): Record<string, string | null> | null {
  const json = parseJson(text);
  if (!json.ok || typeof json.value !== 'object' || json.value === null || Array.isArray(json.value))
    return null;
  return Object.fromEntries(
    Object.entries(json.value).map(([name, one]) => [name, one === null ? null : cleanText(wordOf(one))]),
  );
}

/** What a screen sends is texts and nulls; anything else is taken as its JSON, never as an object's own idea of text. */
const wordOf = (value: unknown): string => (typeof value === 'string' ? value : JSON.stringify(value));
