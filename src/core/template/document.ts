import { ok, refuse, type Result } from '../shared/result';
import { parseTemplate } from '../text/template';
import { checkBy } from '../shared/schema';
import schema from './schema.json';

export const TEMPLATES_FORMAT = 'steady-wren/templates/1';

/** A text that is kept to be written again. It holds words and merge fields; a template in a template there is not. */
export interface TemplateText {
  name: string;
  /** Left out: it lies in none. */
  folder?: string;
  /** Of a letter. */
  subject?: string;
  /** Of a prepared answer: the question it answers. */
  question?: string;
  /** Unicode MessageFormat 2. */
  body: string;
}

export interface TemplatesDocument {
  format: typeof TEMPLATES_FORMAT;
  templates: TemplateText[];
}

const checkOf = checkBy<TemplatesDocument>(schema);

/** Reads templates from JSON that may be anything. A refusal is a sentence that names the place and the remedy. */
export function parseTemplates(data: unknown): Result<TemplatesDocument, string> {
  const { format } = (data ?? {}) as { format?: unknown };
  if (typeof format === 'string' && format !== TEMPLATES_FORMAT)
    return refuse(`format: this is "${format}"; what is read here is "${TEMPLATES_FORMAT}".`);
  const check = checkOf();
  if (!check(data)) {
    const [first] = check.errors ?? [];
    const where = first?.instancePath.slice(1).replaceAll('/', '.') || 'document';
    return refuse(`${where}: ${first?.message ?? 'is wrong'}.`);
  }
  for (const [i, { name, subject, body }] of data.templates.entries())
    for (const [field, source] of [
      ['subject', subject],
      ['body', body],
    ] as const) {
      const read = source === undefined ? null : parseTemplate(source);
      if (read && !read.ok)
        return refuse(`templates.${i}.${field}: “${name}” cannot be read: ${read.reason[0]!.message}`);
    }
  return ok(data);
}
