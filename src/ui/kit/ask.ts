/** Asks the server a question a screen has while somebody works on it. Throws with the sentence it answers. */
export async function askServer<T>(path: string, body: object, signal?: AbortSignal): Promise<T> {
  return answerOf<T>(await post(path, body, signal));
}

/** The same of one whose answer may take its time: `onStep` hears what is known so far. */
export async function askInSteps<T, Step>(
  path: string,
  body: object,
  signal: AbortSignal,
  onStep: (step: Step) => void,
): Promise<T> {
  const response = await post(path, body, signal);
  return response.headers.get('content-type')?.startsWith('application/jsonl')
    ? lastOf<T, Step>(response, onStep)
    : answerOf<T>(response);
}

const post = (path: string, body: object, signal?: AbortSignal): Promise<Response> =>
  fetch(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal: signal ?? null,
  });

const NO_ANSWER = 'The server could not answer. Try again.';

async function answerOf<T>(response: Response): Promise<T> {
  const json = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(json.message ?? NO_ANSWER);
  return json;
}

/** A line of JSON for each step, and one for the answer or why there is none. */
async function lastOf<T, Step>({ body }: Response, onStep: (step: Step) => void): Promise<T> {
  const reader = body!.getReader();
  const decoder = new TextDecoder();
  let rest = '';
  for (;;) {
    const { value, done } = await reader.read();
    // Cut off in the middle.
    if (done) throw new Error(NO_ANSWER);
    const lines = (rest + decoder.decode(value, { stream: true })).split('\n');
    rest = lines.pop()!;
    for (const line of lines) {
      const told = JSON.parse(line) as { step?: Step; answer?: T; message?: string };
      if (told.step !== undefined) onStep(told.step);
      else if (told.answer !== undefined) return told.answer;
      else throw new Error(told.message ?? NO_ANSWER);
    }
  }
}
