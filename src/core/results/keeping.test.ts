import { describe, expect, it } from 'vitest';
import { cohortsOf, type StaySum } from './keeping';

const stay = (day: string, nth: number, what: StaySum['what'], n = 1): StaySum => ({ day, nth, what, n });

describe('cohorts', () => {
  it('are by month of coming, each watched from the day its people came', () => {
    const cohorts = cohortsOf(
      [
        { day: '2026-09-10', n: 8 },
        { day: '2026-09-20', n: 2 },
        { day: '2026-10-01', n: 5 },
      ],
      [stay('2026-09-10', 20, 'left', 2), stay('2026-09-10', 30, 'lapsed'), stay('2026-09-20', 5, 'left')],
      '2026-10-20',
    );
    expect(cohorts.map(({ month, people, watched }) => [month, people, watched])).toEqual([
      ['2026-09-01', 10, 40],
      ['2026-10-01', 5, 19],
    ]);
    // One of ten after five days, two of the nine after twenty; who lapsed went nowhere.
    expect(cohorts[0]!.steps.map(({ day, share }) => [day, Number(share.toFixed(4))])).toEqual([
      [0, 1],
      [5, 0.9],
      [20, 0.7],
    ]);
    expect(cohorts[1]!.steps).toHaveLength(1);
  });

  it('say who wrote in which month, of those for whom it is over', () => {
    const [cohort] = cohortsOf(
      [
        { day: '2026-09-01', n: 4 },
        { day: '2026-09-25', n: 6 },
      ],
      [
        stay('2026-09-01', 0, 'wrote', 1),
        stay('2026-09-01', 1, 'wrote', 3),
        stay('2026-09-25', 0, 'wrote', 2),
        stay('2026-09-25', 1, 'wrote', 5),
      ],
      '2026-11-02',
    );
    expect(cohort!.wrote).toEqual([
      { month: 0, count: 3, of: 10 },
      { month: 1, count: 3, of: 4 },
    ]);
  });

  it('leave out a month that an undone import emptied', () =>
    expect(cohortsOf([{ day: '2026-09-01', n: 0 }], [], '2026-10-01')).toEqual([]));
});
