import { XMLParser, XMLValidator } from 'fast-xml-parser';
import { cleanText } from '../shared/clean-text';
import { ok, refuse, type Result } from '../shared/result';
import { DEEPEST, isTooDeep, type ArrivalFormat, type Tree } from './tree';

export type BodyRefusal = 'unknown-type' | 'not-readable' | 'too-deep' | 'declares-entities' | 'empty';

export const BODY_WORDS: Record<BodyRefusal, string> = {
  'unknown-type': 'Send JSON, form data, XML, or the values in the address.',
  'not-readable': 'The body cannot be read as what its Content-Type says.',
  'too-deep': 'The body is nested deeper than 32 levels.',
  'declares-entities': 'The XML declares a document type. Send it without one: entities are not read.',
  empty: 'There is nothing in it.',
};

/** How a body is written, by its Content-Type. Null: in no way that is understood. */
export function formatOf(contentType: string): ArrivalFormat | null {
  const type = contentType.split(';')[0]!.trim().toLowerCase();
  if (type === 'application/json' || type.endsWith('+json')) return 'json';
  if (type === 'application/x-www-form-urlencoded' || type === 'multipart/form-data') return 'form';
  return type === 'application/xml' || type === 'text/xml' || type.endsWith('+xml') ? 'xml' : null;
}

/** Reads a body into a tree. `form` is as in a URL; parts of `multipart/form-data` are taken apart before. */
export function readBody(format: 'json' | 'form' | 'query' | 'xml', body: string): Result<Tree, BodyRefusal> {
  const written = READERS[format](body);
  if (!written.ok) return written;
  const tree = opened(written.value);
  if (isTooDeep(tree)) return refuse('too-deep');
  return isEmptyTree(tree) ? refuse('empty') : ok(cleanTree(tree));
}

const READERS: Record<'json' | 'form' | 'query' | 'xml', (body: string) => Result<Tree, BodyRefusal>> = {
  json: readJson,
  form: (body) => ok(treeOfPairs(new URLSearchParams(body))),
  query: (body) => ok(treeOfPairs(new URLSearchParams(body))),
  xml: readXml,
};

function readJson(body: string): Result<Tree, BodyRefusal> {
  if (nestsTooDeep(body)) return refuse('too-deep');
  try {
    return ok(JSON.parse(body.replace(/^\uFEFF/, '')) as Tree);
  } catch {
    return refuse('not-readable');
  }
}

/** Counts brackets before anything is made of them. */
function nestsTooDeep(body: string): boolean {
  let depth = 0;
  let quoted = false;
  for (let i = 0; i < body.length; i += 1) {
    const letter = body[i];
    if (quoted) {
      if (letter === '\\') i += 1;
      else if (letter === '"') quoted = false;
    } else if (letter === '"') quoted = true;
    else if (letter === '{' || letter === '[') depth += 1;
    else if (letter === '}' || letter === ']') depth -= 1;
    if (depth > 64) return true;
  }
  return false;
}

/** Names with several values become lists. */
export function treeOfPairs(pairs: Iterable<[string, string]>): Tree {
  const tree = new Map<string, string[]>();
  for (const [name, value] of pairs) {
    const known = tree.get(name);
    if (known) known.push(value);
    else tree.set(name, [value]);
  }
  return Object.fromEntries(
    [...tree].map(([name, values]) => [name, values.length === 1 ? values[0]! : values]),
  );
}

/** A declared document type is how XML reads files and grows without end; nobody needs one to send an inquiry. */
function readXml(body: string): Result<Tree, BodyRefusal> {
  if (/<!(?:DOCTYPE|ENTITY)/i.test(body)) return refuse('declares-entities');
  if (elementsTooDeep(body)) return refuse('too-deep');
  if (XMLValidator.validate(body) !== true) return refuse('not-readable');
  const parser = new XMLParser({
    ...{ processEntities: true, htmlEntities: false, ignoreAttributes: false, attributeNamePrefix: '' },
    ...{ parseTagValue: false, parseAttributeValue: false, removeNSPrefix: true, ignoreDeclaration: true },
    ...{ textNodeName: 'value' },
  });
  return ok(parser.parse(body) as Tree);
}

/** Counts tags before a reader builds something of them. */
function elementsTooDeep(body: string): boolean {
  let depth = 0;
  for (const [, closing, alone] of body.matchAll(/<(\/)?[^!?<>][^<>]*?(\/)?>/g)) {
    depth += closing ? -1 : alone ? 0 : 1;
    if (depth > 64) return true;
  }
  return false;
}

/** A form that sends itself on as text within a value: what is JSON there is read as such. */
function opened(tree: Tree, depth = 0): Tree {
  if (typeof tree === 'string') return depth < DEEPEST ? jsonIn(tree, depth) : tree;
  if (typeof tree !== 'object' || tree === null || depth >= DEEPEST) return tree;
  return Array.isArray(tree)
    ? tree.map((below) => opened(below, depth + 1))
    : Object.fromEntries(Object.entries(tree).map(([name, below]) => [name, opened(below, depth + 1)]));
}

function jsonIn(text: string, depth: number): Tree {
  if (!/^\s*(?:\{\s*"|\[\s*\{\s*")/.test(text)) return text;
  const read = readJson(text);
  return read.ok ? opened(read.value, depth + 1) : text;
}

const isEmptyTree = (tree: Tree): boolean =>
  tree === null ||
  tree === '' ||
  (typeof tree === 'object' && (Array.isArray(tree) ? tree : Object.keys(tree)).length === 0);

/** Every name and value well-formed, so that it can be kept and shown. */
export function cleanTree(tree: Tree): Tree {
  if (typeof tree === 'string') return cleanText(tree);
  if (Array.isArray(tree)) return tree.map(cleanTree);
  if (typeof tree !== 'object' || tree === null) return tree;
  return Object.fromEntries(Object.entries(tree).map(([name, below]) => [cleanText(name), cleanTree(below)]));
}
