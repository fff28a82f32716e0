import { guessColumns } from '../import/columns';
import { cleanText, cutText } from '../shared/clean-text';
import type { Tree } from './tree';

/** A letter as it came: its words as plain text, and the tables of its HTML part. */
export interface Letter {
  from: string;
  fromName: string;
  subject: string;
  /** The plain part; else the HTML part as text. */
  text: string;
  /** The HTML part as text, where there is a plain part beside it; left out: there is none. */
  beside?: string;
  /** Rows of two or more cells, of all tables, in order. */
  rows: readonly (readonly string[])[];
}

const MOST_LINES = 200;
const LONGEST_LINE = 2_000;
const LONGEST_LABEL = 60;

/**
 * A letter as a tree: what stands behind a label (`Name: Ana`, or a row of a table with two cells), the lines as they are,
 * and the rows of wider tables. `/labels/Name` is what a mapping names; `/lines/3` where a portal writes no labels. Of a
 * letter that somebody wrote themselves (no labels) `/words` is all they wrote, and `/number` the one number in it.
 */
export function treeOfLetter({ from, fromName, subject, text, beside = '', rows }: Letter): Tree {
  const lines = linesOf(text);
  const cells = rows.map((row) => row.map((cell) => cleanText(cell).replace(/\s+/g, ' ').trim()));
  const labels = new Map<string, string>();
  // A label may stand twice (a header, then the record): the first that says something counts.
  const put = (label: string, value: string) => {
    if (value !== '' && !labels.has(label)) labels.set(label, value);
  };
  for (const [label, value] of labelledCells(cells)) put(label, value);
  for (const [label, value] of labelledLines(lines)) put(label, value);
  // A plain part that says only that something came.
  if (labels.size === 0) for (const [label, value] of labelledLines(linesOf(beside))) put(label, value);
  return {
    from: { name: cleanText(fromName), address: cleanText(from) },
    subject: cleanText(subject),
    ...(labels.size > 0 ? { labels: Object.fromEntries(labels) } : ownWordsOf(lines)),
    lines,
    ...(cells.some((row) => row.length > 2) ? { cells: cells.filter((row) => row.length > 2) } : {}),
  };
}

const linesOf = (text: string): string[] =>
  cleanText(text)
    .split(/\r?\n/)
    .map((line) => cutText(line.replace(/\s+/g, ' ').trim(), LONGEST_LINE))
    .filter((line) => line !== '')
    .slice(0, MOST_LINES);

/** What somebody wrote themselves; of several numbers nobody knows which is theirs. */
function ownWordsOf(lines: readonly string[]): { words?: string; number?: string } {
  const words = lines.join('\n');
  const found = [...new Set(words.match(A_NUMBER) ?? [])];
  return { ...(words === '' ? {} : { words }), ...(found.length === 1 ? { number: found[0]!.trim() } : {}) };
}

/** Ten digits as they are written where the text around them is not all digits, with or without + and a country's. */
const A_NUMBER = /(?<![\d.+])(?:\+\d{1,3}[ .-]?)?\(?\d{3}\)?[ .-]?\d{3}[ .-]\d{4}(?!\d)/g;

const labelOf = (text: string): string | null => {
  const label = text
    .replace(/^[\s*•\-–>|_#]+/, '')
    .replace(/[\s:*|_]+$/, '')
    .trim();
  return label !== '' && label.length <= LONGEST_LABEL && /\p{L}/u.test(label) ? label : null;
};

/** Two cells are a label and its value, also behind the number of the row; so are those of a header and of the one row below it. */
function* labelledCells(rows: readonly (readonly string[])[]): Generator<[string, string]> {
  for (const row of rows) {
    const pair = row.length === 3 && /^\W*\d{0,3}\W*$/.test(row[0]!) ? row.slice(1) : row;
    const label = pair.length === 2 ? labelOf(pair[0]!) : null;
    if (label) yield [label, pair[1]!];
  }
  const wide = rows.filter((row) => row.length > 2);
  const [header, record] = wide;
  if (wide.length === 2 && header!.length === record!.length && header!.filter(isKnown).length > 1)
    for (const [i, cell] of header!.entries()) {
      const label = labelOf(cell);
      if (label) yield [label, record![i]!];
    }
}

/** Whether something is called as what an inquiry says, so that it is a label though nothing marks it as one. */
const isKnown = (text: string): boolean => {
  const label = labelOf(text);
  if (label === null || label.length > 40 || label.split(' ').length > 5 || /[.!]$|\d{3}/.test(text.trim()))
    return false;
  return WORDS_LABEL_ALONE.test(label) || guessColumns([label], [], [])[0]!.to !== 'skip';
};
const WORDS_LABEL_ALONE =
  /^(?:your )?(?:message|comments?|questions?|notes?|details|mensaje|nachricht|remarques?)$/i;

/** What is written under such a label goes on until the next label, or the foot of the letter. */
const WORDS_LABEL = /message|comment|question|note|details|request|inquir|enquir|mensaje|nachricht|remarque/i;
const FOOT =
  /^(?:--|__|©|this (?:e-?mail|message)|sent (?:by|from|via)|you (?:are|re)ceiv|reply to this|unsubscribe|kind regards|the .{0,40} team$)/i;
const MOST_WORDS = 40;

/** `Name: Ana`, `*Name*: Ana`, and a label alone on its line with its value on the next. An address or a time is no label. */
function* labelledLines(lines: readonly string[]): Generator<[string, string]> {
  const labels = lines.map(labelIn);
  for (const [i, found] of labels.entries()) {
    if (!found) continue;
    const { label, value } = found;
    if (WORDS_LABEL.test(label)) yield [label, wordsUnder(lines, labels, i, value)];
    else if (value !== '') yield [label, value];
    else if (lines[i + 1] !== undefined && !labels[i + 1]) yield [label, lines[i + 1]!];
  }
}

/** Without a colon only what is called as an inquiry calls it is a label: before a dash, an equals sign, or alone. */
function unmarked(line: string): Labelled | null {
  if (isKnown(line)) return { label: labelOf(line)!, value: '' };
  const found = /^([^=–—-]{1,40}?)(?:\s+[–—-]\s+|\s*=\s*)(.+)$/u.exec(line);
  return found && isKnown(found[1]!) ? { label: labelOf(found[1]!)!, value: found[2]!.trim() } : null;
}

interface Labelled {
  label: string;
  value: string;
}

function labelIn(line: string): Labelled | null {
  const found = /^([^:：]{1,60}?)\s*[:：]\s*(.*)$/u.exec(line);
  if (!found) return unmarked(line);
  if (/^\W*(?:https?|mailto|tel)$/i.test(found[1]!) || /\d$/.test(found[1]!)) return null;
  const label = labelOf(found[1]!);
  return label === null ? null : { label, value: found[2]!.replace(/^\*+\s*|\s*\*+$/g, '').trim() };
}

function wordsUnder(
  lines: readonly string[],
  labels: readonly (Labelled | null)[],
  from: number,
  value: string,
): string {
  const words = [value];
  for (let i = from + 1; i < lines.length && i - from <= MOST_WORDS; i += 1) {
    if (labels[i] || FOOT.test(lines[i]!)) break;
    words.push(lines[i]!);
  }
  return words.filter((line) => line !== '').join('\n');
}
