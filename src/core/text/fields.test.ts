import { describe, expect, it } from 'vitest';
import { isMergeField, labelOf, MERGE_FIELDS } from './fields';

describe('merge fields', () => {
  it('are a closed list and the workspace’s own', () => {
    for (const { name, label } of MERGE_FIELDS)
      expect([isMergeField(name), labelOf(name)]).toEqual([true, label]);
    expect([
      isMergeField('person.fields.favourite_planet'),
      isMergeField('person.fields.Favourite'),
      isMergeField('person.shoe'),
    ]).toEqual([true, false, false]);
    expect(labelOf('person.fields.favourite_planet')).toBe('favourite planet');
  });
});
