import { act, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { ScanDesk } from './scan-desk';

/** The worker that looks for a code; the test says what it finds, or that it finds no end. */
class Scanner {
  static all: Scanner[] = [];
  static finds: string | null | 'never' = null;
  onmessage: (event: { data: { text: string | null } }) => void = () => {};
  terminated = false;
  constructor() {
    Scanner.all.push(this);
  }
  postMessage() {
    const { finds } = Scanner;
    if (finds !== 'never') queueMicrotask(() => act(() => this.onmessage({ data: { text: finds } })));
  }
  terminate() {
    this.terminated = true;
  }
}

beforeEach(() => {
  Scanner.all = [];
  Scanner.finds = null;
  vi.stubGlobal('Worker', Scanner);
});

const CARD = [
  'BEGIN:VCARD',
  'VERSION:3.0',
  'N:Orr;Ada;;;',
  'TEL:(303) 555-0142',
  'EMAIL:ada@example.org',
  'END:VCARD',
].join('\r\n');

type Save = Parameters<typeof ScanDesk>[0]['save'];

function desk() {
  const save = vi.fn<Save>().mockResolvedValue({ problem: null, id: 'per_1', words: 'Ada Orr was added.' });
  render(<ScanDesk tags={['member']} save={save} />);
  return { save };
}

/** A PNG whose first bytes say how large it is; there is nothing after them. */
function png(width: number, height: number): File {
  const head = new DataView(new ArrayBuffer(24));
  head.setUint32(0, 0x89504e47);
  head.setUint32(4, 0x0d0a1a0a);
  head.setUint32(16, width);
  head.setUint32(20, height);
  return new File([head.buffer], 'card.png', { type: 'image/png' });
}

const give = (picture: File) => userEvent.upload(screen.getByLabelText('Choose a picture'), picture);

describe('a picture of a card', () => {
  it('is shown as a person that can be mended and tagged before it is kept', async () => {
    Scanner.finds = CARD;
    const { save } = desk();
    await give(png(640, 480));
    expect(await screen.findByText('(303) 555-0142')).toBeDefined();
    const first = screen.getByRole('textbox', { name: 'First name' });
    expect(first).toHaveProperty('value', 'Ada');
    await userEvent.clear(first);
    await userEvent.type(first, 'Adele');
    await userEvent.type(screen.getByRole('combobox', { name: /^Tags/ }), 'member, new one');
    await userEvent.click(screen.getByRole('button', { name: 'Keep this person' }));
    expect(save).toHaveBeenCalledWith(
      { number: '+13035550142', first_name: 'Adele', last_name: 'Orr', email: 'ada@example.org' },
      'member, new one',
    );
    expect((await screen.findByRole('status')).textContent).toContain('Ada Orr was added.');
    expect(screen.getByRole('link', { name: 'open' }).getAttribute('href')).toBe('/people/per_1');
  });

  it('may hold a bare number', async () => {
    Scanner.finds = 'tel:+13035550142';
    desk();
    await give(png(640, 480));
    expect(await screen.findByText('(303) 555-0142')).toBeDefined();
  });

  it.each([
    [null, 'No code was found in the picture. Hold it straight, with some light.'],
    ['https://example.org/', 'The code holds no card and no number.'],
  ])('with %j in it says so', async (found, words) => {
    Scanner.finds = found;
    desk();
    await give(png(640, 480));
    expect((await screen.findByRole('alert')).textContent).toContain(words);
  });

  it('keeps what was typed when it is refused', async () => {
    Scanner.finds = CARD;
    const { save } = desk();
    save.mockResolvedValue({ problem: 'number: nobody can have it.' });
    await give(png(640, 480));
    await screen.findByText('(303) 555-0142');
    await userEvent.click(screen.getByRole('button', { name: 'Keep this person' }));
    expect((await screen.findByRole('alert')).textContent).toContain('nobody can have it');
    expect(screen.getByRole('textbox', { name: 'Last name' })).toHaveProperty('value', 'Orr');
  });
});

describe('a hostile picture', () => {
  it('that claims billions of points is not even looked at', async () => {
    desk();
    await give(png(60_000, 60_000));
    expect((await screen.findByRole('alert')).textContent).toContain('too many points');
    expect(Scanner.all).toHaveLength(0);
  });

  it('that the search finds no end of is given up, and the next one is looked at', async () => {
    vi.useFakeTimers({ shouldAdvanceTime: true });
    Scanner.finds = 'never';
    desk();
    await give(png(640, 480));
    await waitFor(() => expect(Scanner.all).toHaveLength(1));
    await act(() => vi.advanceTimersByTimeAsync(10_000));
    expect(Scanner.all[0]!.terminated).toBe(true);
    expect(screen.getByRole('alert').textContent).toContain('No code was found');
    Scanner.finds = CARD;
    await give(png(640, 480));
    expect(await screen.findByText('(303) 555-0142')).toBeDefined();
    expect(Scanner.all).toHaveLength(2);
    vi.useRealTimers();
  });
});

it('says so when the camera cannot be used', async () => {
  Object.defineProperty(navigator, 'mediaDevices', {
    configurable: true,
    value: { getUserMedia: () => Promise.reject(new Error('denied')) },
  });
  desk();
  await userEvent.click(screen.getByRole('button', { name: 'Open the camera' }));
  expect((await screen.findByRole('alert')).textContent).toContain('Allow it in the browser');
  expect(screen.getByRole('button', { name: 'Open the camera' })).toBeDefined();
});
