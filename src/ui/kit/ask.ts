/** Asks the server a question a screen has while somebody works on it. Throws with the sentence it answers. */
export async function askServer<T>(path: string, body: object, signal?: AbortSignal): Promise<T> {
  const response = await fetch(path, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
    signal: signal ?? null,
  });
  const json = (await response.json()) as T & { message?: string };
  if (!response.ok) throw new Error(json.message ?? 'The server could not answer. Try again.');
  return json;
}
