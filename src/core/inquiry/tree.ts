/**
 * What came through a source, whatever its dress, as one tree of JSON. A value in it is named by a JSON Pointer (RFC 6901).
 * Forms, XML and mail are read into such a tree as well, so that there is one way to name a value.
 */
export type Tree = string | number | boolean | null | Tree[] | { [name: string]: Tree };

/** How what came was written. */
export type ArrivalFormat = 'json' | 'form' | 'query' | 'xml' | 'mail' | 'row';

export const FORMAT_WORDS: Record<ArrivalFormat, string> = {
  json: 'JSON',
  form: 'form data',
  query: 'an address with values',
  xml: 'XML',
  mail: 'a letter',
  row: 'a row of a file',
};

/** Nothing that people write is nested deeper. */
export const DEEPEST = 32;
/** So many values of one arrival are looked at. */
const MOST_LEAVES = 500;

export interface LeafValue {
  pointer: string;
  value: string;
}

/** Lists of named entries (`[{ "name": "email", "value": "…" }]`) are read by the names, since their order changes. */
const NAMES = ['name', 'label', 'key', 'field', 'question', 'title', 'id', 'field_name'];
const VALUES = ['value', 'values', 'answer', 'answers', 'response', 'text', 'content'];

type Branch = { [name: string]: Tree };

const isBranch = (tree: Tree | undefined): tree is Branch =>
  typeof tree === 'object' && tree !== null && !Array.isArray(tree);

/**
 * The name and the value of an entry of such a list; null: it is none. Of a field that is described by itself
 * (`{ "field": { "ref": "phone" }, "type": "phone_number", "phone_number": "…" }`) the value may be called as its type is.
 */
function namedEntry(entry: Tree): [name: string, value: Tree] | null {
  if (!isBranch(entry)) return null;
  const { field, type } = entry;
  const described = isBranch(field) ? nameOf(field, DESCRIBED) : null;
  const name = described ?? nameOf(entry, NAMES);
  if (name === null) return null;
  const typed = described !== null && typeof type === 'string' ? entry[type] : undefined;
  const value = typed ?? VALUES.map((one) => entry[one]).find((one) => one !== undefined && one !== name);
  return value === undefined ? null : [name, value];
}

const DESCRIBED = ['ref', ...NAMES];

const nameOf = (branch: Branch, names: readonly string[]): string | null =>
  (names.map((one) => branch[one]).find((one) => typeof one === 'string' && one !== '') as string) ?? null;

/** The list as names and values, if all its entries are such and no name stands twice. Every value of it is asked for by itself. */
function asNamed(list: readonly Tree[]): ReadonlyMap<string, Tree> | null {
  if (!KNOWN.has(list)) KNOWN.set(list, readNamed(list));
  return KNOWN.get(list)!;
}

const KNOWN = new WeakMap<readonly Tree[], ReadonlyMap<string, Tree> | null>();

function readNamed(list: readonly Tree[]): Map<string, Tree> | null {
  const named = new Map<string, Tree>();
  for (const entry of list) {
    const one = namedEntry(entry);
    if (!one || named.has(one[0])) return null;
    named.set(...one);
  }
  return named.size > 0 ? named : null;
}

const escape = (token: string): string => token.replaceAll('~', '~0').replaceAll('/', '~1');
const unescape = (token: string): string => token.replaceAll('~1', '/').replaceAll('~0', '~');

/** Names that say only that a value stands there, or which of several. */
const SAYS_NOTHING = /^(?:\d+|values?|label|full)$/i;

/** The last name in a pointer that says something: what the value is called. */
export function nameIn(pointer: string): string {
  const names = pointer.split('/').slice(1).map(unescape);
  return names.findLast((name) => !SAYS_NOTHING.test(name)) ?? names.at(-1) ?? '';
}

const isLeaf = (tree: Tree): tree is string | number | boolean | null =>
  typeof tree !== 'object' || tree === null;

/** Every value with its pointer, in the order in which they stand. Empty ones are left out. */
export function leavesOf(tree: Tree): LeafValue[] {
  const leaves: LeafValue[] = [];
  const visit = (at: Tree, pointer: string, depth: number): void => {
    if (leaves.length >= MOST_LEAVES || depth > DEEPEST) return;
    if (isLeaf(at)) {
      const value = textOf(at);
      if (value !== '') leaves.push({ pointer, value });
      return;
    }
    for (const [name, below] of entriesOf(at)) visit(below, `${pointer}/${escape(name)}`, depth + 1);
  };
  visit(tree, '', 0);
  return leaves;
}

/** What stands below, by name or by place. */
function entriesOf(at: Tree[] | Branch): [string, Tree][] {
  if (!Array.isArray(at)) return Object.entries(at);
  const named = asNamed(at);
  return named ? [...named] : at.map((below, i) => [String(i), below]);
}

const textOf = (leaf: string | number | boolean | null): string =>
  leaf === null ? '' : typeof leaf === 'boolean' ? (leaf ? 'yes' : 'no') : String(leaf).trim();

/** The value at a pointer; of a list of values all of them, with commas. Empty: there is none. */
export function valueAt(tree: Tree, pointer: string): string {
  let at: Tree | undefined = tree;
  for (const token of pointer.split('/').slice(1).map(unescape)) at = below(at, token);
  if (at === undefined) return '';
  if (isLeaf(at)) return textOf(at);
  return Array.isArray(at) && at.every(isLeaf)
    ? at
        .map((leaf) => textOf(leaf as string))
        .filter((text) => text !== '')
        .join(', ')
    : '';
}

/** Names are taken as they stand, else in another case: the same portal writes `Phone` today and `phone` tomorrow. */
function below(at: Tree | undefined, token: string): Tree | undefined {
  if (at === undefined || isLeaf(at)) return undefined;
  if (isBranch(at)) {
    const name = Object.hasOwn(at, token) ? token : likeName(Object.keys(at), token);
    return name === undefined ? undefined : at[name];
  }
  const named = asNamed(at);
  return named?.get(token) ?? named?.get(likeName(named.keys(), token) ?? token) ?? at[Number(token)];
}

const likeName = (names: Iterable<string>, wanted: string): string | undefined =>
  [...names].find((name) => name.toLowerCase() === wanted.toLowerCase());

/** Whether something is nested deeper than anything people write. Walks without recursion: ten thousand levels must not fall over. */
export function isTooDeep(tree: Tree): boolean {
  let level: Tree[] = [tree];
  for (let depth = 0; level.length > 0; depth += 1) {
    if (depth > DEEPEST) return true;
    level = level.flatMap((at) => (isLeaf(at) ? [] : Array.isArray(at) ? at : Object.values(at)));
  }
  return false;
}
