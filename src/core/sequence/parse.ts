import type { ErrorObject } from 'ajv';
import type { Condition } from '../audience/condition';
import { parseCondition } from '../audience/parse';
import { isDay } from '../audience/days';
import { ok, refuse, type Result } from '../shared/result';
import { parseTemplate } from '../text/template';
import { checkBy } from '../shared/schema';
import {
  everyLine,
  FORMAT,
  isMessage,
  type Column,
  type EndingDeed,
  type Line,
  type SequenceDocument,
  type What,
} from './document';
import schema from './schema.json';

/** Where in the document something is wrong (`lines.3.what.body`), and a sentence with the remedy. */
export interface DocumentProblem {
  path: string;
  /** The line it stands in; null: none. */
  line: string | null;
  message: string;
}

/** A document with the names of what it refers to by id, as it is exported. */
export type NamedDocument = SequenceDocument & { names?: Record<string, string> };

/** More lines than anybody reads; far more than a person is told of in three years. */
export const MOST_LINES = 400;
const MOST_PROBLEMS = 20;
const DEEPEST_FORK = 4;

const checkOf = checkBy<NamedDocument>(schema, { discriminator: true });

/**
 * Reads a sequence from JSON that may be anything: its form by the published schema, then what a schema cannot say (ids
 * once, days that exist, conditions and templates that can be read, no endless nesting).
 */
export function parseSequence(data: unknown): Result<NamedDocument, DocumentProblem[]> {
  const format = (data as { format?: unknown } | null)?.format;
  if (typeof format === 'string' && format !== FORMAT)
    return refuse([
      problem(
        'format',
        null,
        `this is "${format}"; what is read here is "${FORMAT}". Export it again for this one.`,
      ),
    ]);
  const nested = depthOf((data as { lines?: unknown } | null)?.lines);
  if (nested > DEEPEST_FORK)
    return refuse([
      problem(
        'lines',
        null,
        `forks stand in forks more than ${DEEPEST_FORK} deep. Use another sequence for the rest.`,
      ),
    ]);
  const check = checkOf();
  if (!check(data)) return refuse(problemsOf(check.errors ?? [], data));
  const document = filled(data);
  const problems = [...meaningProblems(document)].slice(0, MOST_PROBLEMS);
  return problems.length > 0 ? refuse(problems) : ok(document);
}

/** What may be left out, and means nothing then, written down as null. */
function filled(given: NamedDocument): NamedDocument {
  const inLine = (line: Line): Line => ({ ...line, what: inWhat(line.what) });
  const inWhat = (what: What): What => {
    if (what.do === 'stage') return { ...what, stage: what.stage ?? null };
    if (what.do === 'owner') return { ...what, account: what.account ?? null };
    if (what.do !== 'fork') return what;
    return {
      ...what,
      columns: what.columns.map((column) => ({ ...column, lines: column.lines.map(inLine) })),
    };
  };
  return {
    ...given,
    ...{ only: given.only ?? null, hours: given.hours ?? null, lines: given.lines.map(inLine) },
    ends: given.ends.map(({ when, then }) => ({
      when: when.on === 'field' ? { ...when, value: when.value ?? null } : when,
      then: then.map(inWhat) as EndingDeed[],
    })),
  };
}

const problem = (path: string, line: string | null, message: string): DocumentProblem => ({
  path,
  line,
  message,
});

/** How deep forks stand in forks, stopped early: what is nested without end is not walked to its end. */
function depthOf(lines: unknown, depth = 0): number {
  if (!Array.isArray(lines) || depth > DEEPEST_FORK) return depth;
  let deepest = depth;
  for (const line of lines as { what?: { columns?: unknown } }[]) {
    const columns = line?.what?.columns;
    if (!Array.isArray(columns)) continue;
    for (const column of columns as { lines?: unknown }[])
      deepest = Math.max(deepest, depthOf(column?.lines, depth + 1));
  }
  return deepest;
}

