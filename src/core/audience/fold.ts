/**
 * Text for comparing without case, letter by letter: what PostgreSQL's lower() does in a UTF-8 locale. JavaScript's
 * own toLowerCase also looks at neighbours (final sigma) and may make one letter two (İ).
 */
export function fold(text: string): string {
  if (/^[\u0000-\u007f]*$/.test(text)) return text.toLowerCase();
  let folded = '';
  for (const letter of text) folded += [...letter.toLowerCase()][0];
  return folded;
}
