import fc from 'fast-check';
import { Temporal } from 'temporal-polyfill';
import { describe, expect, it } from 'vitest';
import { instantAt, offsetAt } from './zone';

/** Zones with one change a year too many, none, half an hour, a day that was skipped, and rules of their own. */
const ZONES = [
  ...['America/Denver', 'America/Phoenix', 'America/St_Johns', 'Europe/Dublin', 'Africa/Casablanca'],
  ...['Australia/Lord_Howe', 'Pacific/Apia', 'America/Santiago', 'Asia/Kathmandu', 'UTC'],
];
const zone = fc.constantFrom(...ZONES);

describe('a zone', () => {
  it('is as far from UTC as Temporal says, at any instant', () => {
    fc.assert(
      fc.property(zone, fc.integer({ min: 0, max: Date.UTC(2045, 0) }), (name, at) => {
        const asked = Temporal.Instant.fromEpochMilliseconds(at).toZonedDateTimeISO(name);
        expect(offsetAt(name, at)).toBe(asked.offsetNanoseconds / 1e6);
      }),
      { numRuns: 500 },
    );
  });

  it('changes its clocks at the very instant', () => {
    const spring = Date.UTC(2026, 2, 8, 9);
    expect(offsetAt('America/Denver', spring - 1)).toBe(-7 * 3_600_000);
    expect(offsetAt('America/Denver', spring)).toBe(-6 * 3_600_000);
    expect(offsetAt('America/Denver', spring - 1)).toBe(-7 * 3_600_000);
  });

  it('shows a time of day when Temporal says, also around a change', () => {
    const time = fc
      .integer({ min: 0, max: 24 * 60 - 1 })
      .map((m) => `${String(Math.floor(m / 60)).padStart(2, '0')}:${String(m % 60).padStart(2, '0')}`);
    const day = fc
      .integer({ min: 0, max: 365 * 60 })
      .map((n) => new Date(n * 86_400_000).toISOString().slice(0, 10));
    fc.assert(
      fc.property(zone, day, time, (name, on, at) => {
        const asked = Temporal.PlainDate.from(on).toZonedDateTime({ timeZone: name, plainTime: at });
        expect(instantAt(on, at, name)).toBe(asked.epochMilliseconds);
      }),
      { numRuns: 2_000 },
    );
  });

  it('that does not exist is refused', () => {
    expect(() => offsetAt('Mars/Olympus', 0)).toThrow(RangeError);
  });
});
