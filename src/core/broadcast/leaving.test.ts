import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { HoursTable } from '../clearance/hours';
import { SHIPPED_RULES } from '../clearance/rules';
import { placeOf } from '../phone/place';
import { DAY, HOUR, MINUTE } from '../shared/instant';
import { planLeaving, type Leg } from './leaving';

const at = Date.parse('2026-12-05T17:00:00Z');
const leg = (part: Partial<Leg> = {}): Leg => ({
  from: at,
  people: 600,
  parts: 600,
  senderId: 'n1',
  open: null,
  ...part,
});
const number = (part: object = {}) => ({ id: 'n1', partsPerSecond: 10, capLeft: null, cap: null, ...part });
const sum = (steps: readonly { people: number }[]) => steps.reduce((all, { people }) => all + people, 0);

describe('when how many leave', () => {
  it('a number carries so many parts a second', () => {
    const plan = planLeaving([leg({ people: 6_000, parts: 12_000 })], [number()], null, at);
    expect(plan).toMatchObject({ first: at, last: at + 20 * MINUTE, never: 0 });
    expect(plan.steps).toHaveLength(20);
    expect(plan.senders).toEqual([{ id: 'n1', people: 6_000, parts: 12_000, last: at + 20 * MINUTE }]);
  });
  it('a pace is kept, whatever the number could', () => {
    const plan = planLeaving([leg({ people: 60, parts: 60 })], [number()], { people: 20, per: 'hour' }, at);
    expect(plan.last).toBe(at + 3 * HOUR);
    expect(sum(plan.steps.filter((step) => step.at < at + HOUR))).toBe(20);
  });
  it('evenly until an instant', () => {
    const plan = planLeaving([leg({ people: 240, parts: 240 })], [number()], { until: at + 2 * HOUR }, at);
    expect(plan.last).toBe(at + 2 * HOUR);
    expect(sum(plan.steps.filter((step) => step.at < at + HOUR))).toBe(120);
  });
  it('who is held leaves when they may, at the pace', () => {
    const legs = [leg({ people: 20, parts: 20 }), leg({ from: at + 10 * HOUR, people: 40, parts: 40 })];
    const plan = planLeaving(legs, [number()], { people: 20, per: 'hour' }, at);
    expect(plan.last! - at).toBeGreaterThanOrEqual(12 * HOUR);
    expect(plan.last! - at).toBeLessThanOrEqual(12 * HOUR + 15 * MINUTE);
  });
  it('nobody leaves when it is closed where they are', () => {
    const open = new HoursTable(SHIPPED_RULES).spans(placeOf({ number: '+13035550101' }), null, at, 15);
    // 10:00 in Denver: eleven hours are left of the day, at fifty an hour.
    const plan = planLeaving(
      [leg({ people: 1_000, parts: 1_000, open })],
      [number()],
      { people: 50, per: 'hour' },
      at,
    );
    for (const step of plan.steps)
      expect(open.some((span) => step.at >= span.from - HOUR && step.at < span.to)).toBe(true);
    expect(plan.last).toBe(Date.parse('2026-12-06T15:00:00Z') + 9 * HOUR);
  });
  it('a daily cap puts the rest on the next day', () => {
    const plan = planLeaving(
      [leg({ people: 300, parts: 300 })],
      [number({ capLeft: 100, cap: 200 })],
      null,
      at,
    );
    expect(sum(plan.steps.filter((step) => step.at < at + HOUR))).toBe(100);
    expect(plan.never).toBe(0);
    expect(plan.last! - at).toBeGreaterThanOrEqual(DAY);
  });
  it('what never has its turn is said', () =>
    expect(
      planLeaving([leg({ people: 10_000, parts: 10_000 })], [number()], { people: 1, per: 'hour' }, at).never,
    ).toBe(10_000 - 15 * 24));
  it('of nobody there is nothing to show', () =>
    expect(planLeaving([], [], null, at)).toMatchObject({ steps: [], first: null, last: null, never: 0 }));
  it('loses nobody, and shows at most 72 steps', () =>
    fc.assert(
      fc.property(
        fc.array(
          fc.record({
            from: fc.integer({ min: 0, max: 3 * DAY }),
            people: fc.integer({ min: 1, max: 4_000 }),
          }),
          {
            minLength: 1,
            maxLength: 12,
          },
        ),
        fc.option(fc.integer({ min: 1, max: 400 })),
        (groups, people) => {
          const legs = groups.map((group) =>
            leg({ from: at + group.from, people: group.people, parts: group.people }),
          );
          const plan = planLeaving(legs, [number()], people === null ? null : { people, per: 'minute' }, at);
          expect(sum(plan.steps) + plan.never).toBe(legs.reduce((all, one) => all + one.people, 0));
          expect((plan.last! - plan.first!) / plan.step).toBeLessThanOrEqual(72);
        },
      ),
      { numRuns: 40 },
    ));
});
