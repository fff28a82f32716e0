import { cutText } from '../shared/clean-text';
import { readSource, tokensOf } from '../wording/reading';
import { labelOf } from '../text/fields';
import { parseTemplate, type TemplateValues } from '../text/template';

export type Button =
  /** What they send by pressing it. `leaves`: pressing it is an opt-out. */
  | { kind: 'reply'; words: string; leaves?: true }
  | { kind: 'link'; words: string; url: string }
  | { kind: 'call'; words: string; number: string };

/** What is written for one language. The body is Unicode MessageFormat 2; header and footer are plain. */
export interface ChatWords {
  header: string;
  body: string;
  footer: string;
  buttons: Button[];
}

/** A variable of a body, as a network is told of it: a name, and a sample that a reviewer reads. */
export interface Variable {
  name: string;
  /** The stored merge field it stands for. */
  source: string;
  label: string;
}

/** A body as a network takes it: words and variables in turn. */
export type Piece = { text: string } | { variable: string };

/**
 * The body in pieces. The same field twice is one variable where it reads the same. Names are those of the fields, told apart
 * by a number where one field is read in several ways.
 */
export function piecesOf(body: string): { pieces: Piece[]; variables: Variable[] } {
  const pieces: Piece[] = [];
  const variables: Variable[] = [];
  let text = '';
  let done = 0;
  for (const { from, to, is } of tokensOf(body)) {
    text += body.slice(done, from);
    done = to;
    if ('char' in is) {
      text += is.char;
      continue;
    }
    if (text !== '') pieces.push({ text });
    text = '';
    const source = body.slice(from, to);
    let variable = variables.find((one) => one.source === source);
    if (!variable) {
      const plain = cutText(is.field.replace(/^.*\./, '').replace(/[^a-z0-9_]/gi, '_'), 40);
      variable = { name: free(plain, variables), source, label: labelOf(is.field) };
      variables.push(variable);
    }
    pieces.push({ variable: variable.name });
  }
  text += body.slice(done);
  if (text !== '') pieces.push({ text });
  return { pieces, variables };
}

/** The name, or with the first number that makes it one of its own: a field may be called `visit_2`. */
function free(plain: string, variables: readonly Variable[]): string {
  const isTaken = (one: string) => variables.some(({ name }) => name === one);
  let name = plain;
  for (let n = 2; isTaken(name); n++) name = `${plain}_${n}`;
  return name;
}

/** Whether something of MessageFormat stands in it that is neither words nor a field of ours: it would reach people as it is written. */
export function hasMoreThanFields(body: string): boolean {
  let done = 0;
  const between = [];
  for (const { from, to } of tokensOf(body)) {
    between.push(body.slice(done, from));
    done = to;
  }
  return [...between, body.slice(done)].some((words) => /[{}]/.test(words));
}

/**
 * Fills the variables of a body for somebody. Read once, asked for each person. `settled`: the source of a field, as it reads
 * once what is the same for everybody stands in it.
 */
export function filling(
  body: string,
  settled: ReadonlyMap<string, string> = new Map(),
): (values: TemplateValues) => Record<string, string> {
  const read = piecesOf(body).variables.map(({ name, source }) => {
    const template = parseTemplate(settled.get(source) ?? source);
    return { name, template: template.ok ? template.value : null };
  });
  return (values) =>
    Object.fromEntries(
      read.map(({ name, template }) => [name, oneLine(template?.render(values).text ?? '')]),
    );
}

/** A network takes no line ends within a variable, nor many spaces. */
const oneLine = (value: string): string => value.replace(/\s+/g, ' ').trim();

/** Everything that stands in it, as it is kept in the thread. `body`: filled in. */
export const wholeText = ({ header, footer }: Pick<ChatWords, 'header' | 'footer'>, body: string): string =>
  [header, body, footer].filter((part) => part.trim() !== '').join('\n\n');

/** The words of the body with each field as its label, for a list. */
export const plainBody = (body: string): string => {
  const { text, fields } = readSource(body);
  let next = 0;
  return text.replace(/\uFFFC/g, () => `[${fields[next++]?.label ?? ''}]`);
};

/** The language somebody gets: theirs, its plainer form, else the first that is there. */
export function languageFor<T extends { language: string }>(
  there: readonly T[],
  theirs: string | null,
): T | null {
  const wanted = theirs?.toLowerCase();
  const plain = wanted?.split('-')[0];
  const exact = there.find(({ language }) => language.toLowerCase() === wanted);
  return (
    exact ?? there.find(({ language }) => language.toLowerCase().split('-')[0] === plain) ?? there[0] ?? null
  );
}

/** A tag such as `en`, `es-MX` or `pt-BR`. Source: BCP 47, its usual part. */
export const isLanguage = (tag: string): boolean => /^[a-z]{2,3}(-[A-Za-z0-9]{2,8}){0,2}$/.test(tag);
