import { expect, it } from 'vitest';
import { textStream } from './text-stream';

async function* pages(ended: () => void) {
  try {
    yield [1, 2];
    yield [3];
    yield [];
    yield [4];
  } finally {
    ended();
  }
}

it('a text is written page by page, each row with its place, between its head and its foot', async () => {
  const stream = textStream(
    pages(() => {}),
    (row, nth) => `${nth}:${row} `,
    { head: '[', foot: ']' },
  );
  expect(await new Response(stream).text()).toBe('[0:1 1:2 2:3 3:4 ]');
});

it('whoever leaves in the middle ends the reading', async () => {
  let ended = false;
  const reader = textStream(
    pages(() => (ended = true)),
    String,
  ).getReader();
  expect(new TextDecoder().decode((await reader.read()).value)).toBe('12');
  await reader.cancel();
  expect(ended).toBe(true);
});
