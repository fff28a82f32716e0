import type { OwnField } from '../people/values';
import { clean } from '../people/values';
import { mayMeanNoTexts, readPermission } from '../import/permission';
import { readRow, type RowPerson } from '../import/row';
import type { ColumnMap } from '../import/columns';
import { fold } from '../audience/fold';
import { interpret } from '../reply/interpret';
import { cutText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';
import {
  INQUIRY_TARGET_WORDS,
  type InquiryTarget,
  type KindRule,
  type Mapping,
  type MappingRule,
  type OwnTarget,
} from './mapping';
import { valueAt, type Tree } from './tree';

/** What somebody asked for, read. */
export interface InquiryRead {
  person: RowPerson;
  kind: string;
  /** What they wrote; empty: nothing. */
  words: string;
  /** They agreed where they asked, by an act of their own (a box they ticked). */
  agreed: boolean;
  /** What they wrote may mean that they want no texts: a human reads it before anything is sent. */
  noTexts: boolean;
  /** The id the sender gave it, by which it is known again. Null: none. */
  senderId: string | null;
}

export interface ReadingContext {
  own: ReadonlyMap<string, OwnField>;
  country: string;
}

const LONGEST_WORDS = 4_000;
const LONGEST_ID = 200;

const OWN_TARGETS: ReadonlySet<string> = new Set(Object.keys(INQUIRY_TARGET_WORDS));

/**
 * Reads what came as it was mapped. A value that is not what its field holds is left out and told (`person.told`); refused,
 * with a sentence, is only what names neither a number nor an e-mail address.
 */
export function readInquiry(
  tree: Tree,
  mapping: Mapping,
  { own, country }: ReadingContext,
): Result<InquiryRead, string> {
  const values = new Map(mapping.rules.map((rule) => [rule.to, textFor(tree, rule)]));
  const text = (to: OwnTarget): string => values.get(to) ?? '';
  const columns = mapping.rules.filter(({ to }) => !OWN_TARGETS.has(to));
  if (!columns.some(({ to }) => to === 'number' || to === 'email'))
    return refuse('nothing is mapped to a number or an e-mail address yet');
  const person = readRow(
    columns.map((rule) => values.get(rule.to)!),
    columns.map(({ to, order }): ColumnMap => ({ to: to as ColumnMap['to'], order: order ?? null })),
    own,
    country,
  );
  if (!person.ok) return refuse(problemOf(values, person.reason));
  const id = clean(text('sender_id'));
  return ok({
    person: person.value,
    kind: kindOf(text('kind'), text('words'), mapping),
    words: cutText(text('words'), LONGEST_WORDS),
    // A ticked box says yes in many ways; a sentence of consent in its value is one of them, a refusal is none.
    agreed: readPermission('agreed', text('agreed')) === 'agreed',
    noTexts: wantsNoTexts(text('words')) || (person.value.permission ?? 'agreed') !== 'agreed',
    senderId: id === '' ? null : cutText(id, LONGEST_ID),
  });
}

const wantsNoTexts = (words: string): boolean =>
  mayMeanNoTexts(words) || interpret(clean(words)).meaning === 'opt-out';

/** Says what came in place of a number, where something did. */
function problemOf(values: ReadonlyMap<InquiryTarget, string>, reason: string): string {
  const said = clean(values.get('number') ?? '');
  return said === ''
    ? 'neither a number nor an e-mail address came'
    : `“${cutText(said, 40)}” as a number: ${reason}`;
}

function textFor(tree: Tree, { from, join = ' ', otherwise = '' }: MappingRule): string {
  const words = from.map((pointer) => valueAt(tree, pointer)).filter((value) => value !== '');
  return words.length > 0 ? words.join(join) : otherwise;
}

/** The kind whose words stand in what was chosen, else in what they wrote; a kind's own name is one of its words. */
export function kindOf(chosen: string, words: string, { kinds, otherKind }: Mapping): string {
  for (const text of [chosen, words]) {
    const found = text === '' ? null : kindIn(fold(text), kinds);
    if (found) return found;
  }
  return otherKind;
}

/** Of several the one whose word is the longest: `private school evening` is nearer than `school`. */
function kindIn(text: string, kinds: readonly KindRule[]): string | null {
  let best: { kind: string; length: number } | null = null;
  for (const { kind, words } of kinds)
    for (const word of [kind, ...words].map((one) => fold(one.trim())).filter((one) => one !== ''))
      if (holdsWords(text, word) && word.length > (best?.length ?? 0)) best = { kind, length: word.length };
  return best?.kind ?? null;
}

/** Whole words, also as `class_trip` writes them: whatever is neither letter nor digit parts them. */
function holdsWords(text: string, wanted: string): boolean {
  const words = (one: string) => ` ${one.replace(/[^\p{L}\p{N}]+/gu, ' ').trim()} `;
  return words(text).includes(words(wanted));
}
