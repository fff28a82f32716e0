import { render, screen } from '@testing-library/react';
import { describe, expect, it } from 'vitest';
import { planLeaving } from '@/core/broadcast/leaving';
import { DAY, HOUR } from '@/core/shared/instant';
import { LeavingChart } from './leaving-chart';

const NOW = Date.parse('2026-11-26T19:00:00Z');
const numbers = [{ id: 'n', partsPerSecond: 10, capLeft: null, cap: null }];
const leg = (people: number) => ({ from: NOW, people, parts: people, senderId: 'n', open: null });
const chart = (people: number, perHour: number | null) =>
  render(
    <LeavingChart
      plan={planLeaving(
        [leg(people)],
        numbers,
        perHour === null ? null : { people: perHour, per: 'hour' },
        NOW,
      )}
      now={NOW}
      zone="America/Denver"
    />,
  );

describe('when how many leave', () => {
  it('is one sentence where all leave at once', () => {
    chart(100, null);
    expect(document.body.textContent).toBe('From 12:00 to about 12:01.');
    expect(screen.queryByRole('img')).toBeNull();
  });
  it('is a picture with the most in words where it takes longer', () => {
    chart(600, 100);
    expect(document.body.textContent).toContain('From 12:00 to about 18:00.');
    expect(screen.getByRole('img').getAttribute('aria-label')).toMatch(
      /^At most \d+ people in (5|15) minutes\.$/,
    );
  });
  it('says who has no turn within two weeks', () => {
    chart(5_000, 1);
    expect(document.body.textContent).toContain(
      `${(5_000 - (15 * DAY) / HOUR).toLocaleString('en-US')} people have no turn`,
    );
  });
  it('is nothing where nobody leaves', () => {
    chart(0, null);
    expect(document.body.textContent).toBe('');
  });
});
