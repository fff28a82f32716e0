import { afterEach, beforeEach, describe, expect, it } from 'vitest';
import { InquiryDesk } from '@/services/testing/inquiries';
import { must } from '@/services/testing/people';
import { makeWorld, phone, type World } from '@/services/testing/world';
import { takeFile } from './take-file';

let world: World;
const desk = new InquiryDesk(() => world);
const MAPPING = {
  rules: [
    { to: 'number', from: ['/Phone'] },
    { to: 'full_name', from: ['/Name'] },
    { to: 'words', from: ['/What they want'] },
  ],
  kinds: [],
  otherKind: 'question',
};
beforeEach(async () => {
  world = await makeWorld();
  await desk.program();
});
afterEach(() => world.close());

const take = (id: string, text: string | Uint8Array) =>
  world.within((scope) =>
    takeFile(world.ctx, scope, id, typeof text === 'string' ? new TextEncoder().encode(text) : text),
  );

describe('a file of inquiries', () => {
  it('with titles above its header is one inquiry a row, and what stands in it twice is one', async () => {
    const source = await desk.source({ mapping: MAPPING });
    const file = `Inquiries of November\n\nName;Phone;What they want\nAna Orr;303 555 0100;"A class, of 24"\nBo Dale;303 555 0101;An evening\n`;
    expect(must(await take(source.id, file))).toBe(2);
    must(await take(source.id, `${file}Cy Moor;303 555 0102;A night walk\n`));
    await desk.work();
    expect((await desk.inquiries()).map(({ words }) => words).sort()).toEqual([
      'A class, of 24',
      'A night walk',
      'An evening',
    ]);
    expect((await desk.people()).map(({ number }) => number).sort()).toEqual([phone(0), phone(1), phone(2)]);
  });

  it.each([
    ['nothing in it', ''],
    ['no row that names columns', '1;2;3\n4;5;6\n'],
    ['eleven bytes with a NUL', Uint8Array.from([97, 44, 98, 10, 0, 44, 49, 10, 0, 0, 255])],
  ])('with %s is refused with a sentence, or read without harm', async (_, file) => {
    const source = await desk.source({ mapping: MAPPING });
    const taken = await take(source.id, file);
    if (!taken.ok) expect(taken.reason.problems[0]!.message).toMatch(/^file: /);
    await desk.work();
    expect(await desk.inquiries()).toEqual([]);
  });
});
