import { readSource, FIELD } from '@/core/wording/reading';

/** The stored text with its merge fields in words. */
export function readable(body: string): string {
  const { text, fields } = readSource(body);
  let next = 0;
  return text.replaceAll(FIELD, () => {
    const { label, fallback } = fields[next++]!;
    return `[${label}${fallback === null ? '' : ` or “${fallback}”`}]`;
  });
}
