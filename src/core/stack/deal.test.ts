import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { deal, type How } from './deal';

const rows = (...areas: string[]) => areas.map((area, i) => ({ id: `m${i}`, area }));
const AB = [{ id: 'a' }, { id: 'b' }];
const told = (dealt: Map<string, string | null>) =>
  [...dealt]
    .sort()
    .map(([, holder]) => holder ?? '-')
    .join('');

describe('people are dealt to stacks', () => {
  it.each<[string, How, string[], { id: string; count?: number }[], string]>([
    ['evenly', 'evenly', ['1', '1', '1', '1', '1'], AB, 'ababa'],
    [
      'as many as was said, the rest nobody’s',
      'counts',
      ['1', '1', '1', '1'],
      [
        { id: 'a', count: 1 },
        { id: 'b', count: 2 },
      ],
      'abb-',
    ],
    ['none where none was said', 'counts', ['1'], AB, '-'],
    ['by area, neighbours together', 'areas', ['1', '2', '1', '2'], AB, 'abab'],
    ['by area, a large one cut into shares', 'areas', ['1', '1', '1', '1'], AB, 'aabb'],
    ['to nobody, where there is nobody', 'evenly', ['1'], [], '-'],
  ])('%s', (_, how, areas, holders, expected) =>
    expect(told(deal(rows(...areas), holders, how))).toBe(expected),
  );

  it('each once, and nobody gets more than a share beyond another where they are dealt evenly', () => {
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom('303', '719', '970'), { maxLength: 60 }),
        fc.integer({ min: 1, max: 7 }),
        fc.constantFrom<How>('evenly', 'areas'),
        (areas, holders, how) => {
          const dealt = deal(
            rows(...areas),
            Array.from({ length: holders }, (_, i) => ({ id: `s${i}` })),
            how,
          );
          expect(dealt.size).toBe(areas.length);
          expect([...dealt.values()]).not.toContain(null);
          const counts = Array.from(
            { length: holders },
            (_, i) => [...dealt.values()].filter((one) => one === `s${i}`).length,
          );
          const most = how === 'evenly' ? 1 : Math.ceil(areas.length / holders);
          expect(Math.max(...counts) - Math.min(...counts)).toBeLessThanOrEqual(most);
        },
      ),
    );
  });
});
