import { router } from '@/ui/testing/router';
import { act, createEvent, fireEvent, render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { beforeEach, describe, expect, it, vi } from 'vitest';
import { Upload } from './upload';

/** An upload under way, to be answered or broken off by the test. */
class Request {
  static last: Request;
  headers: Record<string, string> = {};
  upload: { onprogress?: (event: { loaded: number; total: number }) => void } = {};
  responseText = '';
  body: Blob | null = null;
  onload = () => {};
  onerror = () => {};
  constructor() {
    Request.last = this;
  }
  open() {}
  setRequestHeader(name: string, value: string) {
    this.headers[name] = value;
  }
  send(body: Blob) {
    this.body = body;
  }
  answer(text: string) {
    act(() => {
      this.responseText = text;
      this.onload();
    });
  }
}

beforeEach(() => {
  vi.stubGlobal('XMLHttpRequest', Request);
});

const CSV = new File(['number\n3035550142\n'], 'Liste März.csv', { type: 'text/csv' });
const choose = () => userEvent.upload(screen.getByLabelText('Choose a file'), CSV);

describe('a file', () => {
  it('goes up with its name and shows how far it is, then its page opens', async () => {
    render(<Upload />);
    await choose();
    expect(decodeURIComponent(Request.last.headers['x-file-name']!)).toBe('Liste März.csv');
    act(() => Request.last.upload.onprogress!({ loaded: 51_200, total: 102_400 }));
    expect(screen.getByRole('progressbar').getAttribute('aria-valuenow')).toBe('50');
    Request.last.answer('{"id":"imp_1"}');
    expect(router.push).toHaveBeenCalledWith('/people/imports/imp_1');
  });

  it('is taken when it is dropped', () => {
    render(<Upload />);
    const place = screen.getByText(/^Drop a file here/).parentElement!;
    const drop = createEvent.drop(place);
    Object.defineProperty(drop, 'dataTransfer', { value: { files: [CSV] } });
    fireEvent(place, drop);
    expect(Request.last.body).toBe(CSV);
  });
});

describe('an upload that fails', () => {
  it('says that nothing was kept when the network breaks off, and can be tried again', async () => {
    render(<Upload />);
    await choose();
    act(() => Request.last.onerror());
    expect(screen.getByRole('alert').textContent).toBe('The upload broke off. Nothing was kept; try again.');
    await choose();
    Request.last.answer('{"id":"imp_2"}');
    expect(router.push).toHaveBeenCalledWith('/people/imports/imp_2');
  });

  it.each([
    ['{"message":"The file is a PDF. Save the table as CSV."}', 'The file is a PDF. Save the table as CSV.'],
    ['<html>502 Bad gateway</html>', 'The file could not be taken. Try again.'],
    ['', 'The file could not be taken. Try again.'],
  ])('answered %j says “%s”', async (text, words) => {
    render(<Upload />);
    await choose();
    Request.last.answer(text);
    expect(screen.getByRole('alert').textContent).toBe(words);
    expect(router.push).not.toHaveBeenCalled();
  });

  it('leaves pasted rows where they are', async () => {
    render(<Upload />);
    const box = screen.getByRole('textbox');
    await userEvent.click(box);
    await userEvent.paste('number\tname\n3035550142\tAda');
    await userEvent.click(screen.getByRole('button', { name: 'Read these rows' }));
    act(() => Request.last.onerror());
    expect(screen.getByRole('textbox')).toHaveProperty('value', 'number\tname\n3035550142\tAda');
  });
});

it('asks for rows when none were pasted', async () => {
  render(<Upload />);
  await userEvent.click(screen.getByRole('button', { name: 'Read these rows' }));
  expect(screen.getByRole('alert').textContent).toBe('Paste some rows first.');
});
