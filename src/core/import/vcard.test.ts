import { describe, expect, it } from 'vitest';
import { isHeavy, readCard } from './vcard';

const card = (...lines: string[]) => `BEGIN:VCARD\r\n${lines.join('\r\n')}\r\nEND:VCARD\r\n`;

describe('a card', () => {
  it.each<[string, string, string[]]>([
    [
      '3.0',
      card(
        'VERSION:3.0',
        'N:Ortiz;Ana;;;',
        'FN:Ana Ortiz',
        'TEL;TYPE=WORK:(303) 555-0100',
        'TEL;TYPE=CELL:+1 303 555 0123',
        'EMAIL:ana@example.org',
        'ADR;TYPE=HOME:;;1 Hill;Salida;CO;81201;USA',
        'CATEGORIES:walks,members',
        'BDAY:1990-11-30',
      ),
      [
        'Ana',
        'Ortiz',
        '+1 303 555 0123',
        'ana@example.org',
        'CO',
        '81201',
        'walks, members',
        '1990-11-30',
        '(303) 555-0100',
        '',
        '',
      ],
    ],
    [
      '4.0',
      card('VERSION:4.0', 'FN:Łucja Nowak', 'TEL;VALUE=uri;TYPE=cell:tel:+13035550124', 'BDAY:19901130'),
      ['Łucja', 'Nowak', '+13035550124', '', '', '', '', '1990-11-30', '', '', ''],
    ],
    [
      '2.1 with quoted-printable',
      card(
        'VERSION:2.1',
        'N;CHARSET=UTF-8;ENCODING=QUOTED-PRINTABLE:Ren=C3=A9e;Zo=C3=AB',
        'TEL;CELL;VOICE:303-555-0125',
      ),
      ['Zoë', 'Renée', '303-555-0125', '', '', '', '', '', '', '', ''],
    ],
    [
      'only a name and a number',
      card('VERSION:3.0', 'FN:Bo', 'TEL:3035550126'),
      ['Bo', '', '3035550126', '', '', '', '', '', '', '', ''],
    ],
    [
      'several numbers and addresses, with one preferred',
      card(
        'VERSION:4.0',
        'FN:Di',
        'TEL;TYPE=fax:+13035550190',
        'TEL;VALUE=uri;TYPE=home:tel:+13035550128',
        'TEL;VALUE=uri;PREF=1;TYPE=cell:tel:+13035550129',
        'EMAIL:di@example.com',
        'EMAIL;PREF=1:di@example.org',
      ),
      ['Di', '', '+13035550129', 'di@example.org', '', '', '', '', '+13035550128; di@example.com', '', ''],
    ],
    [
      'a grouped property',
      card('VERSION:3.0', 'FN:Cy', 'item1.TEL:3035550127', 'item1.X-ABLabel:other'),
      ['Cy', '', '3035550127', '', '', '', '', '', '', '', ''],
    ],
    [
      'by chat alone beside a name, in a language',
      card('VERSION:4.0', 'FN:Wil Owlet', 'IMPP:chat:owl-7', 'LANG:es'),
      ['Wil', 'Owlet', '', '', '', '', '', '', '', 'owl-7', 'es'],
    ],
  ])('%s', (_, text, cells) => expect(readCard(text)).toEqual(cells));

  it('of 2.1 in another character set says the same', () =>
    expect(
      readCard(
        card('VERSION:2.1', 'N;CHARSET=ISO-8859-1;QUOTED-PRINTABLE:Ren=E9e;Zo=EB', 'TEL;CELL:3035550125'),
      ),
    ).toEqual(['Zoë', 'Renée', '3035550125', '', '', '', '', '', '', '', '']));

  it('that is none is null', () => {
    expect(readCard('Ana Ortiz, 303 555 0100')).toBeNull();
    expect(readCard('')).toBeNull();
  });

  it('is heavy by its pictures and keys, and by nothing we keep', () => {
    for (const line of ['PHOTO;ENCODING=b:AAAA', 'item2.LOGO:AAAA', 'key;TYPE=PGP:AAAA'])
      expect(isHeavy(line), line).toBe(true);
    for (const line of ['TEL:3035550123', 'NOTE:see PHOTO: none']) expect(isHeavy(line), line).toBe(false);
  });
});
