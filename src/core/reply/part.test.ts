import { describe, expect, it } from 'vitest';
import { interpret } from './interpret';
import { plainLatin } from './normalise';
import { partLeft } from './part';

const PROGRAMS = [
  { id: 'sky', name: 'Clear Sky Alerts' },
  { id: 'shop', name: 'Gift Shop Offers' },
  { id: 'walk', name: 'Night Walk Reminders' },
];
const left = (body: string) => partLeft(plainLatin(body), PROGRAMS);

describe('a wish to leave one program of several', () => {
  it.each([
    ['Stop the gift shop ones but keep the sky alerts', 'shop'],
    ['please only unsubscribe me from the offers', 'shop'],
    ['Take me off the shop texts, I still want the sky ones', 'shop'],
    ['just stop the night walk reminders', 'walk'],
    ['Keep the sky alerts, stop the shop', 'shop'],
    ['leave gift shop offers but keep clear sky', 'shop'],
    ['Leave me on sky alerts, cancel the walk reminders', 'walk'],
    ["I don't want the gift shop, keep the rest", 'shop'],
    ['stop the walk reminders but not the sky alerts please, I love those', 'walk'],
  ])('%s', (body, program) => expect(left(body)).toBe(program));

  it.each([
    ['nothing that stays is named', 'stop the sky alerts'],
    ['all is meant', 'stop all of it, only the sky was any good'],
    ['nothing is named', 'only stop'],
    ['two are left', 'stop the shop and stop the walk but keep the sky'],
    ['only what stays is named', 'stop everything else, keep the sky'],
  ])('is not believed where %s: %s', (_, body) => expect(left(body)).toBeNull());

  it('is read only where somebody is in several, and after what is exact', () => {
    const read = (body: string, theirs = PROGRAMS) =>
      interpret(body, { keywords: [], questionPending: false, theirs });
    expect(read('Stop the gift shop ones but keep the sky alerts')).toMatchObject({
      ...{ meaning: 'opt-out', onlyProgram: 'shop' },
    });
    expect(read('STOP')).not.toHaveProperty('onlyProgram');
    expect(read('stop texting me')).not.toHaveProperty('onlyProgram');
    expect(read('Stop the gift shop ones but keep the sky alerts', PROGRAMS.slice(0, 1))).not.toHaveProperty(
      'onlyProgram',
    );
  });

  it('is for a human where nothing but its whole name says that they leave', () => {
    const read = (body: string) =>
      interpret(body, { keywords: [], questionPending: false, theirs: PROGRAMS });
    expect(read('Leave Gift Shop Offers, keep Clear Sky')).toMatchObject({
      ...{ meaning: 'unclear', rule: 'one-of-several' },
    });
    expect(read('we will leave the shop at nine and enjoy the sky')).toMatchObject({ meaning: 'reply' });
  });

  it('to come back is none to leave', () => {
    for (const body of ['resubscribe me', 'Please re-subscribe me', 'put me back on the list'])
      expect(`${body}: ${interpret(body).meaning}`).toBe(`${body}: reply`);
    expect(interpret('stop resubscribing me').meaning).toBe('opt-out');
  });
});
