import { readSource } from '../wording/reading';
import { saysHowToStop } from '../wording/rules/sender';
import { parseTemplate } from '../text/template';
import type { Category, ChatLimits } from './network';
import { hasMoreThanFields, piecesOf, type Button, type ChatWords } from './template';

/** must: the network refuses it, or we do. should: a reviewer or a reader may mind. */
export interface ChatFinding {
  severity: 'must' | 'should';
  field: 'name' | 'language' | 'category' | 'header' | 'body' | 'footer' | 'buttons' | 'samples';
  /** What is wrong, and what would be right. */
  message: string;
}

export interface ToCheck {
  name: string;
  language: string;
  category: Category;
  words: ChatWords;
  /** What a reviewer reads in place of each variable, by its name. */
  samples: Readonly<Record<string, string>>;
}

const must = (field: ChatFinding['field'], message: string): ChatFinding => ({
  severity: 'must',
  field,
  message,
});
const should = (field: ChatFinding['field'], message: string): ChatFinding => ({
  severity: 'should',
  field,
  message,
});

/** What there is to say about a template before it is handed in: by the network’s own limits, and by the rules of such templates. */
export function checkChat(template: ToCheck, limits: ChatLimits): ChatFinding[] {
  const { words } = template;
  const readable = parseTemplate(words.body);
  return [
    ...lengths(template, limits),
    ...(readable.ok
      ? bodyFindings(template, limits)
      : [must('body', `body: ${readable.reason[0]!.message}`)]),
    ...['header', 'footer'].flatMap((field) =>
      /\{\$/.test(words[field as 'header' | 'footer'])
        ? [must(field as 'header' | 'footer', `${field}: holds no fields. Put them into the body.`)]
        : [],
    ),
    ...buttonFindings(words.buttons, limits),
    ...wayOut(template),
  ];
}

function* lengths({ name, words }: ToCheck, limits: ChatLimits): Generator<ChatFinding> {
  const long = (field: 'name' | 'header' | 'footer' | 'body', text: string) =>
    [...text].length > limits[field]
      ? [
          must(
            field,
            `${field}: the network takes ${limits[field]} characters, and these are ${[...text].length}.`,
          ),
        ]
      : [];
  if (name.trim() === '') yield must('name', 'name: must not be empty.');
  else if (!/^[a-z][a-z0-9_]*$/.test(name))
    yield must(
      'name',
      'name: small letters, digits and low lines only, beginning with a letter, such as sky_week.',
    );
  yield* long('name', name);
  yield* long('header', words.header);
  yield* long('footer', words.footer);
  yield* long('body', readSource(words.body).text);
  if (/[\r\n]/.test(words.header)) yield must('header', 'header: must be one line.');
}

function* bodyFindings({ words: { body }, samples }: ToCheck, limits: ChatLimits): Generator<ChatFinding> {
  const { pieces, variables } = piecesOf(body);
  if (body.trim() === '') return yield must('body', 'body: write what it says.');
  if (hasMoreThanFields(body))
    return yield must(
      'body',
      'body: holds more than words and fields. A network reads no cases and no functions: put in a field that says it, such as “so many evenings”.',
    );
  // Spaces alone between two fields keep nobody from reading them as one.
  const said = pieces.filter((piece) => 'variable' in piece || piece.text.trim() !== '');
  const isVariable = (piece: (typeof said)[number] | undefined) => piece !== undefined && 'variable' in piece;
  if (isVariable(said[0]))
    yield must('body', 'body: must not begin with a field. Put a word before it, such as “Hi”.');
  if (isVariable(said.at(-1)))
    yield must('body', 'body: must not end with a field. Put a full stop or a word after it.');
  if (said.some((piece, i) => isVariable(piece) && isVariable(said[i - 1])))
    yield must('body', 'body: two fields side by side. Put words between them.');
  if (variables.length > limits.variables)
    yield must(
      'body',
      `body: the network takes ${limits.variables} fields, and these are ${variables.length}.`,
    );
  const letters = pieces.flatMap((piece) =>
    'text' in piece ? [...piece.text.replace(/\s+/g, '')] : [],
  ).length;
  if (variables.length > 0 && letters < variables.length * 8)
    yield should(
      'body',
      'body: more fields than words. Reviewers refuse what says little without its fields.',
    );
  if (/\n{3,}/.test(body)) yield must('body', 'body: more than one empty line in a row.');
  for (const { name, label, source } of variables) {
    const sample = samples[name]?.trim() ?? '';
    if (sample === '')
      yield must('samples', `samples.${name}: a reviewer reads an example of “${label}”. Give one.`);
    else if (/\{\$/.test(sample) || sample === source)
      yield must('samples', `samples.${name}: give an example of it, not the field.`);
  }
}

function* buttonFindings(buttons: readonly Button[], limits: ChatLimits): Generator<ChatFinding> {
  const most = { reply: limits.quickReplies, link: limits.links, call: limits.calls };
  const called = {
    reply: 'buttons that answer',
    link: 'buttons that open a link',
    call: 'buttons that call',
  };
  for (const kind of ['reply', 'link', 'call'] as const) {
    const there = buttons.filter((one) => one.kind === kind).length;
    if (there > most[kind])
      yield must(
        'buttons',
        `buttons: the network takes ${most[kind]} ${called[kind]}, and these are ${there}.`,
      );
  }
  for (const [i, button] of buttons.entries()) {
    const where = `buttons.${i}`;
    if (button.words.trim() === '') yield must('buttons', `${where}: say what stands on it.`);
    if ([...button.words].length > limits.button)
      yield must('buttons', `${where}: the network takes ${limits.button} characters on a button.`);
    if (button.kind === 'link' && !/^https:\/\/[^\s/]+\.[^\s]+$/.test(button.url))
      yield must('buttons', `${where}: give the whole address, beginning with https://.`);
    if (button.kind === 'call' && !/^\+[1-9]\d{7,14}$/.test(button.number))
      yield must('buttons', `${where}: give a number with its country, such as +17195550110.`);
    if (
      buttons.findIndex((other) => other.words.trim().toLowerCase() === button.words.trim().toLowerCase()) < i
    )
      yield must('buttons', `${where}: says what another button says.`);
  }
}

/** Whoever is written to for marketing must see how to stop it. People block what they cannot leave. */
function wayOut({ category, words }: ToCheck): ChatFinding[] {
  if (category !== 'marketing') return [];
  const leaves = words.buttons.some((button) => button.kind === 'reply' && button.leaves);
  if (leaves || saysHowToStop(readSource(words.body).text) || saysHowToStop(words.footer)) return [];
  return [
    must(
      'buttons',
      'buttons: nothing says how to stop. Add the button that leaves, or “Reply STOP to stop” to the footer.',
    ),
  ];
}
