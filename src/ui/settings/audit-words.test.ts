import { describe, expect, it } from 'vitest';
import { detailWords } from './audit-words';

const NAMES = { stg_1: 'Visited', acc_1: 'Ravi', tag_1: 'Saturn' };

describe('the detail of an entry', () => {
  it.each<[Record<string, unknown>, string]>([
    [{}, ''],
    [{ at: '2026-11-30T01:00:00.000Z', local: null }, 'at: Sun, Nov 29, 18:00'],
    [
      { at: '2026-11-30T01:00:00.000Z', local: '2026-11-29T18:00' },
      'at: Sun, Nov 29, 18:00, where each lives: Sun, Nov 29, 18:00',
    ],
    [{ do: 'label', on: true, label: 'tag_1', people: 1734 }, 'puts on “Saturn”, people: 1,734'],
    [{ do: 'stage', stage: null, people: 1 }, 'takes out of every stage, people: 1'],
    [{ do: 'owner', owner: 'acc_9', people: 2 }, 'gives to somebody gone, people: 2'],
    [{ until: '2026-06-30T01:00:00Z' }, 'until: Mon, Jun 29, 19:00'],
    [{ field: 'own.fav_planet', before: null, after: 'Saturn' }, 'fav planet: none → Saturn'],
    [{ after: 8, field: 'last_name', before: 7, why: 'asked' }, 'last name: 7 → 8, why: asked'],
    [{ before: 'stg_1', after: null }, 'Visited → none'],
    [
      { fields: ['firstName', 'own.a_b'], postal_address: 'a_b' },
      'fields: first name · a b, postal address: a_b',
    ],
    [{ people: 1356, share: 0.25 }, 'people: 1,356, share: 0.25'],
    [{ among: ['Ravi', 'Iris'], fields: [] }, 'among: Ravi · Iris, fields: none'],
    [{ begins: [{ kind: '', keeps: true }], cost: 900 }, 'begins: (kind: none, keeps: yes), cost: 900'],
    [{ stage: 'stg_1', to: ['acc_1', 'acc_2'] }, 'stage: Visited, to: Ravi · acc_2'],
    [{ day: '2026-11-30', name: 'null' }, 'day: Nov 30, 2026, name: null'],
  ])('%j', (detail, words) => expect(detailWords(detail, 'America/Denver', NAMES)).toBe(words));
});
