import { describe, expect, it } from 'vitest';
import { checkVoiceWords, spokenWords, type VoiceWordsContext } from './words';

const context: VoiceWordsContext = {
  callers: ['Juniper Gap Observatory', 'Clear Sky Alerts'],
  numbers: ['+17195550110'],
  country: 'US',
  seconds: 18,
};
const GOOD =
  'Hello, this is Ada of Juniper Gap Observatory. Would you like to see Saturn? The dome is open on Friday at eight. Call me back at 719 555 0110. To hear no more from us, text STOP to that number.';
const codes = (text: string, over: Partial<VoiceWordsContext> = {}) =>
  checkVoiceWords(text, { ...context, ...over }).map(({ code, severity }) => `${severity} ${code}`);

describe('the words of a voicemail', () => {
  it('that are good are not spoken of', () => {
    expect(codes(GOOD)).toEqual([]);
  });

  it.each([
    ['', ['must no-words']],
    [
      'Saturn is up.',
      ['must caller-missing', 'must no-callback', 'must no-way-out', 'should too-slow', 'hint no-question'],
    ],
    [
      GOOD.replace(' of Juniper Gap Observatory', '') + ' This was Juniper Gap Observatory.',
      ['must caller-late'],
    ],
    [GOOD.replace('719 555 0110', '303 555 0142'), ['should other-number']],
    [
      GOOD.replace(
        'To hear no more from us, text STOP to that number.',
        'Goodbye for now and take good care.',
      ),
      ['must no-way-out'],
    ],
    [GOOD.replace('Ada', '{$person.first_name}'), ['must braces']],
  ])('%s', (text, found) => {
    expect(codes(text)).toEqual(found);
  });

  // Other words for the same, made up after the rules were written.
  it.each([
    'Text STOP to 719 555 0110 and we will not call again.',
    'If you would rather not get these calls, tell us and we stop.',
    'Say no more calls when you ring, and that is that.',
    'You can opt out at any time by calling us.',
    'Want off our list? Just let us know and we take you off.',
    'Send the word stop to this number to end these messages.',
    'Para no recibir más llamadas, marque este número.',
    'Pour ne plus recevoir d’appels, rappelez-nous.',
  ])('“%s” is a way out', (way) => {
    const text = GOOD.replace('To hear no more from us, text STOP to that number.', way);
    expect(codes(text, { seconds: null })).not.toContain('must no-way-out');
  });

  it.each([
    'We will not stop until you have seen Saturn.',
    'The bus stops at the gate.',
    'Call us any time.',
  ])('“%s” is none', (way) => {
    const text = GOOD.replace('To hear no more from us, text STOP to that number.', way);
    expect(codes(text, { seconds: null })).toContain('must no-way-out');
  });

  it('are measured against how long they take', () => {
    expect(codes(GOOD, { seconds: 8 })).toContain('should too-fast');
    expect(codes(GOOD, { seconds: 50 })).toContain('should too-slow');
    expect(spokenWords('call 719 555 0110')).toBeCloseTo(9);
  });
});
