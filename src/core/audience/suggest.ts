import type { Leaf } from './condition';
import { fold } from './fold';
import type { AskableField } from './fields';
import { phraseOf } from './sentence';

/** Something a condition can name, with its kind. */
export interface NamedThing {
  kind:
    | 'tag'
    | 'list'
    | 'stage'
    | 'program'
    | 'broadcast'
    | 'segment'
    | 'import'
    | 'batch'
    | 'offer'
    | 'teammate'
    | 'sequence'
    | 'step'
    | 'item';
  id: string;
  name: string;
}

export interface Suggestion {
  words: string;
  leaf: Leaf;
}

/**
 * What somebody may mean who types into the box for a new condition: questions whose words hold all that was
 * typed, those that begin so first. Nothing typed: one of each kind, to choose from.
 */
export function suggest(
  typed: string,
  things: readonly NamedThing[],
  fields: ReadonlyMap<string, AskableField>,
  most = 12,
): Suggestion[] {
  const whole = fold(typed.trim());
  const wanted = whole.split(/\s+/).filter(Boolean);
  const known = { fields, names: new Map(things.map(({ id, name }) => [id, name])) };
  const found: { suggestion: Suggestion; rank: number }[] = [];
  for (const leaf of wanted.length === 0 ? openers(things, fields) : questions(things, fields)) {
    const words = phraseOf(leaf, known);
    const folded = fold(words);
    if (!wanted.every((word) => folded.includes(word))) continue;
    const rank = folded.startsWith(whole) ? 0 : folded.includes(` ${wanted[0] ?? ''}`) ? 1 : 2;
    found.push({ suggestion: { words, leaf }, rank });
  }
  return found
    .sort((one, other) => one.rank - other.rank)
    .slice(0, most)
    .map(({ suggestion }) => suggestion);
}

function* openers(things: readonly NamedThing[], fields: ReadonlyMap<string, AskableField>): Generator<Leaf> {
  const first = (kind: NamedThing['kind']) => things.find((thing) => thing.kind === kind);
  for (const kind of ['program', 'tag', 'list', 'broadcast', 'segment'] as const) {
    const thing = first(kind);
    if (thing) yield aboutThing(thing)[0]!;
  }
  yield { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  yield { ask: 'texts', test: 'at-most', count: 0, days: 7 };
  for (const field of [...fields.values()].filter(({ name }) =>
    ['place', 'first_name', 'created', 'stage'].includes(name),
  ))
    yield aboutField(field)[0]!;
}

function* questions(
  things: readonly NamedThing[],
  fields: ReadonlyMap<string, AskableField>,
): Generator<Leaf> {
  for (const thing of things) yield* aboutThing(thing);
  yield { ask: 'did', has: true, act: 'replied', of: {}, days: 90 };
  yield { ask: 'did', has: false, act: 'replied', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'clicked', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'redeemed', of: {}, days: 90 };
  yield { ask: 'did', has: true, act: 'opted-out', of: {}, days: 90 };
  yield { ask: 'sent', has: true, outcome: 'failed', of: {}, days: 90 };
  yield { ask: 'sent', has: false, outcome: 'got', of: {}, days: 30 };
  yield { ask: 'texts', test: 'at-least', count: 3, days: 7 };
  yield { ask: 'texts', test: 'at-most', count: 0, days: 7 };
  for (const field of fields.values()) yield* aboutField(field);
}

function aboutThing({ kind, id }: NamedThing): Leaf[] {
  switch (kind) {
    case 'tag':
    case 'list':
    case 'segment':
    case 'import':
    case 'batch':
      return [
        { ask: kind, id, has: true },
        { ask: kind, id, has: false },
      ];
    case 'program':
      return [
        { ask: 'consent', program: id, state: 'in', has: true },
        { ask: 'consent', channel: 'email', program: id, state: 'in', has: true },
        { ask: 'consent', program: id, state: 'out', has: true },
        { ask: 'consent', program: id, state: 'never', has: true },
      ];
    case 'broadcast':
      return [
        { ask: 'sent', has: false, outcome: 'got', of: { broadcast: id } },
        { ask: 'sent', has: true, outcome: 'got', of: { broadcast: id } },
        { ask: 'sent', has: true, outcome: 'failed', of: { broadcast: id } },
        { ask: 'did', has: true, act: 'replied', of: { broadcast: id } },
        { ask: 'did', has: true, act: 'opted-out', of: { broadcast: id } },
      ];
    case 'offer':
      return [
        { ask: 'voucher', id, state: 'valid', has: true },
        { ask: 'voucher', id, state: 'ending', has: true, days: 2 },
        { ask: 'voucher', id, state: 'ended', has: true },
        { ask: 'voucher', id, state: 'used', has: true },
        { ask: 'voucher', id, state: 'got', has: false },
      ];
    case 'stage':
      return [{ ask: 'field', field: 'stage', test: 'is', value: id }];
    case 'teammate':
      return [{ ask: 'field', field: 'owner', test: 'is', value: id }];
    case 'sequence':
    case 'step':
    case 'item':
      return [
        { ask: 'did', has: true, act: 'replied', of: { [kind]: id } },
        { ask: 'did', has: false, act: 'replied', of: { [kind]: id } },
        { ask: 'sent', has: true, outcome: 'got', of: { [kind]: id } },
        { ask: 'sent', has: false, outcome: 'got', of: { [kind]: id } },
      ];
  }
}

/** A first question about a field, with a value where one can be guessed, and whether it is empty. */
export function aboutField(field: AskableField): Leaf[] {
  const ask = { ask: 'field' as const, field: field.name };
  const options = (field.options ?? []).map(({ value }): Leaf => ({ ...ask, test: 'is', value }));
  const empty: Leaf[] = [
    { ...ask, test: 'empty' },
    { ...ask, test: 'not-empty' },
  ];
  if (field.kind === 'date')
    return [{ ...ask, test: 'anniversary', days: 7 }, { ...ask, test: 'in-last', days: 30 }, ...empty];
  if (field.kind === 'instant') return [{ ...ask, test: 'in-last', days: 30 }, ...empty];
  return options.length > 0 ? [...options, ...empty] : empty.toReversed();
}
