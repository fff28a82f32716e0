import { describe, expect, it } from 'vitest';
import { isAutomatic, lettersAnswered, ownWords } from './answer';

describe('an answer', () => {
  it.each([
    ['Yes please.\n\nOn Tue, 24 Nov 2026, Juniper Gap wrote:\n> Clear tonight?\n', 'Yes please.'],
    ['Ja!\n\nAm 24.11.2026 um 10:00 schrieb Juniper Gap <a@b.test>:\n> x', 'Ja!'],
    ['Sí\n\nEl mar, 24 nov 2026, Juniper Gap escribió:\n> x', 'Sí'],
    ['Stop this\n\n-----Original Message-----\nFrom: x\nClear tonight', 'Stop this'],
    [
      'On my way\nOn Tue, Nov 24, 2026 at 10:00 AM Juniper Gap <\nhello@example.org> wrote:\n> x',
      'On my way',
    ],
    ['> Can you come?\nYes.\n> When?\nAt eight.', 'Yes.\nAt eight.'],
    ['See you\n-- \nAna Ortiz\nstop smoking foundation', 'See you'],
    ['ok\n\nSent from my telephone', 'ok'],
    // Programs that quote the whole letter below its head, without a mark.
    [
      'We will come\n\nFrom: Juniper Gap <hello@example.org>\nSent: Tuesday, November 24, 2026\nTo: Ana\nSubject: Clear tonight\n\nClear tonight. Leave Clear Sky Alerts',
      'We will come',
    ],
    [
      'Ja gern\n\n*Von:* Juniper Gap\n*Gesendet:* Dienstag\n*An:* Ana\n*Betreff:* Klar\n\nAbmelden',
      'Ja gern',
    ],
    [
      'From: the north gate we walk.\nTo: the dome.\nSee you',
      'From: the north gate we walk.\nTo: the dome.\nSee you',
    ],
    ['> only quoted', '> only quoted'],
    ['', ''],
  ])('%j says %j', (text, words) => expect(ownWords(text)).toBe(words));

  it.each([
    [{ 'auto-submitted': 'auto-replied' }, true],
    [{ 'auto-submitted': 'no' }, false],
    [{ 'x-autoreply': 'yes' }, true],
    [{ precedence: 'bulk' }, true],
    [{ subject: 'Out of office' }, false],
    [{}, false],
  ])('with %j written by a machine: %s', (headers, automatic) =>
    expect(isAutomatic(new Map(Object.entries(headers)))).toBe(automatic),
  );

  it('names the letters it answers, the closest first', () =>
    expect(lettersAnswered('<b@x>', '<a@x> <b@x> <c@x>')).toEqual(['<b@x>', '<c@x>', '<a@x>']));
});
