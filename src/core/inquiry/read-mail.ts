import { cleanText, cutText } from '../shared/clean-text';
import type { Tree } from './tree';

/** A letter as it came: its words as plain text, and the tables of its HTML part. */
export interface Letter {
  from: string;
  fromName: string;
  subject: string;
  /** The plain part; else the HTML part as text. */
  text: string;
  /** Rows of two or more cells, of all tables, in order. */
  rows: readonly (readonly string[])[];
}

const MOST_LINES = 200;
const LONGEST_LINE = 2_000;
const LONGEST_LABEL = 60;

/**
 * A letter as a tree: what stands behind a label (`Name: Ana`, or a row of a table with two cells), the lines as they are,
 * and the rows of wider tables. `/labels/Name` is what a mapping names; `/lines/3` where a portal writes no labels.
 */
export function treeOfLetter({ from, fromName, subject, text, rows }: Letter): Tree {
  const lines = cleanText(text)
    .split(/\r?\n/)
    .map((line) => cutText(line.replace(/\s+/g, ' ').trim(), LONGEST_LINE))
    .filter((line) => line !== '')
    .slice(0, MOST_LINES);
  const cells = rows.map((row) => row.map((cell) => cleanText(cell).replace(/\s+/g, ' ').trim()));
  const labels = new Map<string, string>();
  // A label may stand twice (a header, then the record): the first that says something counts.
  const put = (label: string, value: string) => {
    if (value !== '' && !labels.has(label)) labels.set(label, value);
  };
  for (const [label, value] of labelledCells(cells)) put(label, value);
  for (const [label, value] of labelledLines(lines)) put(label, value);
  return {
    from: { name: cleanText(fromName), address: cleanText(from) },
    subject: cleanText(subject),
    ...(labels.size > 0 ? { labels: Object.fromEntries(labels) } : {}),
    lines,
    ...(cells.some((row) => row.length > 2) ? { cells: cells.filter((row) => row.length > 2) } : {}),
  };
}

const labelOf = (text: string): string | null => {
  const label = text
    .replace(/^[\s*•\-–>|_#]+/, '')
    .replace(/[\s:*|_]+$/, '')
    .trim();
  return label !== '' && label.length <= LONGEST_LABEL && /\p{L}/u.test(label) ? label : null;
};

function* labelledCells(rows: readonly (readonly string[])[]): Generator<[string, string]> {
  for (const row of rows) {
    const label = row.length === 2 ? labelOf(row[0]!) : null;
    if (label) yield [label, row[1]!];
  }
}

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

interface Labelled {
  label: string;
  value: string;
}

function labelIn(line: string): Labelled | null {
  const found = /^([^:：]{1,60}?)\s*[:：]\s*(.*)$/u.exec(line);
  if (!found || /^\W*(?:https?|mailto|tel)$/i.test(found[1]!) || /\d$/.test(found[1]!)) return null;
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
