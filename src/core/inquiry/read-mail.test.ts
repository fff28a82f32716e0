import { describe, expect, it } from 'vitest';
import { LETTER } from './testing/samples';
import { treeOfLetter } from './read-mail';
import { valueAt } from './tree';

const letter = (text: string, rows: string[][] = []) =>
  treeOfLetter({ from: 'portal@example.org', fromName: 'A Portal', subject: 'An inquiry', text, rows });

describe('a letter', () => {
  it('is read by the labels of its table', () => {
    const tree = treeOfLetter(LETTER);
    expect(valueAt(tree, '/labels/Name')).toBe('Ravi Thistledown');
    expect(valueAt(tree, '/labels/Telephone')).toBe('480-555-0133');
    expect(valueAt(tree, '/from/address')).toBe('inquiries@night-sky-guide.example.org');
  });

  it.each([
    ['a label and its value', 'Name: Ana Orr', 'Name', 'Ana Orr'],
    ['a label in stars', '*Phone:* 303 555 0101', 'Phone', '303 555 0101'],
    ['a label alone on its line', 'Name:\n\nAna Orr\nPhone: 1', 'Name', 'Ana Orr'],
    ['a label with space before its colon', 'Telefon : 303', 'Telefon', '303'],
    ['a list of labels', ' - Name: Ana', 'Name', 'Ana'],
    ['a dash for a colon', 'Phone - 303-555-0101', 'Phone', '303-555-0101'],
    ['an equals sign', 'phone=303-555-0101', 'phone', '303-555-0101'],
    ['a known label on a line of its own, unmarked', 'Phone\n303-555-0101', 'Phone', '303-555-0101'],
    ['a wide colon', '名前：アナ', '名前', 'アナ'],
  ])('with %s', (_, text, label, value) => {
    expect(valueAt(letter(text), `/labels/${label}`)).toBe(value);
  });

  it('keeps what somebody wrote over several lines, up to the next label or the foot', () => {
    const text = 'Message: We are twelve.\nIs Friday free?\nPhone: 303\n--\nThe Portal Team';
    expect(valueAt(letter(text), '/labels/Message')).toBe('We are twelve.\nIs Friday free?');
    expect(valueAt(letter('Comments:\nHello\nThis e-mail was sent by a portal.'), '/labels/Comments')).toBe(
      'Hello',
    );
  });

  it.each([
    ['I am free - Friday or Saturday', 'I am free'],
    ['a = b', 'a'],
    ['Thanks\nAna Orr', 'Thanks'],
    ['Phone 303-555-0101\nBo', 'Phone 303-555-0101'],
  ])('takes no sentence for a label: %s', (text, label) =>
    expect(valueAt(letter(text), `/labels/${label}`)).toBe(''),
  );

  it('is read by its rows where they are numbered, and by a header with one row below it', () => {
    expect(valueAt(letter('', [['1.', 'Phone Number', '303 555 0101']]), '/labels/Phone Number')).toBe(
      '303 555 0101',
    );
    const table = [
      ['Name', 'Phone', 'Visitors'],
      ['Ana', '303 555 0101', '4'],
    ];
    expect(valueAt(letter('', table), '/labels/Visitors')).toBe('4');
    // Of two rows nobody knows whose it is.
    expect(valueAt(letter('', [...table, ['Bo', '303 555 0102', '2']]), '/labels/Phone')).toBe('');
  });

  it('is read by its other part where the plain one says only that something came', () => {
    const both = { from: 'portal@example.org', fromName: '', subject: '', rows: [] };
    const beside = 'Name\nAna Orr\nPhone: 303 555 0101';
    const tree = treeOfLetter({ ...both, text: 'You have a new inquiry.', beside });
    expect(valueAt(tree, '/labels/Name')).toBe('Ana Orr');
    expect(valueAt(treeOfLetter({ ...both, text: 'Name: Bo', beside }), '/labels/Name')).toBe('Bo');
  });

  it('that somebody wrote themselves is all their words, with the number in it where there is one', () => {
    const tree = letter('Hi,\ncould you call me at (303) 555-0101 after 4?\nAna');
    expect(valueAt(tree, '/words')).toBe('Hi,\ncould you call me at (303) 555-0101 after 4?\nAna');
    expect(valueAt(tree, '/number')).toBe('(303) 555-0101');
    expect(valueAt(letter('303-555-0101 or 303-555-0102'), '/number')).toBe('');
    expect(valueAt(letter('order 1234567890123'), '/number')).toBe('');
  });

  it('takes no address and no time for a label', () => {
    const tree = letter('See https://example.org/x\nReceived at 10:42\nhttps://example.org');
    expect(valueAt(tree, '/labels/https')).toBe('');
    expect(valueAt(tree, '/labels/Received at 10')).toBe('');
    expect(valueAt(tree, '/lines/1')).toBe('Received at 10:42');
  });

  it('takes the first of a label that stands twice, and leaves an empty one out', () => {
    expect(valueAt(letter('Name:\nName: Ana\nName: Bo'), '/labels/Name')).toBe('Ana');
  });

  it('shows rows of wider tables by place', () => {
    const tree = letter('', [
      ['Day', 'People', 'Hour'],
      ['Friday', '12', '20:00'],
    ]);
    expect(valueAt(tree, '/cells/1/1')).toBe('12');
  });
});
