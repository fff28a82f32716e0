import { MessageError, MessageFormat, parseMessage, validate, visit, type Model } from 'messageformat';
import { DefaultFunctions, DraftFunctions, type MessageFunction } from 'messageformat/functions';
import { ok, refuse, type Result } from '../shared/result';
import { countWords, DATE_STYLES, dateWords, type FieldForm } from './field-forms';
import { isMergeField, MERGE_FIELDS } from './fields';

/**
 * A text with merge fields, stored as Unicode MessageFormat 2 (LDML 48, part 9):
 * `Hi {$person.first_name :wren:field fallback=friend}`.
 */
export interface Template {
  source: string;
  /** The merge fields it uses, in order, each once. */
  fields: { name: string; fallback: string | null }[];
  /** The text for these values. Never throws for a parsed template. */
  render(values: TemplateValues): Rendered;
}

/** `null`, absent, or blank means empty: the fallback stands in. */
export type FieldValue = string | number | null | undefined;

/** Values by the full name of the field, such as `person.first_name`. */
export type TemplateValues = Record<string, FieldValue>;

export interface Rendered {
  text: string;
  /** Fields that were empty and have no fallback: such a text must not go out. */
  empty: string[];
  /** How many fields are empty, with a fallback or without. */
  blanks: number;
}

export interface TemplateProblem {
  /** Where in the source, in UTF-16 code units; `null` when it concerns the whole. */
  at: number | null;
  /** What is wrong and what would be right. */
  message: string;
}

const isEmpty = (value: unknown): boolean =>
  value === null || value === undefined || String(value).trim() === '';

type Option = (name: string) => string;

/** A function of ours: what a value that is not empty reads as. Where it is empty, the fallback stands in. */
const reads =
  (words: (value: string, option: Option) => string): MessageFunction<string> =>
  (context, options, input) => {
    const option: Option = (name) => String(options[name] ?? '');
    const chosen = isEmpty(input) ? option('fallback') : words(String(input), option);
    return {
      type: 'wren:field',
      dir: context.dir ?? 'auto',
      selectKey: (keys) => (keys.has(chosen) ? chosen : null),
      toString: () => chosen,
      valueOf: () => chosen,
    };
  };

/** `:wren:field` gives the value; `:wren:count` so many of something; `:wren:date` a day in words. */
const OURS = {
  'wren:field': reads((value) => value),
  'wren:count': reads((value, option) => countWords(value, { one: option('one'), other: option('other') })),
  'wren:date': reads((value, option) =>
    dateWords(value, DATE_STYLES.find((style) => style === option('style')) ?? 'short'),
  ),
};

const FUNCTIONS = { ...DefaultFunctions, ...DraftFunctions, ...OURS };

/** Reads a template, or says what is wrong with it and where. */
export function parseTemplate(source: string): Result<Template, TemplateProblem[]> {
  const parsed = parse(source);
  if (!parsed.ok) return parsed;
  const message = parsed.value;
  const { fields, problems } = inspect(message);
  if (problems.length > 0) return refuse(problems);
  const words = plainWords(message) ?? formatted(message);
  return ok({ source, fields, render: (values) => renderWith(words, fields, values) });
}

/** The words of a message for these values. */
type Words = (values: TemplateValues) => string;

/** What MessageFormat makes of any message. */
export function formatted(message: Model.Message): Words {
  const format = new MessageFormat('en-US', message, { bidiIsolation: 'none', functions: FUNCTIONS });
  // A missing variable would be reported to onError; `empty` already says so.
  return (values) => format.format(values, () => {});
}

/**
 * The same for a message of words and plain fields, as most are, a quarter of the time: everybody of a large audience is
 * written to. Null: there is more in it.
 */
export function plainWords(message: Model.Message): Words | null {
  if (message.type !== 'message' || message.declarations.length > 0) return null;
  const pieces: (string | { name: string; fallback: string })[] = [];
  for (const piece of message.pattern) {
    const plain = typeof piece === 'string' ? piece : plainField(piece);
    if (plain === null) return null;
    pieces.push(plain);
  }
  return (values) => {
    let text = '';
    for (const piece of pieces) {
      if (typeof piece === 'string') text += piece;
      else text += isEmpty(values[piece.name]) ? piece.fallback : String(values[piece.name]);
    }
    return text;
  };
}

