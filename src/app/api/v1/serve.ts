import { log } from '@/log/log';
import { readLimited } from '../../read-limited';
import { cleanText, cutText } from '@/core/shared/clean-text';
import { parseJson } from '@/core/shared/json';
import { refusalOf } from '@/services/kit/database-refusal';
import { createHash } from 'node:crypto';
import { scopeFor } from '@/core/access/scopes';
import { shownPath } from '@/log/path';
import { noteCall, workspaceOfKey, type KeyHolder } from '@/services/access/api-keys';
import { mostAMinute, takeTurn } from './turns';
import { countPress, rememberAnswer } from '@/services/kit/press';
import { getContext } from '@/services/runtime';
import { withWorkspace } from '@/services/runtime';
import { readInput, type FieldProblem, type Refusal } from '@/services/kit/validation';
import { openApiDocument } from './openapi';
import type { Call, Endpoint } from '@/services/kit/api';
import { ROOMS } from '@/services/rooms';
import { problem, STATUS_OF } from './problems';

/** Every endpoint of the public API, as the rooms list them. */
const ENDPOINTS: readonly Endpoint[] = ROOMS.flatMap(({ api = [] }) => api);

const LARGEST_BODY = 256 * 1024;

/** Answers every request under /api/v1: key, route, body, use case, in this order. */
export async function serveApi(request: Request): Promise<Response> {
  try {
    return await noted(request);
  } catch (error) {
    log.error({ err: error }, 'An API request failed.');
    return problem(
      500,
      'Something failed here',
      'The request was not carried out. Try again; nothing was half done.',
    );
  }
}

/** The document, made when it is first asked for. */
let described: object | null = null;

/** Whose key it is, how often it came, what was answered: written down for whoever looks after the key. */
async function noted(request: Request): Promise<Response> {
  const url = new URL(request.url);
  const path = url.pathname.replace(/^\/api\/v1/, '').replace(/\/$/, '');
  if (path === '/openapi.json' && request.method === 'GET')
    return Response.json((described ??= openApiDocument(ENDPOINTS)));
  const { orm } = await getContext();
  const key =
    /^Bearer (\S+)$/i.exec(request.headers.get('authorization') ?? '')?.[1] ??
    request.headers.get('x-api-key');
  const holder = key ? await workspaceOfKey(orm, key) : null;
  if (!holder)
    return problem(
      401,
      'No valid API key',
      'Send "Authorization: Bearer <key>". Keys are made under Developers.',
      [],
      { 'www-authenticate': 'Bearer' },
    );
  const began = Date.now();
  const turn = await takeTurn(holder.keyId);
  const response = turn.ok ? await answer(request, url, path, holder) : tooMany(turn.headers);
  for (const [name, value] of Object.entries(turn.headers)) response.headers.set(name, value);
  // What was carried out stays so, whether it could be written down or not.
  await noteCall(orm, {
    ...{ workspaceId: holder.workspaceId, keyId: holder.keyId, at: new Date(began) },
    ...{ method: request.method, path: shownPath(path), status: response.status, ms: Date.now() - began },
    request: request.headers.get('x-request-id'),
  }).catch((error: unknown) => log.error({ err: error }, 'A request of a key could not be written down.'));
  return response;
}

const tooMany = (headers: Record<string, string>): Response =>
  problem(
    429,
    'Too many requests',
    `This key may ask ${mostAMinute()} times a minute. Go on in ${headers['retry-after']} seconds.`,
  );

async function answer(request: Request, url: URL, path: string, holder: KeyHolder): Promise<Response> {
  const matched = matchRoute(request.method, path);
  if (matched === null)
    return problem(404, 'Not found', `There is nothing at ${path}. See /api/v1/openapi.json.`);
  if ('allowed' in matched)
    return problem(405, 'Method not allowed', `Use ${matched.allowed.join(' or ')} here.`, [], {
      allow: matched.allowed.join(', '),
    });
  const needs = scopeFor(request.method, matched.route.path);
  if (holder.scopes && (needs === null || !holder.scopes.includes(needs)))
    return problem(
      403,
      'This key may not do that',
      `The key “${holder.name}” has not the scope ${needs ?? 'everything'}. Make one that has it under Developers.`,
    );
  const page = readPage(url);
  if (!('limit' in page)) return refused(page);
  const body = await readBody(request, matched.route);
  if (body instanceof Response) return body;
  return run(matched, body, {
    page,
    press: pressOf(request, holder.keyId),
    workspaceId: holder.workspaceId,
    actor: { name: `key:${holder.name}`, accountId: null },
  });
}

interface Caller {
  /** Null: the request may be carried out as often as it comes. */
  press: string | null;
  page: Call['page'];
  workspaceId: string;
  actor: Call['actor'];
}

