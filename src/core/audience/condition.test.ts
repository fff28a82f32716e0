import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { branches, groupKind, groupOf, isGroup, leaves, type Condition, type Leaf } from './condition';
import { condition } from './testing/random';

const tag = (id: string): Leaf => ({ ask: 'tag', id, has: true });

describe('a tree of conditions', () => {
  it('gives its leaves from left to right, however deep they lie', () => {
    const tree: Condition = { all: [tag('a'), { any: [tag('b'), { none: [tag('c')] }] }, tag('d')] };
    expect([...leaves(tree)].map((leaf) => 'id' in leaf && leaf.id)).toEqual(['a', 'b', 'c', 'd']);
    expect([...leaves({ all: [] })]).toEqual([]);
    expect([...leaves(tag('a'))]).toEqual([tag('a')]);
  });

  it('is the same when its groups are taken apart and put together', () => {
    const again = (tree: Condition): Condition =>
      isGroup(tree) ? groupOf(groupKind(tree), branches(tree).map(again)) : tree;
    fc.assert(
      fc.property(condition, (tree) => {
        expect(again(tree)).toEqual(tree);
      }),
    );
  });
});
