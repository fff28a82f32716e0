import type { LineType } from '@/core/people/address';

/** Asks what kind of line numbers are. Unknown ones, and all of them when nobody answers, are left out of the map. */
export interface LineLookup {
  lookUp(numbers: readonly string[]): Promise<Map<string, LineType>>;
}

interface Answer {
  numbers?: { number: string; line_type: string }[];
}

const AT_ONCE = 1_000;
const PATIENCE_MS = 10_000;
const TYPES: readonly string[] = ['mobile', 'landline', 'voip'];

/** A look-up service over HTTP: `POST /lookup {"numbers": […]}` answers `{"numbers": [{"number", "line_type"}]}`. */
export function httpLookup(url: string): LineLookup {
  return {
    async lookUp(numbers) {
      const found = new Map<string, LineType>();
      for (let i = 0; i < numbers.length; i += AT_ONCE) {
        const response = await fetch(new URL('/lookup', url), {
          method: 'POST',
          headers: { 'content-type': 'application/json' },
          body: JSON.stringify({ numbers: numbers.slice(i, i + AT_ONCE) }),
          signal: AbortSignal.timeout(PATIENCE_MS),
        }).catch(() => null);
        const answer = response?.ok ? ((await response.json().catch(() => null)) as Answer | null) : null;
        if (!Array.isArray(answer?.numbers)) return found;
        for (const { number, line_type: type } of answer.numbers)
          if (TYPES.includes(type)) found.set(number, type as LineType);
      }
      return found;
    },
  };
}

/** Without a service nothing is known. */
export const noLookup: LineLookup = { lookUp: () => Promise.resolve(new Map()) };