/**
 * A request that makes something and carries an `Idempotency-Key` counts once: sent again it gets the first answer.
 * Source: the header as the IETF's working group on HTTP APIs drafts it.
 */
function pressOf(request: Request, keyId: string): string | null {
  const given = request.method === 'POST' ? cutText(request.headers.get('idempotency-key') ?? '', 120) : '';
  return given === '' ? null : `${keyId} ${new URL(request.url).pathname} ${given}`;
}

const OTHER_BODY: Refusal = {
  code: 'invalid',
  problems: [
    {
      field: 'Idempotency-Key',
      message: 'Idempotency-Key: came before with another body. Use a new key for a new request.',
    },
  ],
};

/** A refusal rolls back: what a use case wrote before it noticed is not kept. */
class Refused extends Error {
  constructor(readonly refusal: Refusal) {
    super('refused');
  }
}

async function run(
  { route, id }: Matched,
  body: object,
  { page, press, workspaceId, actor }: Caller,
): Promise<Response> {
  const ctx = await getContext();
  const input = route.input ? await readInput(route.input, body) : null;
  if (input && !input.ok) return refused(input.reason);
  try {
    const value = await withWorkspace(workspaceId, async (scope) => {
      const said =
        press === null ? null : createHash('sha256').update(JSON.stringify(body)).digest('base64url');
      const pressed = press === null ? null : await countPress(ctx, scope, press, said);
      if (pressed && !pressed.first) {
        if (!pressed.same) throw new Refused(OTHER_BODY);
        return pressed.answer;
      }
      const result = await route.handle({ ctx, scope, id, input: input?.value, page, actor });
      if (!result.ok) throw new Refused(result.reason);
      if (press !== null) await rememberAnswer(scope, press, result.value);
      return result.value;
    });
    return route.status === 204
      ? new Response(null, { status: 204 })
      : Response.json(value, { status: route.status });
  } catch (error) {
    if (error instanceof Refused) return refused(error.refusal);
    const refusal = refusalOf(error);
    if (refusal) return refused(refusal.reason);
    throw error;
  }
}

const refused = ({ code, problems }: Refusal): Response => {
  const { status, title } = STATUS_OF[code];
  return problem(status, title, problems.map(({ message }) => message).join(' '), problems);
};

interface Matched {
  route: Endpoint;
  id: string;
}

const PATHS = ENDPOINTS.map((route) => ({
  route,
  pattern: new RegExp(`^${route.path.replace('{id}', '([^/]+)')}$`),
}));

function matchRoute(method: string, path: string): Matched | { allowed: string[] } | null {
  const here = PATHS.flatMap(({ route, pattern }) => {
    const match = pattern.exec(path);
    return match ? [{ route, id: safeDecode(match[1] ?? '') }] : [];
  });
  if (here.length === 0) return null;
  return (
    here.find(({ route }) => route.method === method) ?? { allowed: here.map(({ route }) => route.method) }
  );
}

/** An id that cannot be decoded, or holds what no id holds, is simply not there. */
function safeDecode(text: string): string {
  try {
    const id = decodeURIComponent(text);
    return id === cleanText(id) ? id : '';
  } catch {
    return '';
  }
}

function readPage(url: URL): Call['page'] | Refusal {
  const limit = url.searchParams.get('limit') ?? '50';
  if (!/^\d+$/.test(limit) || Number(limit) < 1 || Number(limit) > 200)
    return wrong('limit', 'limit: must be a whole number from 1 to 200.');
  const after = url.searchParams.get('after') ?? '';
  if (after.length > 60 || after !== cleanText(after))
    return wrong('after', 'after: must be the "next" of the page before.');
  return { after, limit: Number(limit) };
}

const wrong = (field: string, message: string): Refusal => ({
  code: 'invalid',
  problems: [{ field, message } satisfies FieldProblem],
});

/** The JSON body, read no further than it may be large. */
async function readBody(request: Request, route: Endpoint): Promise<object | Response> {
  if (!route.input) return {};
  const { largest = LARGEST_BODY } = route;
  const body = await readLimited(request, largest);
  if (body === null)
    return problem(
      413,
      'Body too large',
      `body: larger than ${Math.floor(largest / 1024)} kB. Send less at once.`,
      [{ field: 'body', message: 'body: too large.' }],
    );
  if (body.length === 0) return {};
  const json = parseJson(body.toString('utf8'));
  if (json.ok) return json.value as object;
  const message = NOT_JSON[json.reason];
  return problem(400, 'Not JSON', message, [{ field: 'body', message }]);
}

const NOT_JSON = {
  'not-json': 'body: is not valid JSON. Send a JSON object.',
  'too-deep': 'body: is nested deeper than any document here. Send a flat JSON object.',
};
