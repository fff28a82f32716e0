import { ok, refuse, type Result } from '../shared/result';
import { checkBy } from '../shared/schema';
import { LONGEST_HEADLINE, LONGEST_WORDS, POSTER_FORMAT, type PosterDocument } from './document';
import schema from './schema.json';

const checkOf = checkBy<PosterDocument>(schema);

/** Reads a poster from JSON that may be anything. A refusal is a sentence that names the field and the remedy. */
export function parsePoster(data: unknown): Result<PosterDocument, string> {
  const { format, headline, words } = (data ?? {}) as Partial<Record<keyof PosterDocument, unknown>>;
  if (typeof format === 'string' && format !== POSTER_FORMAT)
    return refuse(`format: this is "${format}"; what is read here is "${POSTER_FORMAT}".`);
  if (typeof headline === 'string' && headline.length > LONGEST_HEADLINE)
    return refuse(`headline: at most ${LONGEST_HEADLINE} characters are read in passing. Say it in fewer.`);
  if (typeof words === 'string' && words.length > LONGEST_WORDS)
    return refuse(`words: at most ${LONGEST_WORDS} characters are read in passing. Say it in fewer.`);
  const check = checkOf();
  if (check(data)) return ok(data);
  const [first] = check.errors ?? [];
  const where = first?.instancePath.slice(1).replaceAll('/', '.') || 'document';
  return refuse(`${where}: ${first?.message ?? 'is wrong'}.`);
}
