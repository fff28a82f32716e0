import { readdirSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { expect, it } from 'vitest';
import { spooled } from './spool';

const pieces = async function* (count: number, fail = false) {
  for (let i = 0; i < count; i++) yield new Uint8Array(1_000).fill(i);
  if (fail) throw new Error('broken off');
};
const sizeOf = async (bytes: AsyncIterable<Uint8Array>) => {
  let size = 0;
  for await (const chunk of bytes) size += chunk.length;
  return size;
};
const left = () => readdirSync(tmpdir()).filter((name) => name.startsWith('wren-upload-'));

it('hands an upload on when it is there, and leaves nothing behind', async () => {
  let came = false;
  const slow = async function* () {
    yield* pieces(50);
    came = true;
  };
  const before = left().length;
  const size = await spooled(slow(), (bytes) => {
    expect(came).toBe(true);
    return sizeOf(bytes);
  });
  expect(size).toBe(50_000);
  expect(left()).toHaveLength(before);
});

it('cuts what is too large one byte beyond, so that it shows', async () =>
  expect(await spooled(pieces(50), sizeOf, 20_500)).toBe(20_501));

it('of an upload that breaks off hands on nothing, and leaves nothing', async () => {
  const before = left().length;
  let used = false;
  await expect(spooled(pieces(3, true), async () => void (used = true))).rejects.toThrow('broken off');
  expect([used, left().length]).toEqual([false, before]);
});
