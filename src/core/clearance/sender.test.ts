import { describe, expect, it } from 'vitest';
import { chooseSender } from './sender';
import { sender } from './testing/input';

describe('the sender number', () => {
  const pool = [
    sender({ id: 'a', number: '+17195550110' }),
    sender({ id: 'b', number: '+13035550110' }),
    sender({ id: 'c', number: '+12065550110' }),
  ];
  it('stays the same for the same person', () =>
    expect(chooseSender(pool, 'c', '+13035550101')).toMatchObject({
      sender: { id: 'c' },
      because: 'same-as-before',
    }));
  it('matches the area code', () =>
    expect(chooseSender(pool, null, '+13035550101')).toMatchObject({
      sender: { id: 'b' },
      because: 'same-area-code',
    }));
  it('is chosen by a fixed rule otherwise', () =>
    expect(chooseSender(pool, null, '+16025550101')).toEqual(chooseSender(pool, null, '+16025550101')));
  it('is not changed behind the person’s back when theirs is at its cap', () =>
    expect(
      chooseSender([sender({ dailyCap: 1, sentToday: 1 }), pool[1]!], 's1', '+13035550101'),
    ).toMatchObject({ ok: false, reason: 'sender-daily-cap' }));
});
