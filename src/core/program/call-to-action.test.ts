import { describe, expect, it } from 'vitest';
import { readCallToAction, wordedCallToAction, type CallToAction } from './call-to-action';

const call: CallToAction = {
  ...{ business: 'Juniper Gap Observatory', program: 'Clear Sky Alerts', contact: '(719) 555-0110' },
  ...{ purpose: 'recurring', promise: { count: 6, period: 'month' }, keyword: 'sky' },
  ...{
    numbers: ['+17195550110'],
    termsUrl: 'https://sky.example/terms',
    privacyUrl: 'https://sky.example/privacy',
  },
};
const codes = (text: string, more: Partial<CallToAction> = {}) =>
  readCallToAction(text, { ...call, ...more }).map(({ code }) => code);

describe('a call to action', () => {
  it('lacks nothing in the words we give', () =>
    expect(codes(wordedCallToAction(call, '(719) 555-0110'))).toEqual([]));

  it('lacks nothing wherever its lines end', () =>
    expect(codes(wordedCallToAction(call, '(719) 555-0110').replaceAll(' ', '\n'))).toEqual([]));

  it('lacks nearly all on a bare poster', () =>
    expect(codes('CLEAR NIGHTS? TEXT SKY TO 719.555.0110!')).toEqual([
      ...(['brand', 'program', 'frequency', 'rates', 'stop', 'help', 'terms', 'privacy'] as const),
      ...(['condition', 'agreement'] as const),
    ]));

  it('is read in other words than ours', () =>
    expect(
      codes(
        'Juniper Gap Observatory: get alerts. By texting SKY to +1 (719) 555-0110 you consent to receive automated ' +
          'messages, 6 messages per month. Message and data rates may apply. Text HELP for help or STOP to end. ' +
          'No purchase necessary. See our Terms of use and Privacy policy at sky.example.',
      ),
    ).toEqual([]));

  it('must promise what the program promises', () =>
    expect(
      codes(
        `${wordedCallToAction(call, '(719) 555-0110')} Up to 10 msgs/month.`.replace(
          'Up to 6 msgs/month. ',
          '',
        ),
      ),
    ).toEqual(['frequency-differs']));

  it('must say of marketing that nobody has to agree to buy, and should say it of the rest', () => {
    const weight = (purpose: CallToAction['purpose']) =>
      readCallToAction('x', { ...call, purpose }).find(({ code }) => code === 'condition')!.weight;
    expect([weight('marketing'), weight('recurring')]).toEqual(['must', 'should']);
  });

  it('is not satisfied by words inside other words', () =>
    expect(codes('Skyline stopwatch helpful')).toEqual(expect.arrayContaining(['keyword', 'stop', 'help'])));
});
