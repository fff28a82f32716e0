const QUOTE = /^\s*>/;
const SIGNATURE = /^-- ?$/;
/** Lines that begin what is quoted, in the languages mail programs are most set to. */
const INTRODUCTIONS = [
  /^on\b.{0,200}\bwrote:\s*$/i,
  /^am\b.{0,200}\bschrieb\b.{0,120}:\s*$/i,
  /^el\b.{0,200}\bescribi[óo]:\s*$/i,
  /^le\b.{0,200}\ba écrit\s*:\s*$/i,
  /^il\b.{0,200}\bha scritto:\s*$/i,
  /^em\b.{0,200}\bescreveu:\s*$/i,
  /^op\b.{0,200}\bschreef\b.{0,120}:\s*$/i,
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

const SENT_FROM =
  /^(sent from (?:my|the)|sent (?:with|from|by) .{1,30}mail|get .{1,20} for (?:android|ios)|von meinem .{1,40} gesendet|enviado desde (?:mi|el)|envoyé (?:de mon|depuis)|enviado do meu)\b/i;

export interface OwnWords {
  words: string;
  /** Nothing of it is surely theirs: the whole stands, since they may have written between the lines of what they quote. */
  quoted: boolean;
}

/** The words of an answer without what it quotes, whether they stand above it or below. */
export function ownWords(text: string): OwnWords {
  const lines = text.replace(/\r\n?/g, '\n').split('\n');
  const at = lines.findIndex(
    (line, i) => SIGNATURE.test(line) || quotesHead(lines, i) || introduces(lines, i) > 0,
  );
  const above = unquoted(at < 0 ? lines : lines.slice(0, at));
  if (above) return { words: above, quoted: false };
  const introduced = at < 0 ? 0 : introduces(lines, at);
  const rest = lines.slice(at + introduced);
  // Below it only what is marked as quoted can be told from an answer.
  const below = introduced > 0 && rest.some((line) => QUOTE.test(line)) ? unquoted(ofAnswer(rest)) : '';
  return below ? { words: below, quoted: false } : { words: text.trim(), quoted: text.trim() !== '' };
}

/** How many lines introduce what is quoted from here; 0: none. A program may have folded them over two. */
function introduces(lines: readonly string[], at: number): 0 | 1 | 2 {
  const one = lines[at]!.trim();
  if (INTRODUCTIONS.some((begins) => begins.test(one))) return 1;
  const two = `${one} ${(lines[at + 1] ?? '').trim()}`;
  return INTRODUCTIONS.some((begins) => begins.test(two)) ? 2 : 0;
}

/** Lines up to a signature, without what introduces a further quotation. */
function ofAnswer(lines: readonly string[]): readonly string[] {
  const at = lines.findIndex((line) => SIGNATURE.test(line));
  const all = at < 0 ? lines : lines.slice(0, at);
  return all.filter((_, i) => introduces(all, i) === 0);
}

const unquoted = (lines: readonly string[]): string =>
  lines
    .filter((line) => !QUOTE.test(line) && !SENT_FROM.test(line.trim()))
    .join('\n')
    .replace(/\n{3,}/g, '\n\n')
    .trim();

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
  /^(?:automatic reply|auto(?:matic)?[- ]?(?:response|reply)|out of (?:the )?office|abwesenheitsnotiz|automatische antwort|réponse automatique|absence du bureau|respuesta automática|fuera de (?:la )?oficina|resposta automática|risposta automatica)/i.test(
    subject.trim(),
  );

/** Ids of letters an answer refers to, the closest first. Source: RFC 5322 §3.6.4. */
export function lettersAnswered(inReplyTo: string, references: string): string[] {
  const ids = (text: string) => text.match(/<[^<>\s]+>/g) ?? [];
  return [...new Set([...ids(inReplyTo), ...ids(references).reverse()])];
}