/** A field that is read by `:wren:field` with nothing but a fallback; null: it is something else. */
function plainField(
  piece: Exclude<Model.Pattern[number], string>,
): { name: string; fallback: string } | null {
  if (piece.type !== 'expression' || piece.attributes || piece.arg?.type !== 'variable') return null;
  if (piece.functionRef?.name !== 'wren:field') return null;
  const { fallback, ...more } = piece.functionRef.options ?? {};
  if (Object.keys(more).length > 0) return null;
  if (fallback === undefined) return { name: piece.arg.name, fallback: '' };
  return typeof fallback === 'object' && fallback.type === 'literal'
    ? { name: piece.arg.name, fallback: fallback.value }
    : null;
}

function parse(source: string): Result<Model.Message, TemplateProblem[]> {
  try {
    const message = parseMessage(source);
    validate(message);
    return ok(message);
  } catch (error) {
    if (!(error instanceof MessageError)) throw error;
    const at = 'start' in error && typeof error.start === 'number' && error.start >= 0 ? error.start : null;
    const where = at === null ? '' : ` near "${source.slice(Math.max(0, at - 8), at + 8)}"`;
    return refuse([
      { at, message: `The text cannot be read${where}: put \\ before a brace that is meant as a character.` },
    ]);
  }
}

function inspect(message: Model.Message) {
  const fields = new Map<string, string | null>();
  const problems: TemplateProblem[] = [];
  const locals = new Set(message.declarations.filter((d) => d.type === 'local').map((d) => d.name));
  const complain = (text: string): void => void problems.push({ at: null, message: text });
  visit(message, {
    expression({ arg, functionRef }) {
      if (functionRef && !(functionRef.name in FUNCTIONS))
        complain(`The function :${functionRef.name} is not known.`);
      if (arg?.type === 'literal' && !functionRef) complain(notAField(arg.value));
      if (arg?.type !== 'variable' || locals.has(arg.name)) return;
      if (!isMergeField(arg.name)) return complain(notAField(arg.name));
      const fallback = functionRef?.options?.fallback;
      const words =
        fallback && typeof fallback === 'object' && fallback.type === 'literal' ? fallback.value : null;
      if (!fields.has(arg.name) || words !== null) fields.set(arg.name, words);
    },
  });
  return { fields: [...fields].map(([name, fallback]) => ({ name, fallback })), problems };
}

const notAField = (name: string): string =>
  `{${name}} is not a merge field. Use one of ${MERGE_FIELDS.map((f) => `{$${f.name}}`).join(', ')} ` +
  `or {$person.fields.name_of_your_field}.`;

function renderWith(words: Words, fields: Template['fields'], values: TemplateValues): Rendered {
  const empty = fields.filter((f) => f.fallback === null && isEmpty(values[f.name])).map((f) => f.name);
  const blanks = fields.filter(({ name }) => isEmpty(values[name])).length;
  return { text: words(values), empty, blanks };
}

/** Plain words as a template: braces and backslashes escaped, a leading full stop quoted. */
export function templateFromPlain(text: string): string {
  const escaped = text.replace(/[\\{}]/g, (char) => `\\${char}`);
  return /^\s*\./.test(escaped) ? `{{${escaped}}}` : escaped;
}

/** A merge field as template source, its words quoted where MessageFormat asks for it. */
export function fieldSource(name: string, fallback: string | null, form: FieldForm | null = null): string {
  const [called, options] = formSource(form);
  const all = fallback === null ? options : { ...options, fallback };
  const said = Object.entries(all).map(([option, words]) => ` ${option}=${literal(words)}`);
  return `{$${name} :wren:${called}${said.join('')}}`;
}

function formSource(form: FieldForm | null): [called: string, options: Record<string, string>] {
  if (form === null) return ['field', {}];
  return 'count' in form ? ['count', { ...form.count }] : ['date', { style: form.date }];
}

const literal = (words: string): string =>
  /^[\p{L}\p{N}_-]+$/u.test(words) ? words : `|${words.replace(/[\\|]/g, (c) => `\\${c}`)}|`;
