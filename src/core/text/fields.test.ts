import { describe, expect, it } from 'vitest';
import { isMergeField, labelOf, MERGE_FIELDS, namedFields } from './fields';

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

it('a text in a list names its merge fields', () =>
  expect(
    namedFields('{$person.first_name :wren:field fallback=friend}, we open at {$person.fields.hour}.'),
  ).toBe('[first name], we open at [hour].'));
