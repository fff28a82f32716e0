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
import type { Watch } from '@/services/kit/watch';
import { log } from '@/log/log';
import { AS_IT_COMES } from '../as-it-comes';
import { currentSession } from '../session';

const LARGEST = 64 * 1024;

interface Asked {
  session: SignedIn;
  now: number;
  body: Record<string, string | null>;
}

type Answer = Result<object, Refusal>;

/** A question a screen asks while somebody works on it: signed in, same site, JSON in and out. */
export async function answerScreen(
  request: Request,
  ask: (
    scope: Scope,
    session: SignedIn,
    now: number,
    body: Record<string, string | null>,
    /** Aborted once nobody waits for the answer. */
    signal: AbortSignal,
  ) => Promise<Answer>,
  largest = LARGEST,
  permission: Permission = 'read',
): Promise<Response> {
  const asked = await readAsked(request, largest, permission);
  if (asked instanceof Response) return asked;
  const { session, now, body } = asked;
  const { signal } = request;
  try {
    return answered(await workOn(session, (scope) => ask(scope, session, now, body, signal)));
  } catch (error) {
    if (isGivenUp(error, signal)) return gone();
    throw error;
  }
}

/**
 * A question whose answer takes its time. What is known so far is told meanwhile: then a line of JSON for each step (`step`)
 * and one for the answer (`answer`) or why there is none (`message`). Whoever asks something else ends the work.
 */
export async function answerInSteps<Step extends object>(
  request: Request,
  ask: (scope: Scope, asked: Asked, watch: Watch<Step>) => Promise<Answer>,
): Promise<Response> {
  const asked = await readAsked(request, LARGEST, 'read');
  if (asked instanceof Response) return asked;
  const left = new AbortController();
  request.signal.addEventListener('abort', () => left.abort());
  const lines = new Lines(() => left.abort());
  const answer = workOn(asked.session, (scope) =>
    ask(scope, asked, { tell: (step) => lines.write({ step }), signal: left.signal }),
  );
  const whole = answer.then(
    (result) => {
      if (!lines.begun) return answered(result);
      lines.end(result.ok ? { answer: result.value } : { message: sentenceOf(result.reason) });
      return null;
    },
    (error: unknown) => {
      if (isGivenUp(error, left.signal)) return gone();
      if (!lines.begun) throw error;
      log.error({ err: error }, 'A question of a screen could not be answered.');
      lines.end({ message: 'The server could not answer. Try again.' });
      return null;
    },
  );
  const first = await Promise.race([whole, lines.opened]);
  return first ?? lines.opened;
}

/** Ended because nobody waits. A fault that meets somebody who just left is a fault. */
const isGivenUp = (error: unknown, signal: AbortSignal): boolean => signal.aborted && error === signal.reason;

/** Nobody waits for it: no status of the standard says so. */
const gone = (): Response => new Response(null, { status: 499 });

/** Lines of JSON that are written as they come. */
class Lines {
  begun = false;
  readonly opened: Promise<Response>;
  #open!: (response: Response) => void;
  #to: ReadableStreamDefaultController<Uint8Array> | null = null;

  constructor(private readonly onLeft: () => void) {
    this.opened = new Promise((resolve) => (this.#open = resolve));
  }

  write(line: object): void {
    if (!this.begun) this.#begin();
    this.#to?.enqueue(new TextEncoder().encode(`${JSON.stringify(line)}\n`));
  }

  end(line: object): void {
    this.write(line);
    this.#to?.close();
  }

  #begin(): void {
    this.begun = true;
    const stream = new ReadableStream<Uint8Array>({
      start: (controller) => void (this.#to = controller),
      cancel: () => {
        this.#to = null;
        this.onLeft();
      },
    });
    const headers = { 'content-type': 'application/jsonl', ...AS_IT_COMES };
    this.#open(new Response(stream, { headers }));
  }
}

async function readAsked(
  request: Request,
  largest: number,
  permission: Permission,
): Promise<Asked | Response> {
  const session = await currentSession();
  if (!session || !may(session.role, permission))
    return Response.json({ message: 'Sign in again.' }, { status: 401 });
  if (request.headers.get('sec-fetch-site') === 'cross-site')
    return Response.json({ message: 'Not from another site.' }, { status: 403 });
  const text = request.method === 'POST' ? await request.text() : '{}';
  if (text.length > largest) return Response.json({ message: 'That is too long.' }, { status: 413 });
  const body = parse(text);
  if (!body) return Response.json({ message: 'Send a JSON object.' }, { status: 400 });
  return { session, now: (await getContext()).now(), body };
}

const workOn = (session: SignedIn, work: (scope: Scope) => Promise<Answer>): Promise<Answer> =>
  withWorkspace(session.workspaceId, work).catch((error: unknown) => {
    const refusal = refusalOf(error);
    if (refusal) return refusal;
    throw error;
  });

const answered = (result: Answer): Response =>
  result.ok
    ? Response.json(result.value)
    : Response.json({ message: sentenceOf(result.reason) }, { status: 422 });

const sentenceOf = ({ problems }: Refusal): string => problems.map(({ message }) => message).join(' ');

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
