import type { MikroORM } from '@mikro-orm/postgresql';
import { describe, expect, it } from 'vitest';
import { contextOf } from './context';

const ORM = {} as MikroORM;
const NOON = Date.UTC(2026, 10, 23, 12);

describe('ids', () => {
  it('are all different, and rise within one millisecond as over many', () => {
    let now = NOON;
    const ctx = contextOf(ORM, () => now, []);
    const ids: string[] = [];
    // More than the chance drawn at once is for.
    for (let i = 0; i < 5_000; i++) {
      if (i % 700 === 0) now += 3;
      ids.push(ctx.id('per'));
    }
    expect(new Set(ids).size).toBe(ids.length);
    expect([...ids].sort()).toEqual(ids);
  });

  it('go on rising when the clock is set back', () => {
    let now = NOON;
    const ctx = contextOf(ORM, () => now, []);
    const before = ctx.id('txt');
    now -= 3_600_000;
    expect(ctx.id('txt') > before).toBe(true);
  });

  it('say what they are of', () => {
    expect(contextOf(ORM, () => NOON, []).id('brc')).toMatch(/^brc_[0-9a-z]+$/);
  });

  it('of two processes at one instant differ', () => {
    const [one, other] = [contextOf(ORM, () => NOON, []), contextOf(ORM, () => NOON, [])];
    const ids = Array.from({ length: 500 }, (_, i) => (i % 2 ? one : other).id('per'));
    expect(new Set(ids).size).toBe(500);
  });
});
