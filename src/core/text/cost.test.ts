import { describe, expect, it } from 'vitest';
import { CostBuilder } from './cost';
import { measure } from './measure';

const costed = (text: string) => {
  const size = measure(text);
  return { ...size, credits: 2 * size.parts };
};

describe('cost', () => {
  it('is summed copy by copy, with what makes a copy dear', () => {
    const copies = ['Hi Ana', 'Hi Łucja', `Hi Ana ${'x'.repeat(160)}`, 'Hi Łukasz'];
    const costs = new CostBuilder();
    for (const copy of copies) costs.add(costed(copy));
    expect(costs.build()).toEqual({
      people: 4,
      parts: 5,
      pictures: { people: 0, credits: 0 },
      credits: 10,
      groups: [
        { alphabet: 'UCS-2', parts: 1, people: 2, credits: 4, because: ['Ł'] },
        { alphabet: 'GSM-7', parts: 1, people: 1, credits: 2, because: [] },
        { alphabet: 'GSM-7', parts: 2, people: 1, credits: 4, because: [] },
      ],
    });
  });

  it('counts picture messages beside texts', () => {
    const costs = new CostBuilder();
    costs.add(costed('Hi'));
    costs.addPicture(3);
    costs.addPicture(3);
    expect(costs.build()).toMatchObject({
      people: 3,
      parts: 3,
      credits: 8,
      pictures: { people: 2, credits: 6 },
    });
  });
});
