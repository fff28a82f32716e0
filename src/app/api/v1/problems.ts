import type { FieldProblem, Refusal } from '@/services/kit/validation';

/** Reason -> status and title: one exhaustive record. */
export const STATUS_OF: Record<Refusal['code'], { status: number; title: string }> = {
  invalid: { status: 422, title: 'A value is not right' },
  conflict: { status: 409, title: 'Not possible as things stand' },
  'not-found': { status: 404, title: 'Not found' },
  forbidden: { status: 403, title: 'Not allowed' },
};

/** A problem document. Source: RFC 9457. `errors` names each field with a sentence. */
export function problem(
  status: number,
  title: string,
  detail: string,
  errors: FieldProblem[] = [],
  headers: Record<string, string> = {},
): Response {
  return Response.json(
    { type: 'about:blank', title, status, detail, ...(errors.length > 0 ? { errors } : {}) },
    { status, headers: { 'content-type': 'application/problem+json', ...headers } },
  );
}
