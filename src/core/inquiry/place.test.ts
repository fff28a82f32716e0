import { describe, expect, it } from 'vitest';
import { NO_MAPPING } from './mapping';
import { otherwiseAt, putAt, targetAt } from './place';

describe('a value that is put on a field', () => {
  it('goes there, is joined to what is there, and goes to one place only', () => {
    let mapping = putAt(NO_MAPPING, '/first', 'full_name');
    mapping = putAt(mapping, '/last', 'full_name');
    expect(mapping.rules).toEqual([{ to: 'full_name', from: ['/first', '/last'] }]);
    mapping = putAt(mapping, '/last', 'last_name');
    expect(mapping.rules).toEqual([
      { to: 'full_name', from: ['/first'] },
      { to: 'last_name', from: ['/last'] },
    ]);
    expect(targetAt(mapping.rules, '/last')).toBe('last_name');
  });

  it('is taken off, and with it a rule that says nothing any more', () => {
    const mapping = putAt(putAt(NO_MAPPING, '/a', 'number'), '/a', null);
    expect(mapping.rules).toEqual([]);
    const kept = putAt(otherwiseAt(putAt(NO_MAPPING, '/a', 'words'), 'words', 'A call, please.'), '/a', null);
    expect(kept.rules).toEqual([{ to: 'words', from: [], otherwise: 'A call, please.' }]);
    expect(otherwiseAt(kept, 'words', '').rules).toEqual([]);
  });
});
