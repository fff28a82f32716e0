import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { describe, expect, it } from 'vitest';
import { BenchClock, parseDuration } from './clock';
import { fixedBehaviour, NO_FAULTS, readFaults } from './faults';
import { Handsets } from './handsets';

describe('the bench’s clock', () => {
  it.each([
    ['PT15M', 900_000],
    ['PT1H', 3_600_000],
    ['P1D', 86_400_000],
    ['P1DT2H', 93_600_000],
    ['P2W', 1_209_600_000],
    ['PT0.5S', 500],
    ['PT90S', 90_000],
  ])('reads %s', (text, ms) => expect(parseDuration(text)).toBe(ms));

  it.each(['', 'P', 'PT', 'P1DT', '1D', 'P1M', 'P1Y', '-P1D', 'P-1D', 'tomorrow', 5, null, undefined])(
    'refuses %j',
    (text) => expect(parseDuration(text)).toBeNull(),
  );

  it('goes forward, tells who listens, and keeps its place over a restart', () => {
    const folder = mkdtempSync(join(tmpdir(), 'wren-clock-'));
    const file = join(folder, 'deep', 'clock.json');
    const clock = new BenchClock(file);
    let moves = 0;
    const stop = clock.onMove(() => moves++);
    clock.advance(60_000);
    stop();
    clock.advance(60_000);
    expect([moves, clock.offset, new BenchClock(file).offset]).toEqual([1, 120_000, 120_000]);
    expect(clock.now() - Date.now()).toBeGreaterThan(119_000);
    rmSync(folder, { recursive: true });
  });
});

describe('faults', () => {
  it('change one by one and leave the rest', () =>
    expect(readFaults({ lost_receipt_share: 0.5, drop_link_after: null }, NO_FAULTS)).toEqual({
      ...NO_FAULTS,
      lost_receipt_share: 0.5,
    }));
  it.each([
    [{ odd: 1 }, /^odd: not a fault/],
    [{ refuse_share: 1.5 }, /^refuse_share: a share/],
    [{ submit_latency_ms: -1 }, /^submit_latency_ms: give a number/],
    [{ submit_latency_ms: null }, /^submit_latency_ms: null/],
    [{ late_by: 5 }, /^late_by: give an ISO/],
    [[], /JSON object/],
    ['x', /JSON object/],
  ])('%j is refused in words', (input, sentence) => expect(readFaults(input, NO_FAULTS)).toMatch(sentence));
  it('come with the documented numbers', () =>
    expect(['+13075550190', '+13075550199', '+13075550101'].map(fixedBehaviour)).toEqual([
      'off',
      'refused',
      'normal',
    ]));
});

describe('handsets', () => {
  const at = '2026-11-24T12:00:00Z';
  const part = (index: number, body: string, reference = 1) => ({
    from: '+17195550110',
    to: '+13035550142',
    body,
    at,
    concat: { reference, total: 2, index },
  });

  it('show a long text once all its parts are there, in any order', () => {
    const handsets = new Handsets();
    handsets.receive(part(2, 'world'));
    expect(handsets.get('+13035550142').texts).toEqual([]);
    handsets.receive(part(1, 'hello ', 2));
    handsets.receive(part(1, 'hello '));
    expect(handsets.get('+13035550142').texts).toMatchObject([{ body: 'hello world', parts: 2 }]);
  });

  it('keep what they sent, stand on the page when pinned, and tell who listens', () => {
    const handsets = new Handsets();
    let changes = 0;
    handsets.onChange(() => changes++);
    handsets.sent({ direction: 'out', from: '+13035550142', to: '+17195550110', body: 'sky', at, parts: 1 });
    expect([handsets.pinned().length, changes, handsets.find('+13035550199')]).toEqual([0, 1, undefined]);
    handsets.get('+13035550142').pinned = true;
    expect(handsets.pinned().map(({ number }) => number)).toEqual(['+13035550142']);
  });

  it('forget the oldest of very many', () => {
    const handsets = new Handsets();
    for (let i = 0; i < 510; i++) handsets.receive({ from: 'a', to: 'b', body: String(i), at, concat: null });
    expect(handsets.get('b').texts).toHaveLength(500);
    expect(handsets.get('b').texts[0]!.body).toBe('10');
  });
});
