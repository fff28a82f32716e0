import { readTarget } from '@/core/link/target';
import { looker, type Looked } from '@/gateways/links/look';
import { webhookHosts } from '@/services/kit/settings';

/** What was found is believed for so long: somebody who types does not call a page at every key. */
const BELIEVED_MS = 10 * 60_000;
const MOST_REMEMBERED = 500;
const MOST_AT_ONCE = 10;

const found = new Map<string, { at: number; looked: Promise<Looked> }>();

/**
 * Looks whether pages answer where the links of a draft lead. The machine's clock and memory are good enough for what
 * is looked at again before long anyway.
 */
export async function lookAtTargets(
  addresses: readonly string[],
): Promise<{ text: string; looked: Looked }[]> {
  const look = looker(webhookHosts());
  return Promise.all(
    addresses.slice(0, MOST_AT_ONCE).map(async (text) => {
      const target = readTarget(text);
      if (!target.ok) return { text, looked: { kind: 'dead' as const, why: 'it is no page' } };
      return { text, looked: await remembered(target.value, look) };
    }),
  );
}

function remembered(url: string, look: (url: string) => Promise<Looked>): Promise<Looked> {
  const now = Date.now();
  const known = found.get(url);
  if (known && now - known.at < BELIEVED_MS) return known.looked;
  if (found.size >= MOST_REMEMBERED) found.clear();
  const looked = look(url);
  found.set(url, { at: now, looked });
  return looked;
}
