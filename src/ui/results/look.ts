/** What a page of results is asked for, as it stands in its address. */
export interface Look {
  days?: string | undefined;
  from?: string | undefined;
  to?: string | undefined;
  program?: string | undefined;
  channel?: string | undefined;
}

const NAMES = ['days', 'from', 'to', 'program', 'channel'] as const;

/** What an address asks for; whatever else stands in it is left out. */
export const lookOf = (params: Record<string, string | string[] | undefined>): Look =>
  Object.fromEntries(
    NAMES.flatMap((name) => {
      const value = params[name];
      return typeof value === 'string' && value !== '' ? [[name, value]] : [];
    }),
  );

/** The address of a page of results for what is looked at, and more. */
export function resultsHref(path: string, look: Look, more: Record<string, string | undefined> = {}): string {
  const query = new URLSearchParams();
  for (const [name, value] of Object.entries({ ...look, ...more })) if (value) query.set(name, value);
  const words = query.toString();
  return words === '' ? path : `${path}?${words}`;
}