/** The schema's complaints, one a place, without those that only follow from another. */
function problemsOf(errors: readonly ErrorObject[], data: unknown): DocumentProblem[] {
  const byPath = new Map<string, DocumentProblem>();
  for (const error of errors) {
    if (error.keyword === 'oneOf' || error.keyword === 'if') continue;
    const path = error.instancePath.slice(1).replaceAll('/', '.');
    if (!byPath.has(path)) byPath.set(path, problem(path, lineAt(data, path), wordsOf(error)));
  }
  return [...byPath.values()].slice(0, MOST_PROBLEMS);
}

function wordsOf({ keyword, params, message }: ErrorObject): string {
  const given = params as Record<string, unknown>;
  switch (keyword) {
    case 'additionalProperties':
      return `there is no member "${String(given.additionalProperty)}" here. Check its spelling or leave it out.`;
    case 'required':
      return `"${String(given.missingProperty)}" is missing.`;
    case 'discriminator':
      return `"${String(given.tag)}" is none of the words that can stand here: ${String(given.tagValue)}.`;
    case 'enum':
      return `must be one of: ${(given.allowedValues as unknown[]).join(', ')}.`;
    case 'const':
      return `must be ${String(given.allowedValue)}.`;
    default:
      return `${message ?? 'is wrong'}.`;
  }
}

function lineAt(data: unknown, path: string): string | null {
  let here: unknown = data;
  let line: string | null = null;
  for (const step of path.split('.')) {
    here = (here as Record<string, unknown> | null)?.[step];
    const id = (here as { id?: unknown; when?: unknown } | null)?.id;
    if (typeof id === 'string' && (here as { when?: unknown }).when !== undefined) line = id;
  }
  return line;
}

function* meaningProblems(document: SequenceDocument): Generator<DocumentProblem> {
  const seen = new Set<string>();
  let lines = 0;
  if (document.only) yield* conditionProblems(document.only, 'only', null);
  for (const day of document.hours?.holidays ?? [])
    if (!isDay(day)) yield problem('hours.holidays', null, `${day} is no day of the calendar.`);
  if (document.hours && document.hours.to !== '24:00' && document.hours.from >= document.hours.to)
    yield problem('hours', null, 'the hours must end after they begin.');
  for (const line of everyLine(document.lines)) {
    const { id, what } = line;
    if (++lines > MOST_LINES)
      return yield problem(
        'lines',
        id,
        `there are more than ${MOST_LINES} lines. Split it into two sequences.`,
      );
    if (seen.has(id)) yield problem('lines', id, `the id "${id}" stands twice. Each line needs its own.`);
    seen.add(id);
    if (isMessage(what)) {
      yield* templateProblems(what.body, 'body', id);
      if (what.do === 'email') yield* templateProblems(what.subject, 'subject', id);
    }
    if (what.do === 'fork') for (const column of what.columns) yield* columnProblems(column, id, seen);
  }
  for (const [i, { then }] of document.ends.entries())
    for (const deed of then)
      if (!ENDING_DEEDS.has(deed.do))
        yield problem(
          `ends.${i}.then`,
          null,
          `"${deed.do}" cannot follow an early end. Tasks, notices, tags, stages and other sequences can.`,
        );
}

const ENDING_DEEDS: ReadonlySet<string> = new Set([
  'task',
  'tell',
  'tag',
  'untag',
  'stage',
  'begin',
  'webhook',
]);

function* columnProblems(column: Column, line: string, seen: Set<string>): Generator<DocumentProblem> {
  if (seen.has(column.id))
    yield problem('lines', line, `the id "${column.id}" stands twice. Each column needs its own.`);
  seen.add(column.id);
  if (column.if.test === 'known') yield* conditionProblems(column.if.condition, 'if', line);
}

function* conditionProblems(
  condition: Condition,
  path: string,
  line: string | null,
): Generator<DocumentProblem> {
  const read = parseCondition(condition);
  if (!read.ok) yield problem(`${path}.${read.reason.path}`, line, read.reason.message);
}

function* templateProblems(source: string, path: string, line: string): Generator<DocumentProblem> {
  const template = parseTemplate(source);
  if (!template.ok) yield problem(path, line, template.reason[0]!.message);
}
