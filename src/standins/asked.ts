import type { IncomingMessage, ServerResponse } from 'node:http';

export type Said = [status: number, body: unknown];

export const problem = (status: number, reason: string, detail: string): Said => [
  status,
  { title: 'Not taken', status, reason, detail },
];

/** How the line to an interface is: up; busy, answers 503; down, hangs up before it reads; cuts, takes what is put and hangs up. */
export const LINES = ['up', 'busy', 'down', 'cuts'] as const;
export type Line = (typeof LINES)[number];

/** One question to an interface that knows its accounts by a token and is spoken to in JSON; `path` begins with /accounts. */
export async function takeAsked<Account extends { id: string; token: string }>(
  request: IncomingMessage,
  response: ServerResponse,
  {
    path,
    line,
    accounts,
    answer,
  }: {
    path: string;
    line: Line;
    accounts: readonly Account[];
    answer(account: Account, method: string, rest: string, body: Record<string, unknown>): Said;
  },
): Promise<void> {
  if (line === 'down') return void request.socket.destroy();
  const chunks: Buffer[] = [];
  for await (const chunk of request as AsyncIterable<Buffer>) chunks.push(chunk);
  const [, id, rest = ''] = /^\/accounts\/([^/]+)(\/.*)?$/.exec(path) ?? [];
  const account = accounts.find((one) => one.id === decodeURIComponent(id ?? ''));
  const say = ([status, body]: Said) => {
    const type = status >= 400 ? 'application/problem+json' : 'application/json';
    response.writeHead(status, { 'content-type': type }).end(body === null ? '' : JSON.stringify(body));
  };
  if (!account || request.headers.authorization !== `Bearer ${account.token}`)
    return say(problem(401, 'unknown-account', 'No account is known by this token.'));
  if (line === 'busy') return say(problem(503, 'busy', 'Too much at once.'));
  let body: Record<string, unknown> = {};
  try {
    const text = Buffer.concat(chunks).toString('utf8');
    if (text) body = JSON.parse(text) as Record<string, unknown>;
  } catch {
    return say(problem(400, 'unreadable', 'The body is no JSON.'));
  }
  const said = answer(account, request.method ?? '', rest, body);
  if (line === 'cuts' && request.method === 'PUT' && rest !== '/callbacks')
    return void request.socket.destroy();
  say(said);
}
