import { describe, expect, it } from 'vitest';
import { isAutomatic, isAutoReply, lettersAnswered, ownWords } from './answer';

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
    // Below what is quoted, and in other languages.
    [
      'On Tue, Dec 1, 2026 Juniper Gap wrote:\n> Clear tonight. Reply STOP to leave.\n\nYes we come\n-- \nAna',
      'Yes we come',
    ],
    ['El mar, 1 dic 2026, Juniper Gap <\na@b.test> escribió:\n> Salir\n\nSí, dos', 'Sí, dos'],
    ['Sim\n\nEm ter., 1 de dez. de 2026 às 09:14, Juniper Gap <a@b.test> escreveu:\n\n> x', 'Sim'],
    [
      'Yes\n\nSent from the garden\n________________________________\nFrom: x\nTo: y\nSubject: z\n\nLeave',
      'Yes',
    ],
    ['Yes\n\nSent with Some Mail secure email.\n\nOn Tuesday, Juniper Gap wrote:\n> x', 'Yes'],
    ['On Friday we come. On Saturday not.\nSee you', 'On Friday we come. On Saturday not.\nSee you'],
    ['', ''],
  ])('%j says %j', (text, words) => expect(ownWords(text)).toEqual({ words, quoted: false }));

  it.each([
    '> only quoted',
    'On Tue, Dec 1, 2026 Juniper Gap wrote:\n> Clear tonight. Reply STOP to leave.',
    '________________________________\nFrom: x\nSent: y\nTo: z\n\nClear tonight. Leave Clear Sky Alerts',
    '-- \nAna Ortiz',
  ])('that says nothing surely of its own stands whole, and is known as such: %j', (text) =>
    expect(ownWords(text)).toEqual({ words: text, quoted: true }),
  );

  it.each([
    ['Automatic reply: Clear tonight', true],
    ['Fuera de oficina: Cielo', true],
    ['Resposta automática: Céu', true],
    ['Re: Out of office party tickets', false],
    ['Auto repair at the gate', false],
    ['Re: Clear tonight', false],
  ])('under “%s” is from somebody away: %s', (subject, away) =>
    expect(isAutoReply(new Map(), subject)).toBe(away),
  );

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
