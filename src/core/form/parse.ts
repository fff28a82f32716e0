import type { ErrorObject } from 'ajv';
import { ok, refuse, type Result } from '../shared/result';
import { checkBy } from '../shared/schema';
import { FORM_FORMAT, type FormDocument } from './document';
import schema from './schema.json';

/** Where in the document something is wrong (`fields.2.field`), and a sentence with the remedy. */
export interface FormProblem {
  path: string;
  message: string;
}

const checkOf = checkBy<FormDocument>(schema);

const MOST_PROBLEMS = 20;

/** Reads a form from JSON that may be anything: by the published schema, then what a schema cannot say. */
export function parseForm(data: unknown): Result<FormDocument, FormProblem[]> {
  const format = (data as { format?: unknown } | null)?.format;
  if (typeof format === 'string' && format !== FORM_FORMAT)
    return refuse([
      {
        path: 'format',
        message: `this is "${format}"; what is read here is "${FORM_FORMAT}". Export it again for this one.`,
      },
    ]);
  const check = checkOf();
  if (!check(data)) return refuse((check.errors ?? []).slice(0, MOST_PROBLEMS).map(problemOf));
  const problems = [...meaningProblems(data)];
  return problems.length > 0 ? refuse(problems) : ok(data);
}

const problemOf = ({ instancePath, message, params }: ErrorObject): FormProblem => ({
  path: instancePath.slice(1).replaceAll('/', '.') || 'document',
  message: `${message ?? 'is wrong'}${'additionalProperty' in params ? `: “${String(params.additionalProperty)}” is not known` : ''}.`,
});

function* meaningProblems({ fields }: FormDocument): Generator<FormProblem> {
  const names = fields.map(({ field }) => field);
  const twice = names.find((name, i) => names.indexOf(name) !== i);
  if (twice !== undefined)
    yield { path: 'fields', message: `“${twice}” is asked for twice. Take one of them out.` };
  const number = fields.find(({ field }) => field === 'number');
  if (!number) yield { path: 'fields', message: 'the number is missing: it is what is agreed for. Add it.' };
  else if (!number.required)
    yield { path: 'fields', message: 'the number must be required: it is what is agreed for.' };
}
