import { expect, it } from 'vitest';
import { sentenceOf } from './sentence';

it.each([
  ['name: must not be empty.', 'Must not be empty.'],
  ['people.0.number: is no phone number.', 'Is no phone number.'],
  ['örtlich: gilt nicht', 'Örtlich: gilt nicht'],
  ['The database took too long.', 'The database took too long.'],
  ['', ''],
])('%j reads %j', (message, sentence) => {
  expect(sentenceOf(message)).toBe(sentence);
});
