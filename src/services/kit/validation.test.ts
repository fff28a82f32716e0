import { describe, expect, it } from 'vitest';
import {
  IsArray,
  IsInt,
  IsNotEmpty,
  IsOptional,
  IsString,
  Max,
  Min,
  readInput,
  Type,
  ValidateNested,
} from './validation';

class Inner {
  @IsString() @IsNotEmpty() word!: string;
}
class Outer {
  @IsString() name!: string;
  @IsOptional() @IsArray() list?: unknown[];
  @IsOptional() @ValidateNested() @Type(() => Inner) inner?: Inner;
}
class Sized {
  @IsInt({ message: 'must be a whole number.' })
  @Min(1, { message: 'must be at least 1.' })
  @Max(10, { message: 'must be at most 10.' })
  size!: number;
}
const problems = async (data: unknown) => {
  const read = await readInput(Outer, data);
  return read.ok ? [] : read.reason.problems;
};

describe('reading what came', () => {
  it('gives it as it will be stored: control characters gone, null left out', async () =>
    expect(await readInput(Outer, { name: 'A\u0007na', inner: null })).toEqual({
      ok: true,
      value: { name: 'Ana' },
    }));

  it.each<[string, unknown, string, RegExp]>([
    ['a list instead of an object', [], 'body', /JSON object/],
    ['nothing', null, 'body', /JSON object/],
    ['a field there is none of', { name: 'A', shoe: 1 }, 'shoe', /no such field/],
    ['a null character', { name: 'A\u0000' }, 'name', /null character/],
    ['half a character', { name: '\ud83c' }, 'name', /half of a character/],
    ['a list in a list', { name: 'A', list: [[1]] }, 'list', /list within a list/],
    ['a list without end', { name: 'A', list: Array(10_001).fill(1) }, 'list', /in parts/],
    [
      'a name that means something to JavaScript',
      JSON.parse('{"name":"A","inner":{"__proto__":1}}'),
      'inner.__proto__',
      /cannot be used/,
    ],
    ['a wrong value further in', { name: 'A', inner: { word: '' } }, 'inner.word', /should not be empty/],
  ])('refuses %s, naming the field and the remedy', async (_, data, field, message) =>
    expect(await problems(data)).toMatchObject([
      { field, message: expect.stringMatching(message) as string },
    ]),
  );

  it.each<[string, unknown, string]>([
    ['not there', {}, 'size: must be a whole number.'],
    ['no number', { size: 'large' }, 'size: must be a whole number.'],
    ['too large', { size: 12 }, 'size: must be at most 10.'],
  ])('says what is wrong first of one that is %s', async (_, data, message) => {
    const read = await readInput(Sized, data);
    expect(read.ok ? [] : read.reason.problems).toEqual([{ field: 'size', message }]);
  });

  it('tells all fields that are wrong at once, each with its first problem', async () =>
    expect((await problems({ inner: {} })).map(({ field }) => field)).toEqual(['name', 'inner.word']));
});
