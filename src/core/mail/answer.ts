const QUOTE = /^\s*>/;
const SIGNATURE = /^-- ?$/;
/** Lines that begin what is quoted, in the languages mail programs are most set to. */
const INTRODUCTIONS = [
  /^on\b.{0,200}\bwrote:\s*$/i,
  /^am\b.{0,200}\bschrieb\b.{0,120}:\s*$/i,
  /^el\b.{0,200}\bescribi[óo]:\s*$/i,
  /^le\b.{0,200}\ba écrit\s*:\s*$/i,
  /^il\b.{0,200}\bha scritto:\s*$/i,
  /^-{2,}\s*(original message|forwarded message|ursprüngliche nachricht|mensaje original|message d['’]origine)\s*-{2,}\s*$/i,
  /^_{10,}\s*$/,
];
/** The head of a letter that is quoted whole, as some programs put it there: who wrote it, and two of what follows. */
const WROTE = /^\*?(?:from|von|de|da|van|fra)\s?:\*?\s*\S/i;
const HEAD =
  /^\*?(?:sent|date|to|cc|subject|gesendet|datum|an|betreff|enviado(?: el)?|fecha|para|asunto|envoyé|à|objet|inviato|data|a|oggetto)\s?:/i;

const quotesHead = (lines: readonly string[], at: number): boolean =>
  WROTE.test(lines[at]!.trim()) &&
  lines.slice(at + 1, at + 5).filter((line) => HEAD.test(line.trim())).length >= 2;

const SENT_FROM = /^(sent from my|von meinem .{1,40} gesendet|enviado desde mi|envoyé de mon)\b/i;

/** The words of an answer. When nothing is left of them, the whole stands: somebody may have written between the lines. */
export function ownWords(text: string): string {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  const own: string[] = [];
  for (const [i, line] of lines.entries()) {
    // An introduction that a program folded over two lines.
    const two = `${line.trim()} ${(lines[i + 1] ?? '').trim()}`;
    if (
      SIGNATURE.test(line) ||
      quotesHead(lines, i) ||
      INTRODUCTIONS.some((begins) => begins.test(line.trim()) || begins.test(two))
    )
      break;
    if (!QUOTE.test(line) && !SENT_FROM.test(line.trim())) own.push(line);
  }
  const words = own
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();
  return words || text.trim();
}

/** Whether a machine wrote it: it starts nothing and is answered by nobody. Source: RFC 3834. */
export function isAutomatic(headers: ReadonlyMap<string, string>): boolean {
  const submitted = headers.get('auto-submitted')?.toLowerCase() ?? 'no';
  return (
    (submitted !== '' && submitted !== 'no' && !submitted.startsWith('no;')) ||
    headers.has('x-autoreply') ||
    headers.has('x-autorespond') ||
    /^(bulk|junk|list|auto_reply)$/i.test(headers.get('precedence')?.trim() ?? '')
  );
}

/**
 * Whether a machine answers in somebody's place, so that answering it would go on for ever. A portal's letters are written by
 * machines too (`auto-generated`), and are none of these. Source: RFC 3834, 5.
 */
export const isAutoReply = (headers: ReadonlyMap<string, string>, subject: string): boolean =>
  (headers.get('auto-submitted') ?? '').toLowerCase().startsWith('auto-replied') ||
  headers.has('x-autoreply') ||
  headers.has('x-autorespond') ||
  /^auto_reply$/i.test(headers.get('precedence')?.trim() ?? '') ||
  /^(?:automatic reply|auto(?:matic)?[- ]?response|out of (?:the )?office|abwesenheitsnotiz|réponse automatique|respuesta automática)\b/i.test(
    subject.trim(),
  );

/** Ids of letters an answer refers to, the closest first. Source: RFC 5322 §3.6.4. */
export function lettersAnswered(inReplyTo: string, references: string): string[] {
  const ids = (text: string) => text.match(/<[^<>\s]+>/g) ?? [];
  return [...new Set([...ids(inReplyTo), ...ids(references).reverse()])];
}
